import { matteOf } from '../../kernels/point';
import { defineStep } from '../define';
import { keptKey } from '../kept';
import { keep, keepSlots } from '../light/lay';

export const asMatte = defineStep({
  id: 'as-matte',
  name: 'Read as matte',
  stage: 'isolate',
  description: 'The alpha or the luminance of a picture as a matte.',
  version: 1,
  makes: 'matte',
  slots: keepSlots,
  values: {
    by: {
      type: 'choice',
      band: 'take',
      name: 'By',
      description: 'Held to 0 to 1.',
      options: { alpha: 'Alpha', luminance: 'Luminance' },
      default: 'alpha',
    },
    ...keep,
  },
  takes: 'what of it?',
  telling: 'by',
  neutral: () => false,
  reach: () => 0,
  run: (workspace, picture, slots, v) =>
    keptKey(workspace, matteOf(workspace, picture, v.by), slots, v.invert),
});
