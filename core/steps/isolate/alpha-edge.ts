import { gaussianPlane, gaussianReach } from '../../kernels/gaussian';
import { combine } from '../../kernels/plane';
import { matteOf } from '../../kernels/point';
import { grow, shrinkMatte } from '../../kernels/shape';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy, maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';

const length = (name: string, description: string, initial: number) =>
  number('px', 'spread', name, description, initial, { from: 0, to: 512, soft: [0, 40] });

export const alphaEdge = defineStep({
  id: 'alpha-edge',
  name: 'Edge of alpha',
  stage: 'isolate',
  description: 'A matte along the edge of a drawing or of another matte.',
  sourceQuestion: 'which side?',
  words: ['outline', 'contour', 'border', 'rim', 'stroke', 'silhouette'],
  version: 2,
  accepts: ['picture', 'matte'],
  produces: 'matte',
  slots: keepSlots,
  values: {
    side: {
      type: 'choice',
      section: 'take',
      name: 'Side',
      description: 'Side of the edge.',
      options: { inside: 'Inside', outside: 'Outside', both: 'Both' },
      default: 'inside',
    },
    width: length('Width', 'Width on each side of the edge.', 6),
    soft: length('Softness', 'Standard deviation of the blur.', 0),
    ...keep,
  },
  summaryValue: 'width',
  neutral: () => false,
  reach: (v) => v.width + gaussianReach(v.soft),
  run(workspace, picture, slots, v) {
    const alpha = picture.channels === 1 ? picture : matteOf(workspace, picture, 'alpha');
    const outer = v.side === 'inside' ? alpha : grow(workspace, alpha, v.width);
    const inner = v.side === 'outside' ? alpha : shrinkMatte(workspace, alpha, v.width);
    const edge = combine(workspace, outer, inner, 'subtract');
    const soft = v.soft > 0 ? gaussianPlane(workspace, edge, v.soft) : edge;
    // Outside its mask a step on a matte leaves it as it was; a picture has no matte to leave there.
    return picture.channels === 1
      ? maskedBy(workspace, picture, soft, slots.mask, v.invert)
      : maskedKey(workspace, soft, slots, v.invert);
  },
});
