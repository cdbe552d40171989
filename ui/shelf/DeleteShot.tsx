import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { request } from '@/api/request';
import { readBelongings, type ShelfShot } from '@/api/shelf';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { useShelfActions } from './use-shelf';

const counted = (n: number, one: string, more = `${one}s`) => `${n} ${n === 1 ? one : more}`;

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
    <Modal label={`Delete ${shot.name}`} box="w-lg" onClose={onClose}>
      <h2 className="text-lg font-semibold">
        Delete the shot {shot.name} of {project}?
      </h2>
      {goes && (
        <ul className="mt-3 list-disc pl-5 text-sm" data-testid="belongings">
          <li>
            {counted(goes.finishes, 'finish', 'finishes')} with {counted(goes.versions, 'version')} go with
            it.
          </li>
          {goes.exports > 0 && (
            <li>
              {counted(goes.exports, 'export')} with {counted(goes.exportedFrames, 'finished frame')} in
              Zafiro’s own folder.
            </li>
          )}
          {goes.uploaded.length > 0 && <li>Uploaded frames: {goes.uploaded.join(', ')}.</li>}
          {goes.inPlace.length > 0 && (
            <li className="text-quiet">
              Frames of {goes.inPlace.join(', ')} stay where they lie, untouched.
            </li>
          )}
        </ul>
      )}
      <p className="mt-3 text-sm">For 30 days all of it can be restored.</p>
      <DialogEnd problem={problem} cancel="Keep it" onCancel={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-error"
          onClick={() =>
            remove({ type: 'shot', id: shot.id, name: shot.name }).then(onClose, (e) => setProblem(e.message))
          }
        >
          Delete
        </button>
      </DialogEnd>
    </Modal>
  );
}
