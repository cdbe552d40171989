import { changeShot as changeRoute } from '@/api/shelf';
import { deleteShot as deleteShotRoute, readShot } from '@/api/shots';
import { answer, NotFound } from '@/server/answer';
import { changeShot } from '@/server/shots/arrange';
import { deleteShot, purgeShot } from '@/server/shots/bin';
import { shotDetail } from '@/server/shots/shots';

export const GET = answer(readShot, async ({ params }) => {
  const shot = await shotDetail(params.shot);
  if (!shot) throw new NotFound('This shot is not there any more.');
  return shot;
});

export const PATCH = answer(changeRoute, async ({ params, body }) => {
  await changeShot(params.shot, body);
  return {};
});

export const DELETE = answer(deleteShotRoute, async ({ params, query }) => {
  await (query.forever ? purgeShot : deleteShot)(params.shot);
  return { ok: true as const };
});
