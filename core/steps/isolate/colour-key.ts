import { colourKey as key } from '../../kernels/key';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';

const away = (name: string, description: string, initial: number) =>
  number('ratio', 'take', name, description, initial, { from: 0, to: 10, soft: [0, 0.5] });

export const colourKey = defineStep({
  id: 'colour-key',
  name: 'Colour key',
  stage: 'isolate',
  description: 'A matte from sampled colours.',
  sourceQuestion: 'which colours?',
  words: ['chroma', 'color', 'mask', 'select', 'pick', 'hue', 'green screen'],
  version: 1,
  produces: 'matte',
  slots: keepSlots,
  values: {
    samples: {
      type: 'colours',
      section: 'take',
      name: 'Colours',
      description: 'Sampled from the picture. Several colours are combined.',
      default: [[0.8, 0.6, 0.2]],
      most: 12,
    },
    near: away('Distance', 'OKLab distance from a sample within which the matte is 1.', 0.08),
    soft: away('Softness', 'Further OKLab distance over which it falls to 0.', 0.08),
    lightness: number(
      'ratio',
      'take',
      'Lightness weight',
      'Weight of lightness in the distance. At 0 only hue and chroma count.',
      0.5,
      { from: 0, to: 4, soft: [0, 1] },
    ),
    ...keep,
  },
  summaryValue: 'near',
  neutral: () => false,
  reach: () => 0,
  run: (workspace, picture, slots, v) => maskedKey(workspace, key(workspace, picture, v), slots, v.invert),
});
