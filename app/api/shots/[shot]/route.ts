import { deleteShot as deleteShotRoute, readShot } from '@/api/shots';
import { answer, NotFound } from '@/server/answer';
import { deleteShot } from '@/server/shots/delete-shot';
import { shotDetail } from '@/server/shots/shots';

export const GET = answer(readShot, async ({ params }) => {
  const shot = await shotDetail(params.shot);
  if (!shot) throw new NotFound('This shot is not there any more.');
  return shot;
});

export const DELETE = answer(deleteShotRoute, async ({ params }) => {
  await deleteShot(params.shot);
  return { ok: true as const };
});
