import { vignetted } from '../../kernels/lens';
import { frameOf } from '../../kernels/workspace';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const natural = ['by', 'lens'] as const;
const drawn = ['by', 'shape'] as const;

export const vignette = defineStep({
  id: 'vignette',
  name: 'Vignette',
  stage: 'lens',
  description: 'Darkens the corners: by the cos⁴ law of a lens, or by a shape.',
  order: { place: 8, why: 'the corners darken after all light has come through the lens' },
  words: ['darken', 'corners', 'edges', 'frame', 'fall off'],
  version: 1,
  rare: ['sensorWidth', 'roundness'],
  slots: keepSlots,
  values: {
    by: {
      type: 'choice',
      section: 'change',
      name: 'Model',
      description: 'The natural fall-off of a lens, or an edge of your own.',
      options: { lens: 'cos⁴ law', shape: 'Shape' },
      default: 'lens',
    },
    amount: number('ratio', 'change', 'Amount', '1 is all of it.', 1, { from: 0, to: 1, soft: [0, 1] }),
    focalLength: number('ratio', 'change', 'Focal length', 'In millimetres. Wide angles fall off more.', 28, {
      from: 4,
      to: 1200,
      soft: [10, 100],
      onlyIf: natural,
    }),
    sensorWidth: number('ratio', 'change', 'Sensor width', 'In millimetres.', 36, {
      from: 1,
      to: 200,
      soft: [6, 70],
      onlyIf: natural,
    }),
    size: number('ratio', 'change', 'Size', 'Where it ends: 1 is at the corners.', 1, {
      from: 0.05,
      to: 4,
      soft: [0.3, 1.5],
      onlyIf: drawn,
    }),
    softness: number('ratio', 'change', 'Softness', 'The share of its size over which it falls.', 0.6, {
      from: 0.01,
      to: 1,
      soft: [0.01, 1],
      onlyIf: drawn,
    }),
    roundness: number('ratio', 'change', 'Roundness', '1 is a circle, 0 has the form of the frame.', 0.5, {
      from: 0,
      to: 1,
      soft: [0, 1],
      onlyIf: drawn,
    }),
    ...keep,
  },
  summaryValue: 'amount',
  neutral: (v) => v.amount === 0,
  reach: () => 0,
  run(workspace, picture, { mask }, v) {
    const { width, height } = frameOf(workspace, picture);
    const corner = Math.sqrt(width * width + height * height) / 2;
    // Half a diagonal is 1: in a circle both axes count alike, in the frame's form each by its own length.
    const scale = (side: number) => {
      const framed = Math.SQRT1_2 / (side / 2);
      return v.roundness / corner + (1 - v.roundness) * framed;
    };
    const from = v.size * (1 - v.softness);
    const out = vignetted(
      workspace,
      picture,
      v.by === 'lens'
        ? { type: 'natural', focal: (v.focalLength / v.sensorWidth) * width, amount: v.amount }
        : { type: 'edge', sx: scale(width), sy: scale(height), from, over: v.size - from, amount: v.amount },
    );
    return maskedBy(workspace, picture, out, mask, v.invert);
  },
});
