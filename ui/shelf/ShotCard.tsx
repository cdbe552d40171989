import { Ellipsis } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import { addressOf } from '@/api/contract';
import { readPoster, type ShelfProject, type ShelfShot } from '@/api/shelf';
import { finishShown } from '@/browser/shelf/posters';
import { Dropdown } from '../parts/Dropdown';
import { FlatPicture } from '../parts/FlatPicture';
import { MenuItem } from '../parts/MenuItem';
import { t } from '../words/words';
import { DeleteShot } from './DeleteShot';
import { Finishes } from './Finishes';
import { MoveShot } from './MoveShot';
import { NameDialog } from './NameDialog';
import { useShelfActions } from './use-shelf';

type Props = { shot: ShelfShot; project: ShelfProject; projects: readonly ShelfProject[] };

/** A shot: the finished picture of the finish that was open last, and what can be done with it. */
export function ShotCard({ shot, project, projects }: Props) {
  const { changeShot, copyShot, failed } = useShelfActions();
  const [open, setOpen] = useState<'name' | 'move' | 'finishes' | 'delete'>();
  const { id, name, archived, finishes, exporting } = shot;
  const shown = finishShown(shot);
  const close = () => setOpen(undefined);
  const others = finishes.length - 1;
  return (
    <>
      <Link
        href={`/shots/${id}${shown ? `?finish=${shown.id}` : ''}`}
        className={`group block overflow-hidden rounded-box border border-line bg-base-100 hover:border-primary ${archived ? 'opacity-60' : ''}`}
      >
        <div className="flex aspect-video items-center justify-center bg-neutral text-quiet">
          <Poster shot={shot} />
        </div>
        <div className="px-3 py-2.5">
          <div className="flex items-baseline gap-3">
            <span className="truncate font-medium">{name}</span>
            <span className="ml-auto text-xs whitespace-nowrap text-quiet">
              {shot.first}–{shot.last} · {shot.width} × {shot.height}
            </span>
          </div>
          <div className="truncate text-xs text-quiet">
            {shown?.name}
            {others > 0 && t` and ${others} more finishes`}
            {archived && ' · archived'}
          </div>
          {shot.arrived < shot.expected && (
            <div className="mt-1 text-xs text-secondary">
              {t`${shot.arrived} of ${shot.expected} frames are here`}
              <progress
                className="progress progress-secondary mt-1 block h-1"
                aria-label={t`Frames of ${name} that are here`}
                value={shot.arrived}
                max={shot.expected}
              />
            </div>
          )}
          {exporting && (
            <div className="mt-1 text-xs text-quiet">
              {t`${exporting.done} of ${exporting.of} frames exported`}
            </div>
          )}
        </div>
      </Link>
      {!project.looksOnly && (
        <div className="absolute top-2 right-2 rounded-field bg-base-100/85">
          <Dropdown
            summary={
              <summary
                className="btn btn-ghost btn-xs btn-square"
                aria-label={t`More for ${name} of ${project.name}`}
                title={t`More`}
              >
                <Ellipsis size={15} aria-hidden="true" />
              </summary>
            }
          >
            <ul className="dropdown-content z-20 mt-1 w-48 rounded-box border border-line bg-base-200 p-1 shadow-lg">
              <MenuItem onClick={() => setOpen('finishes')}>{t`Finishes …`}</MenuItem>
              <MenuItem onClick={() => setOpen('name')}>{t`Rename …`}</MenuItem>
              <MenuItem onClick={() => copyShot(id).catch(failed)}>{t`Duplicate`}</MenuItem>
              <MenuItem onClick={() => setOpen('move')}>{t`Move …`}</MenuItem>
              <MenuItem onClick={() => changeShot(id, { archived: !archived }).catch(failed)}>
                {archived ? t`Take out of the archive` : t`Archive`}
              </MenuItem>
              <MenuItem onClick={() => setOpen('delete')}>{t`Delete …`}</MenuItem>
            </ul>
          </Dropdown>
        </div>
      )}
      {open === 'name' && (
        <NameDialog
          title={t`Rename ${name}`}
          label={t`Name of the shot`}
          value={name}
          action={t`Rename`}
          onName={(to) => changeShot(id, { name: to })}
          onClose={close}
        />
      )}
      {open === 'move' && <MoveShot shot={shot} from={project} projects={projects} onClose={close} />}
      {open === 'finishes' && <Finishes shot={shot} onClose={close} />}
      {open === 'delete' && <DeleteShot shot={shot} project={project.name} onClose={close} />}
    </>
  );
}

/** The finished picture; until there is one, the first frame as it came. */
function Poster({ shot }: { shot: ShelfShot }) {
  const finish = finishShown(shot);
  const { frame, name } = shot;
  if (finish?.poster != null)
    return (
      <img
        src={addressOf(readPoster, { params: { finish: finish.id }, query: { version: finish.poster } })}
        alt={t`${name} finished by ${finish.name}`}
        data-poster={finish.poster}
        className="h-full w-full object-cover"
      />
    );
  if (!frame) return <>{t`The first frame is on its way`}</>;
  const layers = shot.layers.length > 0 ? shot.layers : [{ ...frame, opacity: 1 }];
  return <FlatPicture layers={layers} alt={t`First frame of ${name}`} />;
}
