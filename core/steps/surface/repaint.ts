import { join, mix } from '../../kernels/join';
import { shade } from '../../kernels/surface';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { regionMatte, regionValues } from './regions';

export const repaint = defineStep({
  id: 'repaint',
  name: 'Repaint',
  stage: 'surface',
  description: 'Recolours a drawing, or its parts of sampled colours.',
  sourceQuestion: 'which parts?',
  words: ['recolour', 'recolor', 'replace', 'palette', 'tint', 'fill', 'change colour'],
  version: 1,
  slots: {
    paint: {
      kind: 'picture',
      section: 'spread',
      name: 'Paint source',
      description: 'A strand to paint with instead of one colour.',
    },
    ...keepSlots,
  },
  values: {
    appliesTo: {
      type: 'choice',
      section: 'take',
      name: 'Applies to',
      description: 'The whole drawing, or its parts of sampled colours.',
      options: { all: 'Whole drawing', colours: 'Sampled colours' },
      default: 'all',
    },
    ...regionValues([[0.8, 0.6, 0.2]], { onlyIf: ['appliesTo', 'colours'] }),
    colour: {
      type: 'colour',
      section: 'spread',
      name: 'Colour',
      description: 'Colour to paint with, if no paint source is linked.',
      default: [1, 0.42, 0.1],
    },
    ...keep,
    amount: number('ratio', 'lay', 'Amount', 'Blend from the original to the new colour.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'appliesTo',
  neutral: (v) => v.amount === 0,
  reach: () => 0,
  run(workspace, picture, { paint, mask }, v) {
    const matte = v.appliesTo === 'colours' ? regionMatte(workspace, picture, v) : undefined;
    const painted = paint
      ? mix(workspace, picture, join(workspace, picture, paint, 'in'), {
          mask: matte,
          invert: false,
          amount: v.amount,
        })
      : shade(workspace, picture, matte, v.colour, v.amount, 'tint');
    return maskedBy(workspace, picture, painted, mask, v.invert);
  },
});
