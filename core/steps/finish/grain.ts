import { exactGaussian, gaussianTaps } from '../../kernels/gaussian';
import { grained, whiteNoise } from '../../kernels/lens';
import { monotoneCurve } from '../../math/monotone';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number, seed } from '../shared/numbers';

const [first, last, perStop] = [-10, 10, 4];
const factor = (name: string, description: string, initial: number) =>
  number('ratio', 'change', name, description, initial, { from: 0, to: 8, soft: [0, 3] });

/** The standard deviation of white noise after a Gaussian: what it has to be divided by to be 1 again. */
export function deviationAfter(sigma: number): number {
  const taps = gaussianTaps(sigma);
  let sum = taps[0] * taps[0];
  for (let i = 1; i < taps.length; i++) sum += 2 * taps[i] * taps[i];
  return sum;
}

export const grain = defineStep({
  id: 'grain',
  name: 'Grain',
  stage: 'finish',
  description:
    'The grain of film: noise in the light that leaves its mean, more where it is dark. Put it last, over everything.',
  order: { place: 9, why: 'grain lies over everything' },
  words: ['film', 'noise', 'texture', 'dither', 'analog', 'speckle'],
  version: 1,
  rare: ['shadows', 'highlights', 'hold', 'seed'],
  slots: keepSlots,
  values: {
    amount: number(
      'ratio',
      'change',
      'Amount',
      'Standard deviation at mid-grey, as a share of the light.',
      0.06,
      {
        from: 0,
        to: 0.5,
        soft: [0, 0.25],
      },
    ),
    size: number('px', 'change', 'Size', 'Width of a grain.', 1.8, { from: 0.1, to: 24, soft: [0.5, 8] }),
    shadows: factor('Shadows', 'How strong it is four stops below mid-grey, of the amount.', 1.7),
    highlights: factor('Highlights', 'How strong it is four stops above mid-grey, of the amount.', 0.35),
    colour: number('ratio', 'change', 'Colour', '0 is the same in all channels, 1 is each by itself.', 0.4, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
    hold: number('ratio', 'change', 'Hold', 'Frames that have the same grain.', 1, {
      from: 1,
      to: 24,
      soft: [1, 4],
      whole: true,
    }),
    seed: { ...seed('Selects another grain.'), section: 'change' },
    ...keep,
  },
  summaryValue: 'amount',
  dependsOnFrame: () => true,
  neutral: (v) => v.amount === 0,
  reach: (v) => 2 * v.size + 2,
  run(workspace, picture, { mask }, v, _, frame = 0) {
    const sigma = v.size / 2;
    const white = whiteNoise(workspace, picture, v.seed * 65537 + Math.floor(frame / v.hold));
    const noise = sigma > 0.15 ? exactGaussian(workspace, white, sigma) : white;
    const deviation = sigma > 0.15 ? deviationAfter(sigma) : 1;
    const { at } = monotoneCurve([
      [-4, v.shadows],
      [0, 1],
      [4, v.highlights],
    ]);
    const strength = Float64Array.from(
      { length: (last - first) * perStop + 1 },
      (_, i) => (v.amount * at(Math.min(4, Math.max(-4, first + i / perStop)))) / deviation,
    );
    // Shares whose squares sum to 1: it is as strong however it is mixed.
    const own = Math.sqrt(v.colour);
    const shared = Math.sqrt(1 - v.colour);
    const out = grained(workspace, picture, noise, { own, shared, strength, first, perStop });
    for (const taken of new Set([white, noise])) workspace.drop(taken);
    return maskedBy(workspace, picture, out, mask, v.invert);
  },
});
