import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { request } from '@/api/request';
import { readBelongings, type ShelfShot } from '@/api/shelf';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { useShelfActions } from './use-shelf';

/** Says what goes with a shot and what stays, before it is deleted. */
export function DeleteShot({
  shot,
  project,
  onClose,
}: {
  shot: ShelfShot;
  project: string;
  onClose(): void;
}) {
  const { remove } = useShelfActions();
  const [problem, setProblem] = useState('');
  const { data: goes } = useQuery({
    queryKey: ['belongings', shot.id],
    queryFn: () => request(readBelongings, { params: { shot: shot.id } }),
    gcTime: 0,
  });
  return (
    <Modal label={t`Delete ${shot.name}`} box="w-lg" onClose={onClose}>
      <h2 className="text-lg font-semibold">{t`Delete the shot ${shot.name} of ${project}?`}</h2>
      {goes && (
        <ul className="mt-3 list-disc pl-5 text-sm" data-testid="belongings">
          <li>{t`${t`${goes.finishes} finishes`} with ${t`${goes.versions} versions`} go with it.`}</li>
          {goes.exports > 0 && (
            <li>
              {t`${t`${goes.exports} exports`} with ${t`${goes.exportedFrames} finished frames`} in Zafiro’s own folder.`}
            </li>
          )}
          {goes.uploaded.length > 0 && <li>{t`Uploaded frames: ${goes.uploaded.join(', ')}.`}</li>}
          {goes.inPlace.length > 0 && (
            <li className="text-quiet">
              {t`Frames of ${goes.inPlace.join(', ')} stay where they are, untouched.`}
            </li>
          )}
        </ul>
      )}
      <p className="mt-3 text-sm">{t`For 30 days all of it can be restored.`}</p>
      <DialogEnd problem={problem} cancel={t`Keep it`} onCancel={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-error"
          onClick={() =>
            remove({ type: 'shot', id: shot.id, name: shot.name }).then(onClose, (e) => setProblem(e.message))
          }
        >
          {t`Delete`}
        </button>
      </DialogEnd>
    </Modal>
  );
}
