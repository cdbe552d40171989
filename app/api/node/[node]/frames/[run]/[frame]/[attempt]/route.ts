import { deliverFrame, giveBackFrame } from '@/api/node';
import { giveBack, takeIn } from '@/server/exports/frames-for-machines';
import { answer } from '@/server/http/answer';

export const PUT = answer(deliverFrame, ({ params, query }, request) =>
  takeIn(params, params.node, query, request.body),
);
export const POST = answer(giveBackFrame, async ({ params, body }) => {
  await giveBack(params, params.node, body.state, body.note);
  return {};
});
