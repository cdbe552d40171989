import { join, mix } from '../../kernels/join';
import { shade } from '../../kernels/surface';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { number } from '../numbers';
import { regionMatte, regionValues } from './regions';

export const repaint = defineStep({
  id: 'repaint',
  name: 'Repaint',
  stage: 'surface',
  description: 'A drawing in one colour by its alpha, or those of its parts that have a colour you pick.',
  sourceQuestion: 'which parts?',
  version: 1,
  slots: {
    paint: {
      kind: 'picture',
      section: 'spread',
      name: 'Paint',
      description: 'A strand that it is painted with, in place of one colour.',
    },
    ...keepSlots,
  },
  values: {
    what: {
      type: 'choice',
      section: 'take',
      name: 'Paints',
      description: 'The whole drawing, or its parts of certain colours.',
      options: { all: 'All of it', colours: 'Certain colours' },
      default: 'all',
    },
    ...regionValues([[0.8, 0.6, 0.2]], { onlyIf: ['what', 'colours'] }),
    colour: {
      type: 'colour',
      section: 'spread',
      name: 'Colour',
      description: 'What it is painted with, if no strand is.',
      default: [1, 0.42, 0.1],
    },
    ...keep,
    amount: number('ratio', 'lay', 'Amount', 'From what is there to the new colour.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'what',
  neutral: (v) => v.amount === 0,
  reach: () => 0,
  run(workspace, picture, { paint, where }, v) {
    const matte = v.what === 'colours' ? regionMatte(workspace, picture, v) : undefined;
    const painted = paint
      ? mix(workspace, picture, join(workspace, picture, paint, 'in'), {
          where: matte,
          invert: false,
          amount: v.amount,
        })
      : shade(workspace, picture, matte, v.colour, v.amount, 'tint');
    return maskedBy(workspace, picture, painted, where, v.invert);
  },
});
