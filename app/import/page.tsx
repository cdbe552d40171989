import { whoLooks } from '@/server/access/pages';
import { readShelf } from '@/server/shots/shelf';
import { ImportScreen } from '@/ui/imports/ImportScreen';

export const dynamic = 'force-dynamic';

type At = { searchParams: Promise<{ project?: string; shot?: string }> };

/** Import of frames as a new shot, in a project that the address may name, or as more media of a shot (`?shot=`). */
export default async function Page({ searchParams }: At) {
  const { project, shot } = await searchParams;
  const { projects } = await readShelf(await whoLooks());
  const into = projects
    .flatMap((p) => p.shots.map((s) => ({ id: s.id, name: s.name, project: p.name })))
    .find((s) => String(s.id) === shot);
  return (
    <ImportScreen
      projects={projects.map((p) => ({ name: p.name, shots: p.shots.map((s) => s.name) }))}
      project={project}
      into={into}
    />
  );
}
