import { setRoots } from '@/api/access';
import { setRoots as set } from '@/server/access/members';
import { answer } from '@/server/http/answer';

export const PUT = answer(setRoots, async ({ params, body }) => {
  await set(params.project, body.roots);
  return {};
});
