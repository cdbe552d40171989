import { readShot } from '@/api/shots';
import { answer, NotFound } from '@/server/answer';
import { shotDetail } from '@/server/shots/shots';

export const GET = answer(readShot, async ({ params }) => {
  const shot = await shotDetail(params.shot);
  if (!shot) throw new NotFound('This shot is not there any more.');
  return shot;
});
