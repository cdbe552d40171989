import { retryExport as route } from '@/api/exports';
import { retryExport } from '@/server/exports/runs';
import { answer } from '@/server/http/answer';

export const POST = answer(route, async ({ params }) => {
  await retryExport(params.run);
  return {};
});
