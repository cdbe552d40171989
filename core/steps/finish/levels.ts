import { type ColourOp, scaled } from '../../kernels/colour';
import type { Rgb } from '../../math/rgb';
import { defineColourStep } from '../shared/colour-step';
import { number } from '../shared/numbers';

const light = (name: string, description: string, initial: number) =>
  number('light', 'change', name, description, initial, { from: -65504, to: 65504, soft: [-0.5, 2] });
const all = (v: number): Rgb => [v, v, v];

export const levels = defineColourStep({
  id: 'levels',
  name: 'Levels',
  stage: 'finish',
  description:
    'Black point, white point and gamma of light. Nothing is clamped: what lies above white goes on above it.',
  words: ['contrast', 'gamma', 'brightness', 'range', 'white point', 'black point'],
  version: 1,
  values: {
    black: light('Black point', 'Light that becomes the black of the result.', 0),
    white: light('White point', 'Light that becomes the white of the result.', 1),
    gamma: number('ratio', 'change', 'Gamma', 'Above 1 brightens what is between.', 1, {
      from: 0.05,
      to: 20,
      soft: [0.3, 3],
    }),
    toBlack: light('Output black', 'What the black point becomes.', 0),
    toWhite: light('Output white', 'What the white point becomes.', 1),
  },
  summaryValue: 'gamma',
  neutral: (v) => v.black === 0 && v.white === 1 && v.gamma === 1 && v.toBlack === 0 && v.toWhite === 1,
  program(v): ColourOp[] {
    const span = v.white - v.black;
    const by = 1 / (Math.abs(span) < 1e-6 ? 1e-6 : span);
    return [
      scaled(all(by), all(-v.black * by)),
      ...(v.gamma === 1 ? [] : [{ type: 'power', exponents: all(1 / v.gamma), clamps: false } as const]),
      scaled(all(v.toWhite - v.toBlack), all(v.toBlack)),
    ];
  },
});
