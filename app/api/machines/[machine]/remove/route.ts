import { removeMachine } from '@/api/machines';
import { answer } from '@/server/answer';
import { takeBackLost } from '@/server/exports/queue';
import { endMachine } from '@/server/nodes/machines';

export const POST = answer(removeMachine, async ({ params }) => {
  await endMachine(params.machine);
  await takeBackLost(params.machine);
  return {};
});
