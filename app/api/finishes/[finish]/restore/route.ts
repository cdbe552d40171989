import { restoreFinish as route } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { restoreFinish } from '@/server/shots/bin';

export const POST = answer(route, async ({ params }) => {
  await restoreFinish(params.finish);
  return {};
});
