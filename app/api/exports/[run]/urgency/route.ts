import { setUrgency as route } from '@/api/exports';
import { answer } from '@/server/answer';
import { setUrgency } from '@/server/exports/runs';

export const POST = answer(route, async ({ params, body }) => {
  await setUrgency(params.run, body.urgency);
  return {};
});
