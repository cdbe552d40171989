import { removeMachine } from '@/api/machines';
import { takeBackLost } from '@/server/exports/queue';
import { answer } from '@/server/http/answer';
import { endMachine } from '@/server/nodes/machines';

export const POST = answer(removeMachine, async ({ params }) => {
  await endMachine(params.machine);
  await takeBackLost(params.machine);
  return {};
});
