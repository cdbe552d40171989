import { openedShot } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { markOpened } from '@/server/shots/arrange';

export const POST = answer(openedShot, async ({ params, body }) => {
  await markOpened(params.shot, body.finish);
  return {};
});
