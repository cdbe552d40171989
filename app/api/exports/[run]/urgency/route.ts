import { setUrgency as route } from '@/api/exports';
import { setUrgency } from '@/server/exports/runs';
import { answer } from '@/server/http/answer';

export const POST = answer(route, async ({ params, body }) => {
  await setUrgency(params.run, body.urgency);
  return {};
});
