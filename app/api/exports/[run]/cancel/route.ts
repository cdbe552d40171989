import { cancelExport as route } from '@/api/exports';
import { answer } from '@/server/answer';
import { cancelExport } from '@/server/exports/runs';

export const POST = answer(route, async ({ params }) => {
  await cancelExport(params.run);
  return {};
});
