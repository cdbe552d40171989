import { beat } from '@/api/node';
import { machine } from '@/server/exports/frames-for-machines';
import { renewLeases } from '@/server/exports/queue';
import { answer } from '@/server/http/answer';

export const POST = answer(beat, async ({ params, body }) => {
  const state = await machine(params.node);
  return { lost: await renewLeases(body.held, params.node), ...state };
});
