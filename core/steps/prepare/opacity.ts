import { mix } from '../../kernels/join';
import { weightedSum } from '../../kernels/point';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';

export const opacity = defineStep({
  id: 'opacity',
  name: 'Opacity',
  stage: 'prepare',
  anywhere: true,
  says: 'Fades all that is above it as one flat picture: nothing shows through where its parts overlap.',
  version: 1,
  slots: keepSlots,
  values: {
    ...keep,
    amount: {
      type: 'number',
      band: 'lay',
      name: 'Opacity',
      says: 'Colour and alpha are multiplied by it.',
      unit: 'ratio',
      default: 1,
      from: 0,
      to: 1,
      soft: [0, 1],
    },
  },
  telling: 'amount',
  neutral: (v) => v.amount === 1,
  reach: () => 0,
  run(desk, strand, { where }, v) {
    const faded = weightedSum(desk, strand, v.amount, strand, 0);
    return where ? mix(desk, strand, faded, { where, invert: v.invert, amount: 1 }) : faded;
  },
});
