import { changeShot as changeRoute } from '@/api/shelf';
import { deleteShot as deleteShotRoute, readShot } from '@/api/shots';
import { looksOnly } from '@/server/access/rights';
import { answer, NotFound } from '@/server/http/answer';
import { changeShot } from '@/server/shots/arrange';
import { deleteShot, purgeShot } from '@/server/shots/bin';
import { shotDetail } from '@/server/shots/shots';

export const GET = answer(readShot, async ({ params, who }) => {
  const shot = await shotDetail(params.shot);
  if (!shot) throw new NotFound('This shot is not there any more.');
  return { ...shot, looksOnly: await looksOnly(params.shot, who) };
});

export const PATCH = answer(changeRoute, async ({ params, body }) => {
  await changeShot(params.shot, body);
  return {};
});

export const DELETE = answer(deleteShotRoute, async ({ params, query }) => {
  await (query.forever ? purgeShot : deleteShot)(params.shot);
  return { ok: true as const };
});
