import { restoreShot as route } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { restoreShot } from '@/server/shots/bin';

export const POST = answer(route, async ({ params }) => {
  await restoreShot(params.shot);
  return {};
});
