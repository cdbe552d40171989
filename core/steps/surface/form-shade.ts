import { copy, matteOf } from '../../kernels/point';
import { shade, shareWithin } from '../../kernels/surface';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { spareInkStart, spareInkValues, withoutInk } from './spare-ink';

export const formShade = defineStep({
  id: 'form-shade',
  name: 'Form shade',
  stage: 'surface',
  description: 'Shade on a figure. A drawn matte says where, this step says how it looks.',
  sourceQuestion: 'where?',
  words: ['shadow', 'shade', 'cel', 'tone', 'volume', 'modelling', 'core shadow', 'dark side'],
  version: 1,
  slots: {
    shape: {
      kind: 'matte',
      section: 'take',
      name: 'Shade matte',
      needed: true,
      sometimes: true,
      description: 'The matte of the shade. Frames without one stay unchanged.',
    },
    ...keepSlots,
  },
  values: {
    soft: number(
      'px',
      'spread',
      'Edge softness',
      'Standard deviation of the edge blur. 0 is a hard edge.',
      0,
      {
        from: 0,
        to: 1024,
        soft: [0, 80],
      },
    ),
    colour: {
      type: 'colour',
      section: 'spread',
      name: 'Colour',
      description: 'Colour of the shade, in linear light.',
      default: [0.32, 0.3, 0.52],
    },
    ...keep,
    ...spareInkValues,
    mode: {
      type: 'choice',
      section: 'lay',
      name: 'Blend mode',
      description: 'Multiplies the colours, or blends towards the shade colour.',
      options: { multiply: 'Multiply', tint: 'Tint' },
      default: 'multiply',
    },
    amount: number('ratio', 'lay', 'Opacity', 'Opacity of the shade.', 0.8, { from: 0, to: 1, soft: [0, 1] }),
  },
  rare: ['inkNear'],
  start: spareInkStart,
  summaryValue: 'amount',
  neutral: (v) => v.amount === 0,
  reach: (v) => 2 * v.soft + 2,
  run(workspace, picture, { shape, mask }, v) {
    if (!shape) return copy(workspace, picture);
    const matte = shareWithin(workspace, shape, matteOf(workspace, picture, 'alpha'), v.soft / 2);
    const shaded = withoutInk(workspace, picture, matte, v);
    return maskedBy(
      workspace,
      picture,
      shade(workspace, picture, shaded, v.colour, v.amount, v.mode),
      mask,
      v.invert,
    );
  },
});
