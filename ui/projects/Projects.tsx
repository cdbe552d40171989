'use client';

import { BookOpen, Clapperboard, LayoutGrid, ListOrdered, Plus, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { addressOf } from '@/api/contract';
import { readThumbnail } from '@/api/media';
import { request } from '@/api/request';
import { deleteShot, type ProjectSummary, type ShotSummary } from '@/api/shots';
import { DialogEnd } from '../parts/DialogEnd';
import { IconButton } from '../parts/IconButton';
import { Mark } from '../parts/Mark';
import { Modal } from '../parts/Modal';

/** The home screen: projects with a poster for each shot. */
export function Projects({ projects }: { projects: ProjectSummary[] }) {
  const router = useRouter();
  const [deleting, setDeleting] = useState<(ShotSummary & { project: string }) | undefined>();
  const waiting = projects.some((p) => p.shots.some((s) => s.arrived < s.expected));
  useEffect(() => {
    if (!waiting) return;
    const timer = setInterval(() => router.refresh(), 1500);
    return () => clearInterval(timer);
  }, [waiting, router]);

  return (
    <main className="mx-auto max-w-6xl px-8 pb-16">
      <header className="flex h-16 items-center gap-3">
        <Mark size={24} />
        <h1 className="text-lg font-semibold tracking-tight">Zafiro</h1>
        {projects.length > 0 && (
          <Link href="/sheet" className="btn btn-sm btn-ghost ml-auto">
            <LayoutGrid size={16} /> Contact sheet
          </Link>
        )}
        <Link href="/recipes" className={`btn btn-sm btn-ghost ${projects.length > 0 ? '' : 'ml-auto'}`}>
          <BookOpen size={16} /> Recipes
        </Link>
        <Link href="/queue" className="btn btn-sm btn-ghost">
          <ListOrdered size={16} /> Exports
        </Link>
        <Link href="/import" className="btn btn-sm btn-primary">
          <Plus size={16} /> Import frames
        </Link>
      </header>
      {projects.length === 0 && (
        <section className="mt-24 grid justify-items-center gap-3 text-center">
          <Clapperboard size={40} className="text-quiet" />
          <h2 className="text-xl font-semibold">No shots yet</h2>
          <p className="max-w-md text-quiet">
            Begin with numbered frames of a render, or layers of drawings. They stay where they are; Zafiro
            only reads them.
          </p>
          <Link href="/import" className="btn btn-primary">
            Import frames
          </Link>
        </section>
      )}
      {projects.map((project) => (
        <section key={project.id} className="mt-8">
          <div className="mb-3 flex items-baseline gap-4">
            <h2 className="text-base font-semibold">{project.name}</h2>
            {project.shots.length > 1 && (
              <Link
                href={`/sheet?project=${project.id}`}
                className="text-[13px] text-quiet hover:text-base-content hover:underline"
              >
                Contact sheet
              </Link>
            )}
          </div>
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(19rem,1fr))] gap-5">
            {project.shots.map((shot) => (
              <li key={shot.id} className="relative">
                <Poster shot={shot} />
                <div className="absolute top-2 right-2 rounded-field bg-base-100/80 text-quiet hover:text-base-content">
                  <IconButton
                    icon={Trash2}
                    label={`Delete ${shot.name} …`}
                    onClick={() => setDeleting({ ...shot, project: project.name })}
                  />
                </div>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {deleting && <DeleteShot shot={deleting} onClose={() => setDeleting(undefined)} />}
    </main>
  );
}

function Poster({ shot }: { shot: ShotSummary }) {
  const { poster } = shot;
  return (
    <Link
      href={`/shots/${shot.id}`}
      className="group block overflow-hidden rounded-box border border-line bg-base-100 hover:border-primary"
    >
      <div className="flex aspect-video items-center justify-center bg-neutral text-quiet">
        {poster ? (
          <img
            src={addressOf(readThumbnail, {
              params: { media: poster.media, frame: poster.frame },
              query: { content: poster.content },
            })}
            alt={`First frame of ${shot.name}`}
            className="h-full w-full object-cover"
          />
        ) : (
          'The first frame is on its way'
        )}
      </div>
      <div className="flex items-baseline gap-3 px-3 py-2.5">
        <span className="font-medium">{shot.name}</span>
        <span className="ml-auto text-xs text-quiet">
          {shot.first}–{shot.last} · {shot.width} × {shot.height}
        </span>
      </div>
      {shot.arrived < shot.expected && (
        <div className="px-3 pb-3 text-xs text-secondary">
          {shot.arrived} of {shot.expected} frames are here
          <progress
            className="progress progress-secondary mt-1 block h-1"
            value={shot.arrived}
            max={shot.expected}
          />
        </div>
      )}
    </Link>
  );
}

/** Asks before a shot is deleted: that cannot be undone. */
function DeleteShot({ shot, onClose }: { shot: ShotSummary & { project: string }; onClose(): void }) {
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const remove = async () => {
    try {
      await request(deleteShot, { params: { shot: shot.id } });
      router.refresh();
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Modal label={`Delete ${shot.name}`} box="w-md" onClose={onClose}>
      <h2 className="text-lg font-semibold">
        Delete the shot {shot.name} of {shot.project}?
      </h2>
      <p className="mt-2 text-sm">
        Its finishes with all their versions and its exported frames are deleted for good. Frames that were
        imported from a folder stay there; uploaded ones are deleted.
      </p>
      <DialogEnd problem={problem} cancel="Keep it" onCancel={onClose}>
        <button type="button" className="btn btn-sm btn-error" onClick={remove}>
          Delete
        </button>
      </DialogEnd>
    </Modal>
  );
}
