import { levels } from '../../kernels/plane';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { number } from '../numbers';

const share = (name: string, description: string, initial: number) =>
  number('ratio', 'spread', name, description, initial, { from: 0, to: 1, soft: [0, 1] });

export const matteLevels = defineStep({
  id: 'matte-levels',
  name: 'Matte levels',
  stage: 'isolate',
  description: 'Black point, white point and gamma of a matte.',
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: {
    black: share('Black point', 'Up to here the matte becomes empty.', 0),
    white: share('White point', 'From here on it becomes full.', 1),
    gamma: number('ratio', 'spread', 'Gamma', 'Above 1 what is between grows, below 1 it shrinks.', 1, {
      from: 0.05,
      to: 20,
      soft: [0.2, 5],
    }),
    ...keep,
  },
  summaryValue: 'gamma',
  neutral: (v) => v.black === 0 && v.white === 1 && v.gamma === 1,
  reach: () => 0,
  run: (workspace, matte, slots, v) =>
    maskedBy(workspace, matte, levels(workspace, matte, { ...v, invert: false }), slots.where, v.invert),
});
