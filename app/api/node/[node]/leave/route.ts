import { leaveFarm } from '@/api/node';
import { answer } from '@/server/answer';
import { takeBackLost } from '@/server/exports/queue';
import { endMachine } from '@/server/nodes/machines';
import { letIn } from '@/server/nodes/token';

export const POST = answer(leaveFarm, async ({ params }, request) => {
  await letIn(request);
  await endMachine(params.node);
  await takeBackLost(params.node);
  return {};
});
