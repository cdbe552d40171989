import { deliverFrame, giveBackFrame } from '@/api/node';
import { answer } from '@/server/answer';
import { letIn } from '@/server/nodes/token';
import { giveBack, takeIn } from '@/server/nodes/work';

export const PUT = answer(deliverFrame, async ({ params, query }, request) => {
  await letIn(request);
  return takeIn(params, params.node, query, request.body);
});
export const POST = answer(giveBackFrame, async ({ params, body }, request) => {
  await letIn(request);
  await giveBack(params, params.node, body.state, body.note);
  return {};
});
