import { levels } from '../../kernels/plane';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const share = (name: string, description: string, initial: number) =>
  number('ratio', 'spread', name, description, initial, { from: 0, to: 1, soft: [0, 1] });

export const matteLevels = defineStep({
  id: 'matte-levels',
  name: 'Matte levels',
  stage: 'isolate',
  description: 'Black point, white point and gamma of a matte.',
  words: ['contrast', 'clip', 'black', 'gamma', 'mask', 'white point'],
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: {
    black: share('Black point', 'Value that becomes 0.', 0),
    white: share('White point', 'Value that becomes 1.', 1),
    gamma: number(
      'ratio',
      'spread',
      'Gamma',
      'Exponent between the two. Above 1 raises values, below 1 lowers them.',
      1,
      {
        from: 0.05,
        to: 20,
        soft: [0.2, 5],
      },
    ),
    ...keep,
  },
  summaryValue: 'gamma',
  neutral: (v) => v.black === 0 && v.white === 1 && v.gamma === 1,
  reach: () => 0,
  run: (workspace, matte, slots, v) =>
    maskedBy(workspace, matte, levels(workspace, matte, { ...v, invert: false }), slots.mask, v.invert),
});
