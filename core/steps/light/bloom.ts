import { timesPlane } from '../../kernels/air';
import { tinted, weightedSum } from '../../kernels/point';
import { sumOfGaussians } from '../../kernels/pyramid';
import { exp } from '../../math/elementary';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { number } from '../shared/numbers';
import { lightStart } from '../shared/start';
import { take, takeEditor, takeSlots, tint } from './take';

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
  description: 'A soft halo around bright light.',
  words: ['halo', 'glow', 'bright', 'highlights', 'veil', 'soft', 'shine', 'light bleeding'],
  version: 2,
  rare: ['boostInMist', 'farTint'],
  slots: {
    ...takeSlots,
    mist: {
      kind: 'matte',
      section: 'take',
      name: 'Mist',
      description: 'A strand with Mist density. Lights in dense mist bloom more.',
    },
    ...keepSlots,
  },
  values: {
    ...take,
    boostInMist: number(
      'ratio',
      'take',
      'Boost in mist',
      'Additional light taken where the mist is dense.',
      2,
      {
        from: 0,
        to: 32,
        soft: [0, 8],
      },
    ),
    radius: number('px', 'spread', 'Radius', 'Radius of the halo.', 96, {
      from: 1,
      to: 1024,
      soft: [4, 400],
    }),
    tightness: number(
      'ratio',
      'spread',
      'Tightness',
      '0 spreads the halo wide and even, 1 gathers it at the light.',
      0.5,
      { from: 0, to: 1, soft: [0, 1] },
    ),
    tint,
    farTint: {
      type: 'colour',
      section: 'spread',
      name: 'Far tint',
      description: 'Multiplies the colour of the outer halo.',
      default: [1, 1, 1],
    },
    ...keep,
    ...lay,
  },
  editors: [takeEditor],
  summaryValue: 'amount',
  start: lightStart,
  neutral: addsNothing,
  reach: (v) => v.radius * 2,
  run(workspace, picture, slots, v) {
    return lightStep(workspace, picture, slots, v, v.tint, (light) => {
      const { mist } = slots;
      const taken =
        mist && v.boostInMist > 0
          ? weightedSum(workspace, light, 1, timesPlane(workspace, light, mist), v.boostInMist)
          : light;
      const kernels = bloomKernels(v.radius, v.tightness);
      if (v.farTint.every((c) => c === 1)) return sumOfGaussians(workspace, taken, kernels);
      // From the light's own colour near it to `far` at its border, by the share of each Gaussian's width.
      const share = (i: number) => (kernels.length - 1 - i) / (kernels.length - 1);
      const near = sumOfGaussians(
        workspace,
        taken,
        kernels.map((k, i) => ({ ...k, weight: k.weight * share(i) })),
      );
      const away = sumOfGaussians(
        workspace,
        tinted(workspace, taken, v.farTint),
        kernels.map((k, i) => ({ ...k, weight: k.weight * (1 - share(i)) })),
      );
      return weightedSum(workspace, near, 1, away, 1);
    });
  },
});
