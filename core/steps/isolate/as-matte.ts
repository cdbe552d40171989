import { matteOf } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';

export const asMatte = defineStep({
  id: 'as-matte',
  name: 'Read as matte',
  stage: 'isolate',
  description: 'Turns the alpha or the luminance of a picture into a matte.',
  words: ['alpha', 'luminance', 'mask', 'convert'],
  version: 1,
  produces: 'matte',
  slots: keepSlots,
  values: {
    channel: {
      type: 'choice',
      section: 'take',
      name: 'Channel',
      description: 'Clamped to 0 to 1.',
      options: { alpha: 'Alpha', luminance: 'Luminance' },
      default: 'alpha',
    },
    ...keep,
  },
  sourceQuestion: 'which channel?',
  summaryValue: 'channel',
  neutral: () => false,
  reach: () => 0,
  run: (workspace, picture, slots, v) =>
    maskedKey(workspace, matteOf(workspace, picture, v.channel), slots, v.invert),
});
