import { useQuery } from '@tanstack/react-query';
import { Pin, X } from 'lucide-react';
import { listReferences } from '@/api/references';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { type Comparing, compareModes, useShot, useShotStore } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { useVersions } from '@/browser/session/versions';
import { shownPoint } from '@/browser/viewer/use-look';
import { stepName } from '@/core/finish/finish';
import { IconButton } from '../parts/IconButton';
import { t } from '../words/words';
import { referencesKey } from './References';
import { referenceIn } from './use-reference-image';

/** The comparison picture and mode. */
export function CompareBar({ shot }: { shot: ShotDetail }) {
  const { finish: own } = useSession();
  const compare = useShot((s) => s.compare);
  const finish = useShot((s) => s.finish);
  const change = useShot((s) => s.change);
  const still = useShot((s) => s.still);
  const store = useShotStore();
  const versions = useVersions();
  const set = (part: Partial<Comparing>) => change({ compare: { ...compare, ...part } });
  const choose = async (what: string) => {
    const [type, number] = what.split(':');
    if (type === 'version') await versions.fetch(Number(number));
    if (type === 'finish') await versions.fetchOther(Number(number));
    // Light can be taken from light; a reference is a finished picture.
    set({ with: what, ...(type === 'reference' && compare.mode === 'difference' ? { mode: 'wipe' } : {}) });
  };
  const { data: references = [] } = useQuery({
    queryKey: referencesKey(shot.id),
    queryFn: () => request(listReferences, { params: { shot: shot.id } }),
  });
  const isReference = referenceIn(compare.with) !== undefined;
  const others = shot.finishes.filter((f) => f.id !== own);
  const known = versions.list.filter((v) => v.name || `version:${v.version}` === compare.with);
  return (
    <div
      className="absolute top-2 left-1/2 z-10 flex -translate-x-1/2 items-center gap-2 rounded-box border border-line bg-base-100/95 py-1 pr-1 pl-2 text-xs whitespace-nowrap"
      role="group"
      aria-label={t`Compare`}
    >
      <select
        className="select select-xs w-28"
        aria-label={t`Comparison`}
        value={compare.mode}
        onChange={(e) => set({ mode: e.target.value as Comparing['mode'] })}
      >
        {Object.entries(compareModes)
          .filter(([key]) => key !== 'off')
          .map(([key, name]) => (
            <option
              key={key}
              value={key}
              disabled={key === 'difference' && isReference}
              title={
                key === 'difference' && isReference
                  ? t`A reference is a finished picture: it has no light to take a difference of.`
                  : undefined
              }
            >
              {name}
            </option>
          ))}
      </select>
      {t`with`}
      <select
        className="select select-xs w-44"
        aria-label={t`Compare with`}
        value={compare.with}
        onFocus={() => versions.refresh()}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="input">{t`the input`}</option>
        {still && <option value="still">{t`the pinned still, frame ${still.frame}`}</option>}
        {finish.strands.map((s) => (
          <optgroup key={s.id} label={t`Strand ${s.name}`}>
            <option value={`point:${s.id}:head`}>{t`${s.name}, head`}</option>
            {s.steps.map((step) => (
              <option key={step.id} value={`point:${s.id}:${step.id}`}>
                {t`${s.name}, after ${stepName(step)}`}
              </option>
            ))}
          </optgroup>
        ))}
        {references.length > 0 && (
          <optgroup label={t`References`}>
            {references.map((r) => (
              <option key={r.id} value={`reference:${r.id}`}>
                {r.name}
              </option>
            ))}
          </optgroup>
        )}
        {others.length > 0 && (
          <optgroup label={t`Other finishes`}>
            {others.map((f) => (
              <option key={f.id} value={`finish:${f.id}`}>
                {f.name}
              </option>
            ))}
          </optgroup>
        )}
        {known.length > 0 && (
          <optgroup label={t`Saved versions`}>
            {known.map((v) => (
              <option key={v.version} value={`version:${v.version}`}>
                {v.name ?? t`version ${v.version}`}
              </option>
            ))}
          </optgroup>
        )}
      </select>
      {compare.mode === 'difference' && (
        <select
          className="select select-xs w-16"
          aria-label={t`Difference gain`}
          value={compare.gain}
          onChange={(e) => set({ gain: Number(e.target.value) })}
        >
          {[1, 2, 4, 8, 16, 32, 64].map((g) => (
            <option key={g} value={g}>
              ×{g}
            </option>
          ))}
        </select>
      )}
      <IconButton
        icon={Pin}
        label={t`Pin the shown picture to compare with it`}
        onClick={() => {
          const state = store.getState();
          const pinned = { finish: state.finish, point: shownPoint(state), frame: state.frame };
          change({ still: pinned, compare: { ...compare, with: 'still' } });
        }}
      />
      <IconButton icon={X} label={t`Close comparison`} keys="C" onClick={() => set({ mode: 'off' })} />
    </div>
  );
}
