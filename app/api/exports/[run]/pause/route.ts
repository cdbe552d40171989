import { pauseExport as route } from '@/api/exports';
import { answer } from '@/server/answer';
import { pauseExport } from '@/server/exports/runs';

export const POST = answer(route, async ({ params, body }) => {
  await pauseExport(params.run, body.paused);
  return {};
});
