import { cosTurns, exp, sinTurns } from '../math/elementary';
import { rgbOfWavelength } from './spectrum';

/**
 * J₁ by its integral ∫ cos(τ − x sin τ) dτ / π over half a turn: as the integrand is periodic, evenly spaced samples converge at once
 * when there are more of them than x (Abramowitz & Stegun 9.1.21).
 */
export function besselJ1(x: number): number {
  const n = 24 + Math.ceil(x);
  let sum = 0;
  for (let i = 0; i < n; i++) {
    const turns = (i + 0.5) / n / 2;
    sum += cosTurns(turns - (x * sinTurns(turns)) / (2 * Math.PI));
  }
  return sum / n;
}

/** Far-field intensity of a disc, 1 in the middle: (2 J₁(x)/x)². */
export const airy = (x: number) => {
  if (x < 1e-3) return 1;
  const a = (2 * besselJ1(x)) / x;
  return a * a;
};

/** A film of grains on the glass: their diameter in thousandths of a millimetre, and how much it varies, as a part of it. */
export type Film = { particleSize: number; sizeVariation: number };

const step = 0.05;
const waves = Array.from({ length: 12 }, (_, i) => 412.5 + i * 25);
/** Diameters and their weights: a Gaussian of the variety's width, to twice that. */
const sizes = Array.from({ length: 9 }, (_, i) => (i - 4) / 2).map((z) => ({ z, weight: exp((-z * z) / 2) }));

/**
 * Light by the angle (degrees) that a film of grains scatters, in red, green and blue. By Babinet's principle grains scatter as holes of
 * their size do: Airy's pattern with x = π d sin θ / λ, at each wavelength; over many grains of about one size it is the corona
 * seen around lamps through a dusty or misted pane (Born & Wolf, *Principles of Optics*, 8.5.2; Minnaert, *Light and Colour in the Open Air*).
 * White in sum; what no screen shows is black.
 */
export function filmLaws(
  { particleSize: grain, sizeVariation: variety }: Film,
  furthest: number,
): ((theta: number) => number)[] {
  const spread = Math.max(0.02, variety);
  const largest = grain * (1 + 2 * spread);
  const most = (Math.PI * largest * 1000 * sinTurns(Math.min(90, furthest) / 360)) / waves[0];
  const table = Float64Array.from({ length: Math.ceil(most / step) + 2 }, (_, i) => airy(i * step));
  const colours = waves.map(rgbOfWavelength);
  const white = [0, 1, 2].map((c) => colours.reduce((sum, rgb) => sum + rgb[c], 0));
  const at = (x: number) => {
    const place = x / step;
    const i = Math.min(table.length - 2, Math.floor(place));
    return table[i] + (table[i + 1] - table[i]) * Math.min(1, place - i);
  };
  return [0, 1, 2].map((c) => (theta: number) => {
    const sine = sinTurns(Math.min(furthest, theta) / 360);
    let sum = 0;
    for (const [i, wave] of waves.entries()) {
      const weight = colours[i][c] / white[c] / (wave * wave);
      for (const { z, weight: share } of sizes) {
        const d = grain * Math.max(0.05, 1 + z * spread);
        // A grain's light goes with its area, and its height in the middle with that again.
        sum += weight * share * d * d * d * d * at((Math.PI * d * 1000 * sine) / wave);
      }
    }
    return Math.max(0, sum);
  });
}
