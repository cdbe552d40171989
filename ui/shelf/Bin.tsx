import { useState } from 'react';
import type { Deleted } from '@/api/shelf';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { useShelfActions } from './use-shelf';

const typeWords = { project: t`Project`, shot: t`Shot`, finish: t`Finish` } as const;
const dayOf = (time: string) =>
  new Date(time).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });

/** What was deleted of late: it can be restored, or deleted for good. */
export function Bin({ deleted, onClose }: { deleted: readonly Deleted[]; onClose(): void }) {
  const { bringBack, removeForever } = useShelfActions();
  const [problem, setProblem] = useState('');
  const [asked, setAsked] = useState<Deleted>();
  const attempt = (work: Promise<unknown>) =>
    work.then(
      () => setProblem(''),
      (error) => setProblem((error as Error).message),
    );
  return (
    <Modal label={t`Deleted`} box="w-2xl" onClose={onClose}>
      <h2 className="text-lg font-semibold">{t`Deleted`}</h2>
      {deleted.length === 0 && <p className="mt-2 text-sm text-quiet">{t`Nothing is deleted.`}</p>}
      <ul className="mt-3 grid max-h-[60vh] gap-1 overflow-y-auto text-[13px]">
        {deleted.map((thing) => (
          <li
            key={`${thing.type} ${thing.id}`}
            className="flex items-center gap-3 rounded border border-line px-3 py-1.5"
          >
            <span className="w-14 text-quiet">{typeWords[thing.type]}</span>
            <span className="min-w-0 flex-1 truncate">
              {thing.name}
              {thing.of && <span className="text-quiet"> {t`of ${thing.of}`}</span>}
            </span>
            <span className="text-xs whitespace-nowrap text-quiet">{t`until ${dayOf(thing.goesAt)}`}</span>
            {asked === thing ? (
              <>
                <button
                  type="button"
                  className="btn btn-xs btn-error"
                  onClick={() => attempt(removeForever(thing)).then(() => setAsked(undefined))}
                >
                  {t`Delete for good`}
                </button>
                <button type="button" className="btn btn-xs" onClick={() => setAsked(undefined)}>
                  {t`Keep it`}
                </button>
              </>
            ) : (
              <>
                <button
                  type="button"
                  className="btn btn-xs"
                  aria-label={t`Restore ${thing.name}`}
                  onClick={() => attempt(bringBack(thing))}
                >
                  {t`Restore`}
                </button>
                <button
                  type="button"
                  className="btn btn-ghost btn-xs text-quiet"
                  aria-label={t`Delete ${thing.name} for good …`}
                  onClick={() => setAsked(thing)}
                >
                  {t`For good …`}
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      <DialogEnd problem={problem} cancel={t`Close`} onCancel={onClose} />
    </Modal>
  );
}
