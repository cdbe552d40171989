import { retryExport as route } from '@/api/exports';
import { answer } from '@/server/answer';
import { retryExport } from '@/server/exports/runs';

export const POST = answer(route, async ({ params }) => {
  await retryExport(params.run);
  return {};
});
