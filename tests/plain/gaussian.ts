import { gaussianTaps } from '../../core/kernels/gaussian';
import { type Plane, plane } from './plane';

/** Convolves each row with symmetric `taps`; outside the plane there is nothing (0). */
function convolveRows(from: Plane, to: Plane, taps: Float64Array) {
  const { width, height } = from;
  const reach = taps.length - 1;
  const padded = new Float64Array(width + 2 * reach);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) padded[reach + x] = from.data[row + x];
    for (let x = 0; x < width; x++) {
      const c = x + reach;
      let sum = padded[c] * taps[0];
      for (let k = 1; k <= reach; k++) sum += (padded[c - k] + padded[c + k]) * taps[k];
      to.data[row + x] = sum;
    }
  }
}

/** Convolves each column with symmetric `taps`; outside the plane there is nothing (0). */
function convolveColumns(from: Plane, to: Plane, taps: Float64Array) {
  const { width, height } = from;
  const sums = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) sums[x] = from.data[row + x] * taps[0];
    for (let k = 1; k < taps.length; k++) {
      for (const other of [y - k, y + k]) {
        if (other < 0 || other >= height) continue;
        const source = other * width;
        const tap = taps[k];
        for (let x = 0; x < width; x++) sums[x] += from.data[source + x] * tap;
      }
    }
    for (let x = 0; x < width; x++) to.data[row + x] = sums[x];
  }
}

/** A plane blurred by an exact separable Gaussian of `sigma` pixels; black outside. */
export const gaussian = (from: Plane, sigma: number): Plane => convolved(from, gaussianTaps(sigma));

/** A plane convolved with half a symmetric kernel both ways; black outside. */
export function convolved(from: Plane, taps: Float64Array): Plane {
  const across = plane(from.width, from.height);
  const out = plane(from.width, from.height);
  convolveRows(from, across, taps);
  convolveColumns(across, out, taps);
  return out;
}
