import { beat } from '@/api/node';
import { answer } from '@/server/answer';
import { renewLeases } from '@/server/exports/queue';
import { machine } from '@/server/nodes/work';

export const POST = answer(beat, async ({ params, body }) => {
  const state = await machine(params.node);
  return { lost: await renewLeases(body.held, params.node), ...state };
});
