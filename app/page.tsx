import { listProjects } from '@/server/shots/shots';
import { Projects } from '@/ui/projects/Projects';

export const dynamic = 'force-dynamic';

export default async function Page() {
  return <Projects projects={await listProjects()} />;
}
