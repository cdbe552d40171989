import { asPicture } from '../../kernels/plane';
import { isIdentity, transformed } from '../../kernels/transform';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { angle, number } from '../shared/numbers';

const length = (name: string, description: string) =>
  number('px', 'place', name, description, 0, { from: -32768, to: 32768, soft: [-500, 500] });

/** The values of a transform; a layer of a stack has the same. */
export const transformValues = {
  moveX: length('Move x', 'To the right.'),
  moveY: length('Move y', 'Upwards.'),
  rotate: angle('place', 'Rotate', 'Counter-clockwise about the pivot.', 0),
  scale: number('ratio', 'place', 'Scale', 'About the pivot.', 1, { from: 0.01, to: 100, soft: [0, 2] }),
  pivotX: length('Pivot x', 'From the middle of the picture to the right.'),
  pivotY: length('Pivot y', 'From the middle of the picture upwards.'),
};

export const transform = defineStep({
  id: 'transform',
  name: 'Transform',
  stage: 'prepare',
  description: 'Moves, rotates and scales the picture.',
  words: [
    'move',
    'rotate',
    'scale',
    'resize',
    'zoom',
    'pan',
    'crop',
    'reframe',
    'flip',
    'shift',
    'position',
    'size',
    'place',
    'push in',
  ],
  version: 1,
  rare: ['filter'],
  accepts: ['picture', 'matte'],
  slots: keepSlots,
  handles: [
    { type: 'point', name: 'Move', x: 'moveX', y: 'moveY', from: ['pivotX', 'pivotY'] },
    {
      type: 'arm',
      name: 'Turn and scale',
      at: [
        ['pivotX', 'pivotY'],
        ['moveX', 'moveY'],
      ],
      angle: 'rotate',
      length: 'scale',
      perPixel: 160,
    },
  ],
  values: {
    ...transformValues,
    filter: {
      type: 'choice',
      section: 'place',
      name: 'Filter',
      description: 'Interpolation between pixels: soft, balanced, or sharp with faint ringing.',
      options: { bilinear: 'Bilinear', mitchell: 'Mitchell', lanczos: 'Lanczos 3' },
      default: 'mitchell',
    },
    ...keep,
  },
  summaryValue: 'rotate',
  neutral: isIdentity,
  // What lands in a part may come from anywhere.
  reach: () => Number.POSITIVE_INFINITY,
  run(workspace, strand, { mask }, v) {
    const there = asPicture(workspace, strand, (p) => transformed(workspace, p, v, v.filter));
    return maskedBy(workspace, strand, there, mask, v.invert);
  },
});
