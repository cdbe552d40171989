import { cosTurns, sinTurns } from '../../kernels/elementary';
import { asPicture } from '../../kernels/plane';
import { warp as warped } from '../../kernels/surface';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { angle, number, seed } from '../numbers';

export const warp = defineStep({
  id: 'warp',
  name: 'Warp',
  stage: 'lens',
  anywhere: true,
  description:
    'Smooth noise pushes the picture about: hot air, water, a flame. Layers with the same numbers move together.',
  version: 1,
  accepts: ['picture', 'matte'],
  slots: keepSlots,
  values: {
    amount: number('px', 'spread', 'Amount', 'The furthest that a place is carried.', 12, {
      from: 0,
      to: 1024,
      soft: [0, 100],
    }),
    size: number('px', 'spread', 'Size', 'How wide the swirls are.', 60, {
      from: 1,
      to: 8192,
      soft: [4, 400],
    }),
    detail: number(
      'ratio',
      'spread',
      'Detail',
      'How many sizes lie in each other, each half the one before.',
      2,
      {
        from: 1,
        to: 6,
        soft: [1, 6],
        whole: true,
      },
    ),
    way: {
      type: 'choice',
      section: 'spread',
      name: 'Pushes',
      description: 'To all sides, or along an angle.',
      options: { all: 'To all sides', along: 'Along an angle' },
      default: 'all',
    },
    angle: angle('spread', 'Angle', 'Counter-clockwise from the right.', 0, { onlyIf: ['way', 'along'] }),
    drift: number('px', 'spread', 'Drift', 'How far the noise moves on from frame to frame.', 0, {
      from: -512,
      to: 512,
      soft: [-40, 40],
    }),
    driftAngle: angle('spread', 'Drift to', 'Counter-clockwise from the right: 90 rises.', 90),
    change: number(
      'ratio',
      'spread',
      'Change',
      'How much the noise becomes another from frame to frame.',
      0.1,
      {
        from: 0,
        to: 4,
        soft: [0, 0.5],
      },
    ),
    seed: seed('Another number, other swirls.'),
    edges: {
      type: 'choice',
      section: 'spread',
      name: 'Edges',
      description: 'What is seen from beyond the picture: nothing, or its border continued.',
      options: { empty: 'Nothing', continued: 'Border continued' },
      default: 'empty',
    },
    ...keep,
  },
  summaryValue: 'amount',
  neutral: (v) => v.amount === 0,
  dependsOnFrame: (v) => v.change !== 0 || v.drift !== 0,
  reach: (v) => v.amount + 2,
  run(workspace, strand, { where }, v, _neighbours, frame = 0) {
    const far = v.drift * frame;
    const moved = [cosTurns(v.driftAngle / 360) * far, -sinTurns(v.driftAngle / 360) * far] as const;
    const along = v.way === 'along' ? v.angle : undefined;
    const done = asPicture(workspace, strand, (p) =>
      warped(workspace, p, { ...v, along, moved, phase: v.change * frame }),
    );
    return maskedBy(workspace, strand, done, where, v.invert);
  },
});
