import {
  deleteStepPreset as deleteRoute,
  listStepPresets as listRoute,
  saveStepPreset as saveRoute,
} from '@/api/step-presets';
import { answer } from '@/server/http/answer';
import { deleteStepPreset, saveStepPreset, stepPresets } from '@/server/recipes/step-presets';

export const GET = answer(listRoute, ({ query }) => stepPresets(query.step));
export const PUT = answer(saveRoute, async ({ body }) => {
  await saveStepPreset(body);
  return {};
});
export const DELETE = answer(deleteRoute, async ({ query }) => {
  await deleteStepPreset(query.step, query.name);
  return {};
});
