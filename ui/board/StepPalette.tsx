import { useEffect, useRef, useState } from 'react';
import { steps } from '@/core/steps/registry';

/** The steps there are, by name or by what they are for. */
export function StepPalette({ onPick, onClose }: { onPick(type: string): void; onClose(): void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  useEffect(() => dialog.current?.showModal(), []);
  const fits = steps.filter((s) =>
    `${s.name} ${s.says} ${s.stage}`.toLowerCase().includes(words.toLowerCase()),
  );
  const chosen = Math.min(at, fits.length - 1);
  return (
    <dialog
      ref={dialog}
      className="modal modal-top justify-items-center pt-24"
      onClose={onClose}
      aria-label="Add a step"
    >
      <div className="modal-box w-96 max-w-full rounded-box border border-line p-3">
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
            else if (e.key === 'Enter' && fits[chosen]) onPick(fits[chosen].id);
            else return;
            e.preventDefault();
          }}
        />
        <ul className="mt-2 grid gap-1">
          {fits.map((s, i) => (
            <li key={s.id}>
              <button
                type="button"
                className={`block w-full cursor-pointer rounded px-2 py-1.5 text-left ${i === chosen ? 'bg-base-300' : ''}`}
                onClick={() => onPick(s.id)}
              >
                <span className="font-medium">{s.name}</span>
                <span className="float-right text-xs text-quiet capitalize">{s.stage}</span>
                <span className="block text-xs text-quiet">{s.says}</span>
              </button>
            </li>
          ))}
          {fits.length === 0 && (
            <li className="px-2 py-3 text-sm text-quiet">No step is called that or does that.</li>
          )}
        </ul>
      </div>
      <form method="dialog" className="modal-backdrop">
        <button type="submit">Close</button>
      </form>
    </dialog>
  );
}
