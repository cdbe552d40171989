import { chromaticityOf, tintedDaylight, whiteMatrix } from '../../colour/white-balance';
import { defineColourStep } from '../shared/colour-step';
import { number } from '../shared/numbers';

export const whiteBalance = defineColourStep({
  id: 'white-balance',
  name: 'White balance',
  stage: 'finish',
  description: 'Makes the light of a colour temperature, or a sampled grey, neutral.',
  order: { place: 1, why: 'colours are judged after the light is neutral' },
  words: ['temperature', 'kelvin', 'warm', 'cool', 'neutral', 'grey', 'tint', 'colour cast'],
  version: 1,
  values: {
    by: {
      type: 'choice',
      section: 'change',
      name: 'Reference white',
      description: 'What tells the white of the scene’s light.',
      options: { temperature: 'Temperature', grey: 'Sampled grey' },
      default: 'temperature',
    },
    temperature: {
      ...number(
        'ratio',
        'change',
        'Temperature',
        'Correlated colour temperature of the light, in kelvin. Lower values cool the picture.',
        6504,
        {
          from: 2500,
          to: 25000,
          soft: [2500, 12000],
          onlyIf: ['by', 'temperature'],
        },
      ),
    },
    tint: number(
      'ratio',
      'change',
      'Tint',
      'Distance of the light from daylight, in thousandths of CIE 1960 uv: green above 0, magenta below.',
      0,
      {
        from: -50,
        to: 50,
        soft: [-30, 30],
        onlyIf: ['by', 'temperature'],
      },
    ),
    grey: {
      type: 'colour',
      section: 'change',
      name: 'Grey',
      description: 'A colour of the picture that should be neutral.',
      default: [0.18, 0.18, 0.18],
      onlyIf: ['by', 'grey'],
    },
  },
  summaryValue: 'temperature',
  neutral: (v) =>
    v.by === 'temperature'
      ? v.temperature === 6504 && v.tint === 0
      : chromaticityOf(v.grey) === undefined || v.grey.every((c) => c === v.grey[0]),
  program(v) {
    const white = v.by === 'temperature' ? tintedDaylight(v.temperature, v.tint) : chromaticityOf(v.grey)!;
    const m = whiteMatrix(white);
    return [{ type: 'matrix', rows: [0, 1, 2].flatMap((row) => [...m.slice(row * 3, row * 3 + 3), 0]) }];
  },
});
