import { gaussian, gaussianReach } from '../../kernels/gaussian';
import { unsharp } from '../../kernels/lens';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const sharpen = defineStep({
  id: 'sharpen',
  name: 'Sharpen',
  stage: 'lens',
  description: 'Unsharp masking: the difference to a blurred picture, added.',
  words: ['sharp', 'sharper', 'crisp', 'detail', 'clarity', 'edges', 'unsharp mask'],
  version: 1,
  rare: ['limit'],
  anywhere: true,
  slots: keepSlots,
  values: {
    radius: number(
      'px',
      'change',
      'Radius',
      'Standard deviation of the blur: the size of what is sharpened.',
      1.2,
      {
        from: 0.2,
        to: 256,
        soft: [0.3, 10],
      },
    ),
    amount: number('ratio', 'change', 'Amount', 'How much of the difference is added.', 0.6, {
      from: 0,
      to: 8,
      soft: [0, 2],
    }),
    threshold: number(
      'light',
      'change',
      'Threshold',
      'Differences below it stay: noise is not sharpened.',
      0,
      {
        from: 0,
        to: 65504,
        soft: [0, 0.2],
      },
    ),
    limit: number(
      'ratio',
      'change',
      'Halo limit',
      'The most that is added, of the light that is there. 0 is no limit.',
      0.5,
      {
        from: 0,
        to: 16,
        soft: [0, 2],
        zeroLabel: 'none',
      },
    ),
    ...keep,
  },
  summaryValue: 'amount',
  neutral: (v) => v.amount === 0,
  reach: (v) => gaussianReach(v.radius),
  run(workspace, picture, { mask }, v) {
    const soft = gaussian(workspace, picture, v.radius, 'continued');
    const sharp = unsharp(workspace, picture, soft, v);
    workspace.drop(soft);
    return maskedBy(workspace, picture, sharp, mask, v.invert);
  },
});
