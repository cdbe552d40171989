import { Search } from 'lucide-react';
import { useState } from 'react';
import { useShot } from '@/browser/session/store';
import { stepName } from '@/core/finish/finish';
import { searched } from '@/core/steps/search';
import { t } from '../words/words';
import type { BoardLayout } from './use-board';

/** Finds steps and strands by their names: Enter goes to the next one, Shift Enter back, Esc leaves. */
export function BoardSearch({ layout: { columns }, onClose }: { layout: BoardLayout; onClose(): void }) {
  const [words, setWords] = useState('');
  const [at, setAt] = useState(-1);
  const change = useShot((s) => s.change);
  const items = columns.flatMap(({ strand }) => [
    { id: strand.id, name: strand.name, note: '' },
    ...strand.steps.map((step) => ({ id: step.id, name: stepName(step), note: step.note ?? '' })),
  ]);
  const wanted = words.trim();
  const found =
    wanted === '' ? [] : searched(items, wanted, ({ name, note }) => ({ name, description: note }));
  const go = (to: number) => {
    if (found.length === 0) return;
    const next = (to + found.length) % found.length;
    setAt(next);
    change({ selected: found[next].id });
  };
  return (
    <search className="absolute top-2 right-2 left-2 z-10 flex items-center gap-2 rounded-box border border-primary bg-base-100 px-2 py-1 text-[13px] shadow-lg">
      <Search size={14} className="shrink-0 text-quiet" aria-hidden="true" />
      <input
        // biome-ignore lint/a11y/noAutofocus: it is opened to be typed in
        autoFocus
        className="min-w-0 flex-1 bg-transparent outline-none"
        aria-label={t`Search the board`}
        placeholder={t`Name of a step or strand`}
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(-1);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') go(e.shiftKey ? at - 1 : at + 1);
          else if (e.key === 'Escape') onClose();
        }}
        onBlur={onClose}
      />
      <span className="text-xs whitespace-nowrap text-quiet" role="status">
        {wanted === ''
          ? ''
          : found.length === 0
            ? t`No match.`
            : t`${Math.max(0, at) + 1} of ${found.length}`}
      </span>
    </search>
  );
}
