import { inOneColour, type TakeOptions, takeLight, weightedSum } from '../../kernels/point';
import { sumOfGaussians } from '../../kernels/pyramid';
import { blurAlong } from '../../kernels/streaks';
import type { Workspace } from '../../kernels/workspace';
import { turnsOf } from '../../math/elementary';
import type { Picture } from '../../picture/picture';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { angle, number } from '../shared/numbers';
import { middleOfLight, take, takeEditor, takeSlots } from './take';

type Threshold = Pick<TakeOptions, 'threshold' | 'knee' | 'limit'>;

/** Each size of a nested glow is two fifths of the one before. */
const nested = [1, 0.4, 0.16, 0.064, 0.0256];

/** The angle of the movement of the light's centroid from the first to the second picture; undefined if it does not move, or there is no light. */
function movement(
  workspace: Workspace,
  [before, after]: readonly Picture[],
  v: Threshold,
): number | undefined {
  const middle = (p: Picture) => middleOfLight(takeLight(workspace, p, { ...v, tint: [1, 1, 1] }));
  const [from, to] = [middle(before), middle(after)];
  if (!from || !to) return;
  const [dx, dy] = [to[0] - from[0], from[1] - to[1]];
  return dx * dx + dy * dy < 0.25 ? undefined : turnsOf(dx, dy) * 360;
}

export const glow = defineStep({
  id: 'glow',
  name: 'Glow',
  stage: 'light',
  description: 'A Gaussian glow, in all directions or along one.',
  words: ['aura', 'halo', 'shine', 'neon', 'luminous', 'light', 'gaussian', 'bloom'],
  version: 3,
  rare: ['direction', 'angle', 'gain'],
  slots: { ...takeSlots, ...keepSlots },
  handles: [{ type: 'arm', name: 'Angle', angle: 'angle', onlyIf: ['direction', 'along'] }],
  values: {
    ...take,
    threshold: { ...take.threshold, default: 0 },
    knee: { ...take.knee, default: 0 },
    size: number('px', 'spread', 'Size', 'Standard deviation of the blur.', 24, {
      from: 0.5,
      to: 1024,
      soft: [1, 200],
    }),
    sizes: number(
      'ratio',
      'spread',
      'Scales',
      'Number of Gaussians, each 0.4 times the size of the one before.',
      2,
      { from: 1, to: 5, soft: [1, 5], whole: true },
    ),
    direction: {
      type: 'choice',
      section: 'spread',
      name: 'Direction',
      description: 'In all directions, along an angle, or along the motion of the light.',
      options: { even: 'All directions', along: 'Along an angle', moving: 'Along the motion' },
      default: 'even',
    },
    angle: angle('spread', 'Angle', 'Counter-clockwise from the right.', 0, {
      onlyIf: ['direction', 'along'],
    }),
    colour: {
      type: 'choice',
      section: 'spread',
      name: 'Colour',
      description: 'The colour of the light, or one colour.',
      options: { source: 'Colour of the light', one: 'One colour' },
      default: 'source',
    },
    tint: {
      type: 'colour',
      section: 'spread',
      name: 'Tint',
      description: 'Multiplies the light, or is the one colour.',
      default: [1, 1, 1],
    },
    gain: number('ratio', 'spread', 'Gain', 'Multiplies the light before it is combined.', 1, {
      from: 0,
      to: 100,
      soft: [0, 4],
    }),
    ...keep,
    ...lay,
  },
  editors: [takeEditor],
  summaryValue: 'size',
  neutral: addsNothing,
  // To know how the light moves the whole of it must be seen.
  reach: (v) => (v.direction === 'moving' ? Number.POSITIVE_INFINITY : 4 * v.size + 2),
  frames: (v) => (v.direction === 'moving' ? [-1, 1] : []),
  framesOf: 'light',
  run(workspace, picture, slots, v, neighbours = []) {
    const tint = v.colour === 'one' ? ([1, 1, 1] as const) : v.tint;
    return lightStep(workspace, picture, slots, v, tint, (taken) => {
      const light = v.colour === 'one' ? inOneColour(workspace, taken, v.tint) : taken;
      const parts = Array.from({ length: v.sizes }, (_, i) => ({
        sigma: v.size * nested[i],
        weight: v.gain / v.sizes,
      }));
      const angle =
        v.direction === 'moving'
          ? movement(workspace, [...neighbours, slots.light ?? picture], v)
          : v.direction === 'along'
            ? v.angle
            : undefined;
      if (angle === undefined) return sumOfGaussians(workspace, light, parts);
      let sum = weightedSum(workspace, light, 0, light, 0);
      for (const { sigma, weight } of parts) {
        const one = blurAlong(workspace, light, angle, Math.max(2, sigma));
        const next = weightedSum(workspace, sum, 1, one, weight);
        for (const p of [one, sum]) workspace.drop(p);
        sum = next;
      }
      return sum;
    });
  },
});
