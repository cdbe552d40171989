import { removeExport as route } from '@/api/exports';
import { answer } from '@/server/answer';
import { removeExport } from '@/server/exports/runs';

export const DELETE = answer(route, async ({ params }) => {
  await removeExport(params.run);
  return {};
});
