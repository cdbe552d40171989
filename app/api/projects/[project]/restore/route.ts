import { restoreProject as route } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { restoreProject } from '@/server/shots/bin';

export const POST = answer(route, async ({ params }) => {
  await restoreProject(params.project);
  return {};
});
