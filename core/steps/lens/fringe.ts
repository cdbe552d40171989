import { type FringeSample, fringed } from '../../kernels/lens';
import { frameOf } from '../../kernels/workspace';
import { rgbOfWavelength } from '../../optics/spectrum';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

/** The visible light that counts, in nanometres. */
const [shortest, longest] = [430, 650];

/**
 * Weights of wavelengths in linear Rec. 709, each channel of sum 1, so that white stays white, and how far each lies out: so that the centres of red, green
 * and blue lie at 1, 0 and −1 times `furthest`, however many there are. What a screen cannot show of a pure colour is left out: else edges had light
 * below 0.
 */
export function fringeSamples(count: number, furthest: number): FringeSample[] {
  const waves = Array.from(
    { length: count },
    (_, i) => shortest + ((i + 0.5) / count) * (longest - shortest),
  );
  const colours = waves.map((nm) => rgbOfWavelength(nm).map((v) => Math.max(0, v)));
  const sums = [0, 1, 2].map((c) => colours.reduce((sum, rgb) => sum + rgb[c], 0));
  const weights = colours.map((rgb) => rgb.map((v, c) => v / sums[c]));
  const places = placesOf(weights);
  return weights.map(([r, g, b], i) => ({
    scale: 1 + places[i] * furthest,
    weights: [r, g, b, 1 / count],
  }));
}

/**
 * Where samples from the shortest to the longest lie, by a parabola of their wavelengths that puts the centres of red, green and blue at 1, 0 and −1:
 * three equations for its three numbers, by Cramer's rule.
 */
function placesOf(weights: readonly (readonly number[])[]): number[] {
  const across = weights.map((_, i) => (2 * (i + 0.5)) / weights.length - 1);
  const moment = (c: number, power: number) =>
    across.reduce((sum, p, i) => sum + weights[i][c] * p ** power, 0);
  const rows = [0, 1, 2].map((c) => [1, moment(c, 1), moment(c, 2)]);
  const wanted = [1, 0, -1];
  const determinant = ([a, b, c]: number[][]) =>
    a[0] * (b[1] * c[2] - b[2] * c[1]) -
    a[1] * (b[0] * c[2] - b[2] * c[0]) +
    a[2] * (b[0] * c[1] - b[1] * c[0]);
  const all = determinant(rows);
  const [constant, linear, square] = [0, 1, 2].map(
    (k) => determinant(rows.map((row, i) => row.map((v, j) => (j === k ? wanted[i] : v)))) / all,
  );
  return across.map((p) => constant + linear * p + square * p * p);
}

/** The furthest that any sample lies out, in shares of the shift. */
const furthestOf = (count: number) =>
  Math.max(...fringeSamples(count, 1).map(({ scale }) => Math.abs(scale - 1)));

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
  reach: (v) => Math.abs(v.shift) * furthestOf(v.samples) + 2,
  run(workspace, picture, { mask }, v) {
    const { width, height } = frameOf(workspace, picture);
    const corner = Math.sqrt(width * width + height * height) / 2;
    // A short diagonal is not turned inside out.
    const furthest = Math.max(-0.5, Math.min(0.5, v.shift / corner));
    const out = fringed(workspace, picture, fringeSamples(v.samples, furthest));
    return maskedBy(workspace, picture, out, mask, v.invert);
  },
});
