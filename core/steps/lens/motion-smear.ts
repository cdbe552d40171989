import { smeared } from '../../kernels/lens';
import { cosTurns, sinTurns } from '../../math/elementary';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { angle, number } from '../shared/numbers';

const vectors = ['by', 'vectors'] as const;
const path = ['by', 'path'] as const;
const open = ['by', 'vectors', 'path'] as const;
const place = (name: string, description: string) =>
  number('px', 'change', name, description, 0, { from: -32768, to: 32768, soft: [-500, 500], onlyIf: path });

export const motionSmear = defineStep({
  id: 'motion-smear',
  name: 'Motion smear',
  stage: 'lens',
  description:
    'Blurs what moves along its way while the shutter is open. Put glints before it, so that they smear along.',
  order: { place: 3, why: 'glints and lights that were there before it smear along' },
  words: ['movement', 'speed', 'shutter', 'vectors', 'streak', 'trail', 'directional blur', 'motion blur'],
  version: 1,
  rare: ['phase', 'scale', 'upwards'],
  slots: {
    vectors: {
      kind: 'data',
      section: 'take',
      name: 'Motion vectors',
      needed: true,
      description: 'Pixels that each pixel moves in a frame: x in red, y in green.',
      onlyIf: vectors,
    },
    ...keepSlots,
  },
  values: {
    by: {
      type: 'choice',
      section: 'change',
      name: 'Movement',
      description: 'A pass of vectors, or the same everywhere: along an angle, or along the path of a guide.',
      options: { vectors: 'Vectors', angle: 'Angle and length', path: 'Path of a guide' },
      default: 'angle',
    },
    angle: angle('change', 'Angle', 'Counter-clockwise from the right.', 0, { onlyIf: ['by', 'angle'] }),
    length: number('px', 'change', 'Length', 'Of the whole smear.', 20, {
      from: 0,
      to: 1024,
      soft: [0, 200],
      onlyIf: ['by', 'angle'],
    }),
    shutter: {
      ...angle('change', 'Shutter angle', '360° is open for the whole frame.', 180, {
        soft: [0, 360],
        onlyIf: open,
      }),
      from: 0,
      to: 720,
    },
    phase: angle('change', 'Shutter phase', 'When it opens. −90° at 180° is centred on the frame.', -90, {
      soft: [-360, 360],
      onlyIf: open,
    }),
    pathX: place(
      'Path x',
      'From the middle to the right. It follows a guide or has keys: what counts is how it moves.',
    ),
    pathY: place('Path y', 'From the middle upwards.'),
    scale: number('px', 'change', 'Vector scale', 'Pixels that a vector of 1 stands for.', 1, {
      from: -8192,
      to: 8192,
      soft: [-4, 4],
      onlyIf: vectors,
    }),
    upwards: {
      type: 'choice',
      section: 'change',
      name: 'y axis',
      description: 'Which way a vector of y above 0 points.',
      options: { up: 'Upwards', down: 'Downwards' },
      default: 'up',
      onlyIf: vectors,
    },
    ...keep,
  },
  beginsWith: { slot: 'vectors', pass: 'motion', values: { by: 'vectors' } },
  summaryValue: 'length',
  speeds: { speedX: 'pathX', speedY: 'pathY' },
  handles: [{ type: 'point', name: 'Path', x: 'pathX', y: 'pathY', onlyIf: path }],
  neutral: (v) =>
    v.by === 'angle' ? v.length === 0 : v.shutter === 0 || (v.by === 'vectors' && v.scale === 0),
  reach: (v) => (v.by === 'angle' ? v.length / 2 + 2 : Number.POSITIVE_INFINITY),
  run(workspace, picture, { vectors: pass, mask }, v) {
    if (v.by === 'angle') {
      const turns = v.angle / 360;
      const vector = [v.length * cosTurns(turns), -v.length * sinTurns(turns)] as const;
      return maskedBy(
        workspace,
        picture,
        smeared(workspace, picture, { vector }, [-0.5, 0.5]),
        mask,
        v.invert,
      );
    }
    const opening = [v.phase / 360, (v.phase + v.shutter) / 360] as const;
    if (v.by === 'path') {
      const { speedX = 0, speedY = 0 } = v as { speedX?: number; speedY?: number };
      const smear = smeared(workspace, picture, { vector: [speedX, -speedY] }, opening);
      return maskedBy(workspace, picture, smear, mask, v.invert);
    }
    if (!pass) return maskedBy(workspace, picture, picture, mask, v.invert);
    const scale = [v.scale, v.upwards === 'up' ? -v.scale : v.scale] as const;
    const smear = smeared(workspace, picture, { vectors: pass, scale }, opening);
    return maskedBy(workspace, picture, smear, mask, v.invert);
  },
});
