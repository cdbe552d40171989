import { listProjects } from '@/server/shots/shots';
import { ImportScreen } from '@/ui/imports/ImportScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  const projects = await listProjects();
  return (
    <ImportScreen projects={projects.map((p) => ({ name: p.name, shots: p.shots.map((s) => s.name) }))} />
  );
}
