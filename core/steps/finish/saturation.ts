import type { ColourOp } from '../../kernels/colour';
import { defineColourStep } from '../shared/colour-step';
import { angle, number } from '../shared/numbers';
import { saturationMatrix } from './grade';

export const saturation = defineColourStep({
  id: 'saturation',
  name: 'Saturation',
  stage: 'finish',
  description: 'Scales how far colours are from grey, and turns their hue.',
  words: [
    'colourful',
    'vivid',
    'desaturate',
    'grey',
    'vibrance',
    'monochrome',
    'colour intensity',
    'black and white',
    'hue shift',
  ],
  version: 1,
  values: {
    space: {
      type: 'choice',
      section: 'change',
      name: 'Colour space',
      description: 'Linear light keeps luminance; OKLCh keeps the lightness that is seen.',
      options: { oklch: 'OKLCh', linear: 'Linear light' },
      default: 'oklch',
    },
    saturation: number('ratio', 'change', 'Saturation', '0 is grey, 1 changes nothing.', 1.2, {
      from: 0,
      to: 8,
      soft: [0, 2],
    }),
    hue: angle('change', 'Hue', 'Turned by so much in OKLCh.', 0, { onlyIf: ['space', 'oklch'] }),
  },
  summaryValue: 'saturation',
  neutral: (v) => v.saturation === 1 && (v.space === 'linear' || v.hue === 0),
  program: (v): ColourOp[] =>
    v.space === 'linear'
      ? [{ type: 'matrix', rows: saturationMatrix(v.saturation) }]
      : [{ type: 'oklch', hue: v.hue, chroma: v.saturation }],
});
