import { Ellipsis } from 'lucide-react';
import Link from 'next/link';
import { useState } from 'react';
import type { Shelf, ShelfProject } from '@/api/shelf';
import { MembersDialog } from '../access/MembersDialog';
import { DialogEnd } from '../parts/DialogEnd';
import { Dropdown } from '../parts/Dropdown';
import { MenuItem } from '../parts/MenuItem';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import { NameDialog } from './NameDialog';
import { ShotCard } from './ShotCard';
import { useShelfActions } from './use-shelf';

type Props = { project: ShelfProject; projects: readonly ShelfProject[]; who: Shelf['who'] };

/** A project and its shots. */
export function ProjectSection({ project, projects, who }: Props) {
  const { changeProject, remove, failed } = useShelfActions();
  const [open, setOpen] = useState<'name' | 'people' | 'delete'>();
  const [problem, setProblem] = useState('');
  const { name, shots, archived, looksOnly } = project;
  const close = () => setOpen(undefined);
  return (
    <section className="mt-7" aria-label={t`Project ${name}`} data-project={project.id}>
      <div className="mb-3 flex items-center gap-3">
        <h2 className="text-base font-semibold">{name}</h2>
        {archived && <span className="badge badge-sm">{t`archived`}</span>}
        {shots.length > 1 && (
          <Link
            href={`/sheet?project=${project.id}`}
            className="text-[13px] text-quiet hover:text-base-content hover:underline"
          >
            {t`Contact sheet`}
          </Link>
        )}
        {looksOnly ? (
          <span className="text-xs text-quiet">{t`looking only`}</span>
        ) : (
          <Dropdown
            className="!dropdown-start"
            summary={
              <summary
                className="btn btn-ghost btn-xs btn-square"
                aria-label={t`More for the project ${name}`}
                title={t`More`}
              >
                <Ellipsis size={15} aria-hidden="true" />
              </summary>
            }
          >
            <ul className="dropdown-content z-20 mt-1 w-44 rounded-box border border-line bg-base-200 p-1 shadow-lg">
              <MenuItem onClick={() => setOpen('name')}>{t`Rename …`}</MenuItem>
              <MenuItem onClick={() => changeProject(project.id, { archived: !archived }).catch(failed)}>
                {archived ? t`Take out of the archive` : t`Archive`}
              </MenuItem>
              {who && <MenuItem onClick={() => setOpen('people')}>{t`People …`}</MenuItem>}
              <MenuItem onClick={() => setOpen('delete')}>{t`Delete …`}</MenuItem>
            </ul>
          </Dropdown>
        )}
      </div>
      {shots.length === 0 && (
        <p className="text-sm text-quiet">
          {t`No shots yet.`}{' '}
          {!looksOnly && (
            <Link href={`/import?project=${encodeURIComponent(name)}`} className="link">
              {t`Import frames`}
            </Link>
          )}
        </p>
      )}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(19rem,1fr))] gap-5">
        {shots.map((shot) => (
          <li key={shot.id} className="relative" data-shot={shot.id}>
            <ShotCard shot={shot} project={project} projects={projects} />
          </li>
        ))}
      </ul>
      {open === 'people' && (
        <MembersDialog project={project.id} name={name} isAdmin={who?.isAdmin ?? false} onClose={close} />
      )}
      {open === 'name' && (
        <NameDialog
          title={t`Rename ${name}`}
          label={t`Name of the project`}
          value={name}
          action={t`Rename`}
          onName={(to) => changeProject(project.id, { name: to })}
          onClose={close}
        />
      )}
      {open === 'delete' && (
        <Modal label={t`Delete ${name}`} box="w-md" onClose={close}>
          <h2 className="text-lg font-semibold">{t`Delete the project ${name}?`}</h2>
          <p className="mt-2 text-sm">
            {t`Its ${shots.length} shots go with it, with their finishes and exported frames in Zafiro’s own folder. For 30 days all of it can be restored. Frames that are read where they lie stay untouched.`}
          </p>
          <DialogEnd problem={problem} cancel={t`Keep it`} onCancel={close}>
            <button
              type="button"
              className="btn btn-sm btn-error"
              onClick={() =>
                remove({ type: 'project', id: project.id, name }).then(close, (e) => setProblem(e.message))
              }
            >
              {t`Delete`}
            </button>
          </DialogEnd>
        </Modal>
      )}
    </section>
  );
}
