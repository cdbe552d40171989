import { checker } from '../../kernels/join';
import { fill, over } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const backing = defineStep({
  id: 'backing',
  name: 'Backing',
  stage: 'finish',
  description: 'Puts an opaque colour or a checkerboard behind a transparent picture.',
  words: ['background', 'checkerboard', 'fill', 'behind', 'flatten', 'opaque', 'solid colour', 'matte paint'],
  version: 1,
  slots: keepSlots,
  values: {
    type: {
      type: 'choice',
      section: 'lay',
      name: 'Backing',
      description: 'What is behind the picture.',
      options: { colour: 'Colour', checker: 'Checkerboard' },
      default: 'colour',
    },
    colour: {
      type: 'colour',
      section: 'lay',
      name: 'Colour',
      description: 'Colour behind the picture, in linear light.',
      default: [0.18, 0.18, 0.18],
    },
    size: number('px', 'lay', 'Checkerboard', 'Side of a square.', 16, {
      from: 1,
      to: 512,
      soft: [2, 64],
    }),
    ...keep,
  },
  summaryValue: 'type',
  neutral: () => false,
  reach: () => 0,
  run(workspace, strand, { mask }, v) {
    const { width, height } = strand;
    const behind =
      v.type === 'colour'
        ? fill(workspace, width, height, [...v.colour, 1])
        : checker(workspace, width, height, v.size, 0.1, 0.2);
    return maskedBy(workspace, strand, over(workspace, strand, behind), mask, v.invert);
  },
});
