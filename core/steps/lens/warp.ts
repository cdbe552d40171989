import { asPicture } from '../../kernels/plane';
import { warp as warped } from '../../kernels/surface';
import { cosTurns, sinTurns } from '../../math/elementary';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { angle, number, seed } from '../shared/numbers';

export const warp = defineStep({
  id: 'warp',
  name: 'Warp',
  stage: 'lens',
  anywhere: true,
  description:
    'Displaces the picture by smooth noise: hot air, water, a flame. Layers with equal values move together.',
  words: ['displace', 'turbulence', 'distort', 'ripple', 'water', 'wobble', 'flame', 'noise', 'heat haze'],
  version: 1,
  rare: ['octaves', 'noiseDirection', 'noiseEvolution', 'seed', 'border'],
  accepts: ['picture', 'matte'],
  slots: keepSlots,
  values: {
    amount: number('px', 'spread', 'Displacement', 'Largest displacement.', 12, {
      from: 0,
      to: 1024,
      soft: [0, 100],
    }),
    noiseSize: number('px', 'spread', 'Noise size', 'Width of the noise’s features.', 60, {
      from: 1,
      to: 8192,
      soft: [4, 400],
    }),
    octaves: number(
      'ratio',
      'spread',
      'Octaves',
      'Number of noise scales, each half the size of the one before.',
      2,
      {
        from: 1,
        to: 6,
        soft: [1, 6],
        whole: true,
      },
    ),
    direction: {
      type: 'choice',
      section: 'spread',
      name: 'Direction',
      description: 'In all directions, or along an angle.',
      options: { all: 'All directions', along: 'Along an angle' },
      default: 'all',
    },
    angle: angle('spread', 'Angle', 'Counter-clockwise from the right.', 0, {
      onlyIf: ['direction', 'along'],
    }),
    noiseSpeed: number('px', 'spread', 'Noise speed', 'Movement of the noise per frame.', 0, {
      from: -512,
      to: 512,
      soft: [-40, 40],
    }),
    noiseDirection: angle('spread', 'Noise direction', 'Counter-clockwise from the right. 90 is up.', 90),
    noiseEvolution: number('ratio', 'spread', 'Noise evolution', 'Change of the noise per frame.', 0.1, {
      from: 0,
      to: 4,
      soft: [0, 0.5],
    }),
    seed: seed('Selects another noise.'),
    border: {
      type: 'choice',
      section: 'spread',
      name: 'Border',
      description: 'Pixels from outside the picture: transparent, or its border extended.',
      options: { empty: 'Transparent', continued: 'Extended' },
      default: 'empty',
    },
    ...keep,
  },
  summaryValue: 'amount',
  neutral: (v) => v.amount === 0,
  dependsOnFrame: (v) => v.noiseEvolution !== 0 || v.noiseSpeed !== 0,
  reach: (v) => v.amount + 2,
  run(workspace, strand, { mask }, v, _neighbours, frame = 0) {
    const far = v.noiseSpeed * frame;
    const moved = [cosTurns(v.noiseDirection / 360) * far, -sinTurns(v.noiseDirection / 360) * far] as const;
    const along = v.direction === 'along' ? v.angle : undefined;
    const done = asPicture(workspace, strand, (p) =>
      warped(workspace, p, { ...v, along, moved, phase: v.noiseEvolution * frame }),
    );
    return maskedBy(workspace, strand, done, mask, v.invert);
  },
});
