import { type FringeSample, fringed } from '../../kernels/lens';
import { frameOf } from '../../kernels/workspace';
import { rgbOfWavelength } from '../../optics/spectrum';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { number } from '../numbers';

/** The visible light that counts, in nanometres. */
const [shortest, longest] = [430, 650];

/**
 * Weights of wavelengths in linear Rec. 709, each channel of sum 1, so that white stays white. What a screen cannot show of a pure colour is left out: else
 * edges had light below 0.
 */
export function fringeSamples(count: number, furthest: number): FringeSample[] {
  const waves = Array.from(
    { length: count },
    (_, i) => shortest + ((i + 0.5) / count) * (longest - shortest),
  );
  const colours = waves.map((nm) => rgbOfWavelength(nm).map((v) => Math.max(0, v)));
  const sums = [0, 1, 2].map((c) => colours.reduce((sum, rgb) => sum + rgb[c], 0));
  return waves.map((nm, i) => {
    // From −1 at the shortest to 1 at the longest: red lies outside where `furthest` is above 0.
    const place = (2 * (nm - shortest)) / (longest - shortest) - 1;
    const [r, g, b] = colours[i].map((v, c) => v / sums[c]);
    return { scale: 1 + place * furthest, weights: [r, g, b, 1 / count] };
  });
}

export const fringe = defineStep({
  id: 'fringe',
  name: 'Fringe',
  stage: 'lens',
  description: 'Lateral chromatic aberration: colours part towards the corners, as wavelengths do in a lens.',
  order: { place: 6, why: 'the lens parts the colours of all that comes through it' },
  words: ['purple', 'prism', 'dispersion', 'chromatic aberration', 'colour fringes', 'rgb split'],
  version: 1,
  slots: keepSlots,
  values: {
    shift: number(
      'px',
      'change',
      'Shift',
      'How far red and blue lie from green at the corners. Below 0 blue lies outside.',
      3,
      {
        from: -256,
        to: 256,
        soft: [-20, 20],
      },
    ),
    samples: number('ratio', 'change', 'Wavelengths', 'More give smoother fringes.', 12, {
      from: 3,
      to: 64,
      soft: [3, 32],
      whole: true,
    }),
    ...keep,
  },
  summaryValue: 'shift',
  neutral: (v) => v.shift === 0,
  reach: (v) => Math.abs(v.shift) + 2,
  run(workspace, picture, { mask }, v) {
    const { width, height } = frameOf(workspace, picture);
    const corner = Math.sqrt(width * width + height * height) / 2;
    // A short diagonal is not turned inside out.
    const furthest = Math.max(-0.5, Math.min(0.5, v.shift / corner));
    const out = fringed(workspace, picture, fringeSamples(v.samples, furthest));
    return maskedBy(workspace, picture, out, mask, v.invert);
  },
});
