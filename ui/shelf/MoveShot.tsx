import { useState } from 'react';
import type { ShelfProject, ShelfShot } from '@/api/shelf';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { useShelfActions } from './use-shelf';

type Props = { shot: ShelfShot; from: ShelfProject; projects: readonly ShelfProject[]; onClose(): void };

/** Moves a shot into another project. */
export function MoveShot({ shot, from, projects, onClose }: Props) {
  const { changeShot } = useShelfActions();
  const others = projects.filter((p) => p.id !== from.id);
  const [to, setTo] = useState(others[0]?.id);
  const [problem, setProblem] = useState('');
  return (
    <Modal label={t`Move ${shot.name}`} box="w-md" onClose={onClose}>
      <h2 className="text-lg font-semibold">{t`Move ${shot.name} of ${from.name}`}</h2>
      {others.length === 0 ? (
        <p className="mt-2 text-sm text-quiet">{t`There is no other project. Make one on the shelf first.`}</p>
      ) : (
        <label className="mt-3 flex items-center gap-3 text-sm">
          {t`Into`}
          <select
            className="select select-sm flex-1"
            value={to}
            onChange={(e) => setTo(Number(e.target.value))}
          >
            {others.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <DialogEnd problem={problem} onCancel={onClose}>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={to === undefined}
          onClick={() => changeShot(shot.id, { project: to }).then(onClose, (e) => setProblem(e.message))}
        >
          {t`Move`}
        </button>
      </DialogEnd>
    </Modal>
  );
}
