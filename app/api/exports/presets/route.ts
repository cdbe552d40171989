import {
  deletePreset as deleteRoute,
  listPresets as listRoute,
  savePreset as saveRoute,
} from '@/api/exports';
import { deletePreset, listPresets, savePreset } from '@/server/exports/presets';
import { answer } from '@/server/http/answer';

export const GET = answer(listRoute, () => listPresets());
export const PUT = answer(saveRoute, async ({ body }) => {
  await savePreset(body);
  return {};
});
export const DELETE = answer(deleteRoute, async ({ query }) => {
  await deletePreset(query.name);
  return {};
});
