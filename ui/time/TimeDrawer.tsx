import { X } from 'lucide-react';
import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { type DrawerLook, drawerLooks, previewed, useShot } from '@/browser/session/store';
import {
  changeEach,
  copiedKeys,
  easings,
  type KeyAt,
  pasteKeys,
  removeKeys,
  scaleKeys,
  setEasing,
} from '@/core/finish/key-edits';
import { lanesOf, rowsOfKeys } from '@/core/finish/key-table';
import { type Interpolation, interpolations } from '@/core/time/keys';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';
import { t } from '../words/words';
import { Curves } from './Curves';
import { Guides } from './Guides';
import { KeyTable } from './KeyTable';
import { Lanes } from './Lanes';
import { NoLanes } from './NoLanes';
import { chooseKeys, keepKeys, nameOf, useChosenKeys, useCopiedKeys } from './use-chosen-keys';

const easingNames = Object.fromEntries(Object.entries(easings).map(([key, { name }]) => [key, name]));

/** Everything that changes over time: a lane for each value, or every key as a row. */
export function TimeDrawer({ shot, look }: { shot: ShotDetail; look: DrawerLook }) {
  const finish = useShot((s) => s.finish);
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const edit = useShot((s) => s.edit);
  const animates = useShot((s) => s.animates);
  const change = useShot((s) => s.change);
  const lanes = useMemo(() => lanesOf(shown), [shown]);
  const all = useMemo(
    () => rowsOfKeys(finish).map(({ of, key, held }): KeyAt => ({ of, key, frame: held.frame })),
    [finish],
  );
  const names = new Set(all.map(nameOf));
  // What is gone, as after an undo, is not chosen any more.
  const chosen = useChosenKeys().filter((k) => names.has(nameOf(k)));
  const copied = useCopiedKeys();
  const none = chosen.length === 0;
  const first = Math.min(...chosen.map((k) => k.frame));
  const last = Math.max(...chosen.map((k) => k.frame));
  const scale = (about: number, factor: number) => {
    edit((doc) => scaleKeys(doc, chosen, about, factor));
    chooseKeys(chosen.map((k) => ({ ...k, frame: Math.round(about + (k.frame - about) * factor) + 0 })));
  };
  const remove = () => {
    edit((doc) => removeKeys(doc, chosen));
    chooseKeys([]);
  };
  const paste = () => {
    if (copied.length === 0 || !edit(() => pasteKeys(copied, frame))) return;
    const from = Math.min(...copied.map((c) => c.frame));
    chooseKeys(copied.map(({ of, key, frame: f }) => ({ of, key, frame: frame + f - from })));
  };
  const button = (label: string, act: () => void, off: boolean, title = label) => (
    <button
      type="button"
      className="btn btn-ghost btn-xs font-normal"
      title={title}
      disabled={off}
      onClick={act}
    >
      {label}
    </button>
  );
  return (
    <section
      className="flex h-full flex-col bg-base-200"
      aria-label={t`Time`}
      onKeyDown={(e) => {
        const typed = e.target instanceof HTMLInputElement || e.target instanceof HTMLSelectElement;
        if (typed) return;
        const mod = e.ctrlKey || e.metaKey;
        const act =
          e.key === 'Delete' && !none
            ? remove
            : mod && e.key === 'c' && !none
              ? () => keepKeys(copiedKeys(finish, chosen))
              : mod && e.key === 'v' && copied.length > 0
                ? paste
                : mod && e.key === 'a'
                  ? () => chooseKeys(all)
                  : undefined;
        if (!act) return;
        act();
        // The screen has the same keys for steps.
        e.preventDefault();
        e.nativeEvent.stopImmediatePropagation();
      }}
    >
      <header className="flex h-8 shrink-0 items-center gap-1 border-b border-line px-4 text-xs">
        <span className="font-semibold">{t`Time`}</span>
        <div className="ml-3 flex" role="group" aria-label={t`Look of the drawer`}>
          {(Object.keys(drawerLooks) as DrawerLook[]).map((l) => (
            <button
              key={l}
              type="button"
              className={`btn btn-xs font-normal ${look === l ? 'btn-soft btn-primary' : 'btn-ghost text-quiet'}`}
              aria-pressed={look === l}
              onClick={() => change({ drawer: l })}
            >
              {drawerLooks[l]}
            </button>
          ))}
        </div>
        <label
          className="ml-3 flex items-center gap-1.5"
          title={t`Each value that is changed gets a key on the frame.`}
        >
          <input
            type="checkbox"
            className="toggle toggle-xs"
            checked={animates}
            onChange={(e) => change({ animates: e.target.checked })}
          />
          {t`Animate while I change`}
        </label>
        <span className="ml-auto text-quiet" data-testid="chosen-keys">
          {none ? t`${all.length} keys` : t`${chosen.length} of ${all.length} keys`}
        </span>
        {button(t`Copy`, () => keepKeys(copiedKeys(finish, chosen)), none, t`Copy (Ctrl C)`)}
        {button(t`Paste`, paste, copied.length === 0, t`Paste at the playhead (Ctrl V)`)}
        {button(t`Reverse`, () => scale((first + last) / 2, -1), none || first === last)}
        {button(t`Stretch ×2`, () => scale(first, 2), none || first === last)}
        {button(t`Halve`, () => scale(first, 0.5), none || first === last)}
        {button(t`Remove`, remove, none, t`Remove (Del)`)}
        <select
          className="select select-xs w-22"
          aria-label={t`Interpolation of the chosen keys`}
          disabled={none}
          value=""
          onChange={(e) => {
            const way = e.target.value;
            edit((doc) =>
              Object.hasOwn(easings, way)
                ? setEasing(doc, chosen, way as keyof typeof easings)
                : changeEach(doc, chosen, { interpolation: way as Interpolation }),
            );
          }}
        >
          <option value="" disabled hidden>
            {t`Go on by`}
          </option>
          <Options of={interpolations} />
          <Options of={easingNames} />
        </select>
        <IconButton
          icon={X}
          label={t`Close the drawer`}
          keys="T"
          onClick={() => change({ drawer: undefined })}
        />
      </header>
      {look === 'guides' ? (
        <Guides shot={shot} />
      ) : look === 'lanes' ? (
        <Lanes shot={shot} lanes={lanes} chosen={chosen} />
      ) : lanes.length === 0 ? (
        <NoLanes />
      ) : look === 'curves' ? (
        <Curves shot={shot} lanes={lanes} chosen={chosen} />
      ) : (
        <KeyTable chosen={chosen} />
      )}
    </section>
  );
}
