import { leaveFarm } from '@/api/node';
import { takeBackLost } from '@/server/exports/queue';
import { answer } from '@/server/http/answer';
import { endMachine } from '@/server/nodes/machines';

export const POST = answer(leaveFarm, async ({ params }) => {
  await endMachine(params.node);
  await takeBackLost(params.node);
  return {};
});
