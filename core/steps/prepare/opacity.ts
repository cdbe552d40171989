import { asPicture } from '../../kernels/plane';
import { weightedSum } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const opacity = defineStep({
  id: 'opacity',
  name: 'Opacity',
  stage: 'prepare',
  anywhere: true,
  accepts: ['picture', 'matte'],
  description:
    'Fades everything above it as one flat picture. Use it where overlapping parts must not show through each other.',
  words: ['fade', 'transparency', 'transparent', 'dissolve', 'disappear'],
  version: 1,
  slots: keepSlots,
  values: {
    ...keep,
    amount: number('ratio', 'lay', 'Opacity', 'Multiplies colour and alpha.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'amount',
  neutral: (v) => v.amount === 1,
  reach: () => 0,
  run(workspace, strand, { mask }, v) {
    const faded = asPicture(workspace, strand, (p) => weightedSum(workspace, p, v.amount, p, 0));
    return maskedBy(workspace, strand, faded, mask, v.invert);
  },
});
