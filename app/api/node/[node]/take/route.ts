import { takeFrames } from '@/api/node';
import { answer } from '@/server/answer';
import { giveFrames } from '@/server/nodes/work';

export const POST = answer(takeFrames, async ({ params, body }, request) => {
  return giveFrames(params.node, body.most, request.signal);
});
