import { ChevronDown } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { copyFinish } from '@/api/finishes';
import { request } from '@/api/request';
import type { ShotDetail } from '@/api/shots';
import { useRefusing, useShot } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { renameFinish } from '@/core/finish/edits';
import { Dropdown } from './parts/Dropdown';
import { TextField } from './parts/TextField';

/** The finishes of a shot: another is opened, this one named anew or copied. */
export function FinishMenu({ shot }: { shot: ShotDetail }) {
  const { finish, autosave } = useSession();
  const name = useShot((s) => s.finish.name);
  const refusing = useRefusing();
  const router = useRouter();
  const [problem, setProblem] = useState('');
  /** Leaves for another finish once all of this one is saved. */
  const open = async (id: number) => {
    await autosave.flush();
    if (autosave.isClean()) router.push(`/shots/${shot.id}?finish=${id}`);
    else setProblem('The last edits are not saved yet. Save them first, or undo them.');
  };
  const copy = async () => {
    await autosave.flush();
    try {
      const body = { copy: finish, name: `${name}, copy` };
      await open((await request(copyFinish, { body })).finish);
    } catch (error) {
      setProblem((error as Error).message);
    }
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
        <div className="flex items-center gap-2 border-t border-line px-2 pt-2">
          Name
          <span className="ml-auto w-40">
            <TextField
              label="Name"
              className="input input-xs w-full"
              value={name}
              onCommit={(text) => (text.trim() ? refusing(renameFinish(text.trim())) : undefined)}
            />
          </span>
        </div>
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
