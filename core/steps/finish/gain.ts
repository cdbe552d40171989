import { scaled } from '../../kernels/colour';
import { defineColourStep } from '../shared/colour-step';
import { number } from '../shared/numbers';

export const gain = defineColourStep({
  id: 'gain',
  name: 'Gain',
  stage: 'finish',
  description: 'Multiplies light by stops and by a colour. Use it with a mask to warm or darken one thing.',
  words: ['exposure', 'brightness', 'brighter', 'darker', 'stops', 'multiply', 'f-stop', 'intensity', 'tint'],
  version: 1,
  anywhere: true,
  values: {
    stops: number('ratio', 'change', 'Exposure', 'Stops: each doubles the light.', 0, {
      from: -20,
      to: 20,
      soft: [-3, 3],
    }),
    colour: {
      type: 'colour',
      section: 'change',
      name: 'Colour',
      description: 'Multiplies each channel. White changes nothing.',
      default: [1, 1, 1],
    },
  },
  summaryValue: 'stops',
  neutral: (v) => v.stops === 0 && v.colour.every((c) => c === 1),
  program(v) {
    const by = 2 ** v.stops;
    const [r, g, b] = v.colour;
    return [scaled([r * by, g * by, b * by])];
  },
});
