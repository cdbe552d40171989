import { removeExport as route } from '@/api/exports';
import { removeExport } from '@/server/exports/runs';
import { answer } from '@/server/http/answer';

export const DELETE = answer(route, async ({ params }) => {
  await removeExport(params.run);
  return {};
});
