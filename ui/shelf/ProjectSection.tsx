import { Ellipsis } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import type { ShelfProject } from '@/api/shelf';
import { DialogEnd } from '../parts/DialogEnd';
import { Dropdown } from '../parts/Dropdown';
import { Modal } from '../parts/Modal';
import { MenuItem } from './MenuItem';
import { NameDialog } from './NameDialog';
import { ShotCard } from './ShotCard';
import { useShelfActions } from './use-shelf';

type Props = { project: ShelfProject; projects: readonly ShelfProject[] };

/** A project and its shots. */
export function ProjectSection({ project, projects }: Props) {
  const { changeProject, remove, failed } = useShelfActions();
  const [open, setOpen] = useState<'name' | 'delete'>();
  const [problem, setProblem] = useState('');
  const { name, shots, archived } = project;
  const close = () => setOpen(undefined);
  return (
    <section className="mt-7" aria-label={`Project ${name}`} data-project={project.id}>
      <div className="mb-3 flex items-center gap-3">
        <h2 className="text-base font-semibold">{name}</h2>
        {archived && <span className="badge badge-sm">archived</span>}
        {shots.length > 1 && (
          <Link
            href={`/sheet?project=${project.id}`}
            className="text-[13px] text-quiet hover:text-base-content hover:underline"
          >
            Contact sheet
          </Link>
        )}
        <Dropdown
          className="!dropdown-start"
          summary={
            <summary
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`More for the project ${name}`}
              title="More"
            >
              <Ellipsis size={15} aria-hidden="true" />
            </summary>
          }
        >
          <ul className="dropdown-content z-20 mt-1 w-44 rounded-box border border-line bg-base-200 p-1 shadow-lg">
            <MenuItem onClick={() => setOpen('name')}>Rename …</MenuItem>
            <MenuItem onClick={() => changeProject(project.id, { archived: !archived }).catch(failed)}>
              {archived ? 'Take out of the archive' : 'Archive'}
            </MenuItem>
            <MenuItem onClick={() => setOpen('delete')}>Delete …</MenuItem>
          </ul>
        </Dropdown>
      </div>
      {shots.length === 0 && (
        <p className="text-sm text-quiet">
          No shots yet.{' '}
          <Link href={`/import?project=${encodeURIComponent(name)}`} className="link">
            Import frames
          </Link>
        </p>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(19rem,1fr))] gap-5">
        {shots.map((shot) => (
          <li key={shot.id} className="relative" data-shot={shot.id}>
            <ShotCard shot={shot} project={project} projects={projects} />
          </li>
        ))}
      </ul>
      {open === 'name' && (
        <NameDialog
          title={`Rename ${name}`}
          label="Name of the project"
          value={name}
          action="Rename"
          onName={(to) => changeProject(project.id, { name: to })}
          onClose={close}
        />
      )}
      {open === 'delete' && (
        <Modal label={`Delete ${name}`} box="w-md" onClose={close}>
          <h2 className="text-lg font-semibold">Delete the project {name}?</h2>
          <p className="mt-2 text-sm">
            Its {shots.length} {shots.length === 1 ? 'shot goes' : 'shots go'} with it, with their finishes
            and exported frames in Zafiro’s own folder. For 30 days all of it can be restored. Frames that are
            read where they lie stay untouched.
          </p>
          <DialogEnd problem={problem} cancel="Keep it" onCancel={close}>
            <button
              type="button"
              className="btn btn-sm btn-error"
              onClick={() =>
                remove({ type: 'project', id: project.id, name }).then(close, (e) => setProblem(e.message))
              }
            >
              Delete
            </button>
          </DialogEnd>
        </Modal>
      )}
    </section>
  );
}
