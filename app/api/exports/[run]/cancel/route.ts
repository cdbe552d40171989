import { cancelExport as route } from '@/api/exports';
import { cancelExport } from '@/server/exports/runs';
import { answer } from '@/server/http/answer';

export const POST = answer(route, async ({ params }) => {
  await cancelExport(params.run);
  return {};
});
