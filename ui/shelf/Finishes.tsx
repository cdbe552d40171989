import { Copy, GitCompareArrows, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import { addressOf } from '@/api/contract';
import { readPoster, type ShelfShot } from '@/api/shelf';
import { DialogEnd } from '../parts/DialogEnd';
import { IconButton } from '../parts/IconButton';
import { Modal } from '../parts/Modal';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';
import { useShelfActions } from './use-shelf';

/** The finishes of a shot: opened, renamed, copied, compared, deleted. */
export function Finishes({ shot, onClose }: { shot: ShelfShot; onClose(): void }) {
  const { copyFinish, renameFinish, remove } = useShelfActions();
  const [problem, setProblem] = useState('');
  const { finishes } = shot;
  const attempt = (work: Promise<unknown>) =>
    work.then(
      () => setProblem(''),
      (error) => setProblem((error as Error).message),
    );
  return (
    <Modal label={t`Finishes of ${shot.name}`} box="w-2xl" onClose={onClose}>
      <h2 className="text-lg font-semibold">{t`Finishes of ${shot.name}`}</h2>
      <ul className="mt-3 grid gap-2">
        {finishes.map((finish) => (
          <li
            key={finish.id}
            className="flex items-center gap-3 rounded-box border border-line p-2"
            data-finish={finish.id}
          >
            <div className="h-14 w-24 shrink-0 overflow-hidden rounded bg-neutral">
              {finish.poster !== null && (
                <img
                  src={addressOf(readPoster, {
                    params: { finish: finish.id },
                    query: { version: finish.poster },
                  })}
                  alt=""
                  className="h-full w-full object-cover"
                />
              )}
            </div>
            <div className="min-w-0 flex-1">
              <TextField
                label={t`Name of ${finish.name}`}
                className="input input-xs w-full"
                value={finish.name}
                onCommit={(text) => {
                  const name = text.trim();
                  if (name && name !== finish.name) void attempt(renameFinish(finish.id, name));
                  return undefined;
                }}
              />
              <span className="text-xs text-quiet">
                {t`version ${finish.version} · ${new Date(finish.savedAt).toLocaleString('en-GB')}`}
              </span>
            </div>
            <Link className="btn btn-xs" href={`/shots/${shot.id}?finish=${finish.id}`}>
              {t`Open`}
            </Link>
            {finishes.length > 1 && (
              <Link
                className="btn btn-ghost btn-xs btn-square"
                aria-label={t`Compare ${finish.name} with another finish`}
                title={t`Compare with another finish`}
                href={`/shots/${shot.id}?finish=${finish.id}&compare=${finishes.find((f) => f !== finish)!.id}`}
              >
                <GitCompareArrows size={14} aria-hidden="true" />
              </Link>
            )}
            <IconButton
              icon={Copy}
              label={t`Copy ${finish.name}`}
              onClick={() => attempt(copyFinish(finish.id, `${finish.name}, copy`))}
            />
            <IconButton
              icon={Trash2}
              label={
                finishes.length > 1
                  ? t`Delete ${finish.name}`
                  : t`The only finish of a shot cannot be deleted`
              }
              disabled={finishes.length < 2}
              onClick={() => attempt(remove({ type: 'finish', id: finish.id, name: finish.name }))}
            />
          </li>
        ))}
      </ul>
      <DialogEnd problem={problem} cancel={t`Close`} onCancel={onClose} />
    </Modal>
  );
}
