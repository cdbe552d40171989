import { leaveFarm } from '@/api/node';
import { answer } from '@/server/answer';
import { takeBackLost } from '@/server/exports/queue';
import { endMachine } from '@/server/nodes/machines';

export const POST = answer(leaveFarm, async ({ params }) => {
  await endMachine(params.node);
  await takeBackLost(params.node);
  return {};
});
