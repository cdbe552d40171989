import { exp } from '../../kernels/elementary';
import { layLight, takeLight } from '../../kernels/point';
import { sumOfGaussians } from '../../kernels/pyramid';
import { defineStep } from '../define';
import { keep, keepSlots, lay } from './lay';
import { take, takeSlots } from './take';

const count = 7;

/**
 * Standard deviations and weights of the Gaussians of a bloom: seven, from radius/2 down by halves to radius/128,
 * so that the widest holds 86 % of its light within `radius`. Weights follow σ^(1 − 2·tightness): the light then
 * falls off with distance about as 1/r at tightness 0, 1/r² at 0.5, 1/r³ at 1. Sum of weights 1.
 */
export function bloomKernels(radius: number, tightness: number): { sigma: number; weight: number }[] {
  const ratio = exp(-Math.LN2 * (1 - 2 * tightness));
  const kernels: { sigma: number; weight: number }[] = [];
  let [sigma, weight, sum] = [radius / 2, 1, 0];
  for (let i = 0; i < count; i++) {
    kernels.push({ sigma, weight });
    sum += weight;
    sigma /= 2;
    weight *= ratio;
  }
  return kernels.map((k) => ({ ...k, weight: k.weight / sum }));
}

export const bloom = defineStep({
  id: 'bloom',
  name: 'Bloom',
  stage: 'light',
  says: 'A soft halo around what is bright.',
  version: 1,
  slots: { ...takeSlots, ...keepSlots },
  values: {
    ...take,
    radius: {
      type: 'number',
      band: 'spread',
      name: 'Radius',
      says: 'How far the halo reaches.',
      unit: 'px',
      default: 96,
      from: 1,
      to: 1024,
      soft: [4, 400],
    },
    tightness: {
      type: 'number',
      band: 'spread',
      name: 'Tightness',
      says: 'Wide and even at 0, gathered close to the light at 1.',
      unit: 'ratio',
      default: 0.5,
      from: 0,
      to: 1,
      soft: [0, 1],
    },
    tint: {
      type: 'colour',
      band: 'spread',
      name: 'Tint',
      says: 'Multiplies the colour of the taken light.',
      default: [1, 1, 1],
    },
    ...keep,
    ...lay,
  },
  telling: 'amount',
  neutral: (v) => v.amount === 0 && v.show === 'result',
  reach: (v) => v.radius * 2,
  run(desk, picture, slots, v) {
    const taken = takeLight(desk, slots.light ?? picture, { ...v, within: slots.within });
    const spread = sumOfGaussians(desk, taken, bloomKernels(v.radius, v.tightness));
    return layLight(desk, picture, spread, { ...v, where: slots.where });
  },
});
