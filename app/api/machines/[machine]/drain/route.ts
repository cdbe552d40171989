import { drainMachine as route } from '@/api/machines';
import { answer } from '@/server/http/answer';
import { drainMachine } from '@/server/nodes/machines';

export const POST = answer(route, async ({ params, body }) => {
  await drainMachine(params.machine, body.draining);
  return {};
});
