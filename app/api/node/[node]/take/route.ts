import { takeFrames } from '@/api/node';
import { giveFrames } from '@/server/exports/frames-for-machines';
import { answer } from '@/server/http/answer';

export const POST = answer(takeFrames, async ({ params, body }, request) => {
  return giveFrames(params.node, body.most, request.signal);
});
