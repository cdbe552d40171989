import { deliverFrame, giveBackFrame } from '@/api/node';
import { answer } from '@/server/answer';
import { giveBack, takeIn } from '@/server/nodes/work';

export const PUT = answer(deliverFrame, ({ params, query }, request) =>
  takeIn(params, params.node, query, request.body),
);
export const POST = answer(giveBackFrame, async ({ params, body }) => {
  await giveBack(params, params.node, body.state, body.note);
  return {};
});
