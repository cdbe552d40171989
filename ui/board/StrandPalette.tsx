import { Fragment, useEffect, useRef, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { useWorkspace, withRecent, workspace } from '@/browser/workspace/workspace';
import type { Finish } from '@/core/finish/finish';
import { allBeginnings, type Beginning, startStrand } from '@/core/finish/new-strand';
import { searched } from '@/core/steps/search';
import { Modal } from '../parts/Modal';
import { PixelCanvas } from '../parts/PixelCanvas';
import { t } from '../words/words';
import { type Try, useTries } from './use-tries';

type Props = {
  shot: ShotDetail;
  /** The picture that keys read: a strand after a step. */
  from: { strand: string; after: string; name: string };
  onPick(from: Beginning): void;
  onClose(): void;
};

const beginningGroups = [t`Passes`, t`Pictures made here`, t`Mattes`] as const;

function beginningGroup({ key, kind, head, steps }: Beginning): (typeof beginningGroups)[number] {
  if (head.type === 'pass' && !steps) return t`Passes`;
  return kind === 'matte' || key.startsWith('of/') || key.startsWith('key/') || key.startsWith('mist/')
    ? t`Mattes`
    : t`Pictures made here`;
}

const tryOf = (finish: Finish, from: Beginning): Try => {
  const begun = startStrand(finish, from);
  return {
    key: from.key,
    of: () => ({
      edit: begun.edit,
      point: { strand: begun.strand, after: 'end' },
    }),
  };
};

/** Starts of a new strand, each with its picture: passes, pictures made here, mattes; those used of late first. */
export function StrandPalette({ shot, from, onPick, onClose }: Props) {
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  const finish = useShot((s) => s.finish);
  const recent = useWorkspace((w) => w.recentHeads);
  const found = searched(allBeginnings(shot.media, from), words, (c) => c);
  const groupOf = (c: Beginning) =>
    words ? '' : recent.includes(c.key) ? t`Used of late` : beginningGroup(c);
  const groups = ['', t`Used of late`, ...beginningGroups];
  const fits = [...found].sort((a, b) => groups.indexOf(groupOf(a)) - groups.indexOf(groupOf(b)));
  const chosen = Math.min(at, fits.length - 1);
  const tries = useTries(fits.map((c) => tryOf(finish, c)));
  const pick = (c: Beginning) => {
    workspace.setState(({ recentHeads }) => ({ recentHeads: withRecent(recentHeads, c.key) }));
    onPick(c);
  };
  const list = useRef<HTMLUListElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when another one is chosen
  useEffect(() => {
    list.current?.querySelector('[data-chosen=true]')?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <Modal label={t`Add a strand`} box="w-[30rem] p-3" atTop onClose={onClose}>
      <input
        className="input input-sm w-full"
        placeholder={t`What does the strand begin at?`}
        aria-label={t`Search heads`}
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(fits.length - 1, chosen + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
          else if (e.key === 'Enter' && fits[chosen]) pick(fits[chosen]);
          else return;
          e.preventDefault();
        }}
      />
      <ul ref={list} className="mt-2 grid max-h-[62vh] gap-0.5 overflow-y-auto" aria-label={t`Heads`}>
        {fits.map((c, i) => (
          <Fragment key={c.key}>
            {groupOf(c) !== '' && groupOf(c) !== (fits[i - 1] && groupOf(fits[i - 1])) && (
              <li className="mt-2 border-b border-line px-2 pb-1 text-xs font-bold first:mt-0">
                {groupOf(c)}
              </li>
            )}
            <li data-chosen={i === chosen}>
              <button
                type="button"
                className={`flex w-full cursor-pointer items-center gap-2 rounded px-2 py-1 text-left hover:bg-base-300 ${i === chosen ? 'bg-base-300' : ''}`}
                onClick={() => pick(c)}
              >
                <PixelCanvas picture={tries.get(c.key)} className="h-9 w-16 shrink-0 rounded-sm" />
                <span className="font-medium">{c.name}</span>
                <span className="ml-auto text-right text-xs text-quiet">{c.description}</span>
              </button>
            </li>
          </Fragment>
        ))}
        {fits.length === 0 && <li className="px-2 py-3 text-sm text-quiet">{t`No match.`}</li>}
      </ul>
    </Modal>
  );
}
