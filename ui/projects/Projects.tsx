'use client';

import { Clapperboard, Plus } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { addressOf } from '@/api/contract';
import { readThumbnail } from '@/api/media';
import type { ProjectSummary, ShotSummary } from '@/api/shots';
import { Mark } from '../parts/Mark';

/** The home screen: projects with a poster for each shot. */
export function Projects({ projects }: { projects: ProjectSummary[] }) {
  const router = useRouter();
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
        <Link href="/import" className="btn btn-sm btn-primary ml-auto">
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
          <h2 className="mb-3 text-base font-semibold">{project.name}</h2>
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(19rem,1fr))] gap-5">
            {project.shots.map((shot) => (
              <li key={shot.id}>
                <Poster shot={shot} />
              </li>
            ))}
          </ul>
        </section>
      ))}
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
