import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { useShot, useShotStore } from '@/browser/shot-store';
import { tryEdit } from '@/browser/try-edit';
import { renameFinish } from '@/core/finish/edits';
import type { ShotDetail } from '@/server/shots/shots';
import { Dropdown } from './parts/Dropdown';

/** The finishes of a shot: another is opened, this one named anew or copied. */
export function FinishMenu({ shot, finish }: { shot: ShotDetail; finish: number }) {
  const store = useShotStore();
  const name = useShot((s) => s.finish.name);
  const [problem, setProblem] = useState('');
  const open = (id: number) => location.assign(`/shots/${shot.id}?finish=${id}`);
  const copy = async () => {
    const body = JSON.stringify({ copy: finish, name: `${name}, copy` });
    const response = await fetch('/api/finishes', { method: 'POST', body }).catch(() => null);
    const told = await response?.json().catch(() => null);
    if (response?.ok) open(told.finish);
    else setProblem(told?.error ?? 'The server does not answer. Try again.');
  };
  return (
    <Dropdown
      className="!dropdown-start min-w-0"
      summary={
        <summary
          className="flex cursor-pointer list-none items-center gap-1 truncate rounded px-1 text-base-content hover:bg-base-300"
          aria-label={`Finish ${name}`}
          title="Finishes of this shot"
        >
          {name} <ChevronDown size={13} />
        </summary>
      }
    >
      <div className="dropdown-content z-30 mt-1 grid w-64 gap-1 rounded-box border border-line bg-base-200 p-2 text-[13px] shadow-lg">
        <ul aria-label="Finishes">
          {shot.finishes.map((f) => (
            <li key={f.id}>
              <button
                type="button"
                className={`w-full cursor-pointer rounded px-2 py-1 text-left hover:bg-base-300 ${f.id === finish ? 'text-primary' : ''}`}
                aria-current={f.id === finish}
                onClick={() => f.id !== finish && open(f.id)}
              >
                {f.id === finish ? name : f.name}
              </button>
            </li>
          ))}
        </ul>
        <label className="flex items-center gap-2 border-t border-line px-2 pt-2">
          Name
          <input
            key={name}
            className="input input-xs ml-auto w-40"
            defaultValue={name}
            maxLength={200}
            onBlur={(e) => {
              const to = e.target.value.trim();
              if (to && to !== name) tryEdit(store, () => renameFinish(to));
            }}
            onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
          />
        </label>
        <button
          type="button"
          className="cursor-pointer rounded px-2 py-1 text-left hover:bg-base-300"
          onClick={copy}
        >
          Copy this finish
        </button>
        {problem && (
          <p role="alert" className="px-2 text-error">
            {problem}
          </p>
        )}
      </div>
    </Dropdown>
  );
}
