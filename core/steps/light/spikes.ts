import { gaussian } from '../../kernels/gaussian';
import { type Streak, streaks, type Tail } from '../../kernels/streaks';
import { hashRandom } from '../../math/hash-random';
import type { Rgb } from '../../math/rgb';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { angle, number, seed } from '../shared/numbers';
import { lightStart } from '../shared/start';
import { take, takeEditor, takeSlots, tint } from './take';

const none: Tail = { length: [0, 0, 0], gain: 0 };

type Values = {
  rays: number;
  angle: number;
  length: number;
  taper: number;
  irregularity: number;
  seed: number;
  colourShift: number;
  sides: 'one' | 'two';
};

/** The rays as streaks: an angle, the ray that goes that way, and the one that goes against it. Their gains sum to 1. */
export function streaksOf(v: Values): Streak[] {
  const rays = Array.from({ length: v.rays }, (_, i) => {
    const size = 1 - v.irregularity * hashRandom(v.seed, i);
    const length = v.length * size;
    // Long waves are drawn out further, or short ones, by up to half.
    const colours: Rgb = [length * (1 + v.colourShift / 2), length, length * (1 - v.colourShift / 2)];
    return { angle: v.angle + (i * 360) / v.rays, tail: { length: colours, gain: size, taper: v.taper } };
  });
  const both = v.sides === 'two';
  const all = rays.reduce((sum, r) => sum + r.tail.gain * (both ? 2 : 1), 0) || 1;
  const tails = rays.map((r) => ({ ...r, tail: { ...r.tail, gain: r.tail.gain / all } }));
  if (both) return tails.map(({ angle, tail }) => ({ angle, forth: tail, back: tail }));
  // Of an even number every ray lies opposite another.
  if (v.rays % 2 === 0) {
    const half = v.rays / 2;
    return tails
      .slice(0, half)
      .map(({ angle, tail }, i) => ({ angle, forth: tail, back: tails[i + half].tail }));
  }
  return tails.map(({ angle, tail }) => ({ angle, forth: tail, back: none }));
}

export const spikes = defineStep({
  id: 'spikes',
  name: 'Spikes',
  stage: 'light',
  description: 'Streaks from bright points.',
  words: ['star', 'glint', 'sparkle', 'streak', 'twinkle', 'glitter', 'rays', 'flare', 'cross filter'],
  version: 1,
  rare: ['taper', 'colourShift', 'irregularity', 'seed'],
  slots: { ...takeSlots, ...keepSlots },
  handles: [{ type: 'arm', name: 'Angle and length', angle: 'angle', length: 'length' }],
  values: {
    ...take,
    threshold: { ...take.threshold, default: 4 },
    rays: number('ratio', 'spread', 'Rays', 'Number of rays of each light.', 6, {
      from: 1,
      to: 24,
      soft: [2, 12],
      whole: true,
    }),
    angle: angle('spread', 'Angle', 'Angle of the first ray, counter-clockwise from the right.', 20),
    length: number('px', 'spread', 'Length', 'Length that holds 95 % of a ray’s light.', 160, {
      from: 1,
      to: 8192,
      soft: [10, 600],
    }),
    taper: number('ratio', 'spread', 'Taper', 'Concentration of the light at its source.', 0.3, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
    width: number('px', 'spread', 'Width', 'Standard deviation across a ray.', 0.6, {
      from: 0,
      to: 64,
      soft: [0, 8],
    }),
    sides: {
      type: 'choice',
      section: 'spread',
      name: 'Sides',
      description: 'Rays extend to one side or to both.',
      options: { one: 'One side', two: 'Both sides' },
      default: 'one',
    },
    colourShift: number(
      'ratio',
      'spread',
      'Colour shift',
      'Shift of hue along a ray. Positive ends red, negative blue.',
      0.2,
      {
        from: -1,
        to: 1,
        soft: [-1, 1],
      },
    ),
    irregularity: number(
      'ratio',
      'spread',
      'Irregularity',
      'Variation of length and strength between rays.',
      0,
      {
        from: 0,
        to: 1,
        soft: [0, 1],
      },
    ),
    seed: seed('Selects another variation.'),
    tint,
    ...keep,
    ...lay,
    amount: { ...lay.amount, default: 1 },
  },
  editors: [takeEditor],
  summaryValue: 'rays',
  start: lightStart,
  neutral: addsNothing,
  // A thousandth of a ray's light lies past 2.3 lengths.
  reach: (v) => v.length * 2.5 * (1 + Math.abs(v.colourShift) / 2) + 4 * v.width,
  run(workspace, picture, slots, v) {
    return lightStep(workspace, picture, slots, v, v.tint, (taken) => {
      const source = v.width > 0 ? gaussian(workspace, taken, v.width) : taken;
      return streaks(workspace, source, streaksOf(v));
    });
  },
});
