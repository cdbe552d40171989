import { cosTurns, sinTurns } from '../../kernels/elementary';
import { gaussian } from '../../kernels/gaussian';
import { asPicture } from '../../kernels/plane';
import { type Affine, resample } from '../../kernels/sample';
import { defineStep } from '../define';
import { kept } from '../kept';
import { keep, keepSlots } from '../light/lay';
import { angle, number } from '../numbers';

const length = (name: string, says: string) =>
  number('px', 'place', name, says, 0, { from: -32768, to: 32768, soft: [-500, 500] });

type Placing = { moveX: number; moveY: number; turn: number; scale: number; pivotX: number; pivotY: number };

/** Where each pixel of the result is read. Rows count downwards; `moveY` and `pivotY` count upwards, as seen. */
export function placing(width: number, height: number, v: Placing): Affine {
  const [px, py] = [(width - 1) / 2 + v.pivotX, (height - 1) / 2 - v.pivotY];
  const [cos, sin] = [cosTurns(v.turn / 360) / v.scale, sinTurns(v.turn / 360) / v.scale];
  const [dx, dy] = [px + v.moveX, py - v.moveY];
  return { a: cos, b: -sin, c: px - cos * dx + sin * dy, d: sin, e: cos, f: py - sin * dx - cos * dy };
}

/** Blur that takes what a smaller picture cannot show: the variance that a box of its pixels has beyond one of ours. */
const smoothing = (scale: number) => Math.sqrt((1 / (scale * scale) - 1) / 12) * 1.4;

export const transform = defineStep({
  id: 'transform',
  name: 'Transform',
  stage: 'prepare',
  says: 'Moves, turns and scales what is above it.',
  version: 1,
  on: ['picture', 'matte'],
  slots: keepSlots,
  handles: [
    { sort: 'point', name: 'Move', x: 'moveX', y: 'moveY', from: ['pivotX', 'pivotY'] },
    {
      sort: 'arm',
      name: 'Turn and scale',
      at: [
        ['pivotX', 'pivotY'],
        ['moveX', 'moveY'],
      ],
      angle: 'turn',
      length: 'scale',
      perPixel: 160,
    },
  ],
  values: {
    moveX: length('Move x', 'To the right.'),
    moveY: length('Move y', 'Upwards.'),
    turn: angle('place', 'Turn', 'Counter-clockwise about the pivot.', 0),
    scale: number('ratio', 'place', 'Scale', 'About the pivot.', 1, { from: 0.01, to: 100, soft: [0, 2] }),
    pivotX: length('Pivot x', 'From the middle of the picture to the right.'),
    pivotY: length('Pivot y', 'From the middle of the picture upwards.'),
    filter: {
      type: 'choice',
      band: 'place',
      name: 'Filter',
      says: 'How pixels between pixels are found: soft and quick, balanced, or sharp with faint rings.',
      options: { bilinear: 'Bilinear', mitchell: 'Mitchell', lanczos: 'Lanczos 3' },
      default: 'mitchell',
    },
    ...keep,
  },
  telling: 'turn',
  neutral: (v) => v.moveX === 0 && v.moveY === 0 && v.turn === 0 && v.scale === 1,
  // What lands in a part may come from anywhere.
  reach: () => Number.POSITIVE_INFINITY,
  run(desk, strand, { where }, v) {
    const { width, height } = strand;
    const placed = asPicture(desk, strand, (p) => {
      const source = v.scale < 1 ? gaussian(desk, p, smoothing(v.scale)) : p;
      return resample(desk, source, width, height, placing(width, height, v), v.filter);
    });
    return kept(desk, strand, placed, where, v.invert);
  },
});
