import { pauseExport as route } from '@/api/exports';
import { pauseExport } from '@/server/exports/runs';
import { answer } from '@/server/http/answer';

export const POST = answer(route, async ({ params, body }) => {
  await pauseExport(params.run, body.paused);
  return {};
});
