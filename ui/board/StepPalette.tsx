import { useState } from 'react';
import type { Strand } from '@/core/finish/finish';
import { worksOn } from '@/core/finish/flow';
import { fitsAt, usualIndex } from '@/core/finish/usual-place';
import type { Kind } from '@/core/picture/kind';
import { kindsOf, type StepSpec } from '@/core/steps/define';
import { steps } from '@/core/steps/registry';
import { Modal } from '../parts/Modal';
import { nameRank } from './search';

type Props = {
  strand: Strand;
  index: number;
  /** Kind that the strand carries there. */
  kind: Kind;
  onPick(type: string, index: number): void;
  onClose(): void;
};

/** The steps there are, by name or by what they are for; what has them in its name comes first, then what fits this place. */
export function StepPalette({ strand, index, kind, onPick, onClose }: Props) {
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  const wanted = words.toLowerCase().split(/\s+/);
  const found = steps.filter((s) =>
    wanted.every((w) => `${s.name} ${s.description} ${s.stage}`.toLowerCase().includes(w)),
  );
  const works = (type: string) => worksOn(type, kind);
  const fitting = (type: string) => works(type) && fitsAt(strand, index, type);
  const order = ({ id, name }: StepSpec) =>
    (works(id) ? 0 : 100) + nameRank(name, words) * 10 + (fitting(id) ? 0 : 1);
  const fits = [...found].sort((a, b) => order(a) - order(b));
  const chosen = Math.min(at, fits.length - 1);
  return (
    <Modal label="Add a step" box="w-[28rem] p-3" atTop onClose={onClose}>
      <input
        className="input input-sm w-full"
        placeholder="What should happen here?"
        aria-label="Search steps"
        value={words}
        onChange={(e) => {
          setWords(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(fits.length - 1, chosen + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
          else if (e.key === 'Enter' && fits[chosen])
            onPick(fits[chosen].id, e.shiftKey ? usualIndex(strand, fits[chosen].id).index : index);
          else return;
          e.preventDefault();
        }}
      />
      <ul className="mt-2 grid max-h-[60vh] gap-1 overflow-y-auto">
        {fits.map((s, i) => {
          const usual = usualIndex(strand, s.id);
          return (
            <li key={s.id} className={`rounded ${i === chosen ? 'bg-base-300' : ''}`}>
              <button
                type="button"
                className="block w-full cursor-pointer px-2 py-1.5 text-left"
                onClick={() => onPick(s.id, index)}
              >
                <span className="font-medium">{s.name}</span>
                <span className="float-right text-xs text-quiet capitalize">{s.stage}</span>
                <span className="block text-xs text-quiet">{s.description}</span>
              </button>
              {!works(s.id) && (
                <span className="block px-2 pb-1.5 text-xs text-secondary">
                  Inactive here: the strand carries a {kind}, and the step accepts {kindsOf(s).join(' or ')}.
                </span>
              )}
              {works(s.id) && !fitting(s.id) && (
                <button
                  type="button"
                  className="block w-full cursor-pointer px-2 pb-1.5 text-left text-xs text-secondary hover:underline"
                  title="Shift Enter"
                  onClick={() => onPick(s.id, usual.index)}
                >
                  Usually {usual.why}. Put it there
                </button>
              )}
            </li>
          );
        })}
        {fits.length === 0 && (
          <li className="px-2 py-3 text-sm text-quiet">No step is called that or does that.</li>
        )}
      </ul>
    </Modal>
  );
}
