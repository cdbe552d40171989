import { matteOf } from '../../kernels/point';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedKey } from '../masked-by';

export const asMatte = defineStep({
  id: 'as-matte',
  name: 'Read as matte',
  stage: 'isolate',
  description: 'The alpha or the luminance of a picture as a matte.',
  version: 1,
  produces: 'matte',
  slots: keepSlots,
  values: {
    by: {
      type: 'choice',
      section: 'take',
      name: 'By',
      description: 'Held to 0 to 1.',
      options: { alpha: 'Alpha', luminance: 'Luminance' },
      default: 'alpha',
    },
    ...keep,
  },
  sourceQuestion: 'what of it?',
  summaryValue: 'by',
  neutral: () => false,
  reach: () => 0,
  run: (workspace, picture, slots, v) =>
    maskedKey(workspace, matteOf(workspace, picture, v.by), slots, v.invert),
});
