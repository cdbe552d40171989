import { afterEach, describe, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import { bloomKernels } from '../steps/light/bloom';
import { gaussianTaps } from './gaussian';
import { levelFor, ownTaps, sumOfGaussians } from './pyramid';

/**
 * Wide Gaussians against the exact sampled one, σ and the place of the light swept: peak and variance within 1 %, total within 0.1 %, so that
 * a light that moves does not shimmer (the law of `docs/truth.md`).
 */
afterEach(() => workspace.clear());

/** A light of 1 at `at`, between pixels by bilinear shares, as a row of numbers. */
const spot = (n: number, at: number) =>
  Float64Array.from({ length: n }, (_, i) => Math.max(0, 1 - Math.abs(i - at)));

function convolved(row: Float64Array, taps: Float64Array): Float64Array {
  const out = new Float64Array(row.length);
  row.forEach((v, i) => {
    if (v === 0) return;
    for (let k = 1 - taps.length; k < taps.length; k++)
      if (i + k >= 0 && i + k < out.length) out[i + k] += v * taps[Math.abs(k)];
  });
  return out;
}

function measured(row: ArrayLike<number>) {
  let [peak, total, mean, variance] = [0, 0, 0, 0];
  for (let i = 0; i < row.length; i++) {
    peak = Math.max(peak, row[i]);
    total += row[i];
    mean += row[i] * i;
  }
  mean /= total;
  for (let i = 0; i < row.length; i++) variance += (row[i] * (i - mean) ** 2) / total;
  return { peak, total, variance };
}

/** The pyramid in one dimension, in double precision, far from any border. */
function pyramid(row: Float64Array, sigma: number): Float64Array {
  const level = levelFor(sigma);
  const lengths = [row.length];
  let rows = row;
  const down = [1, 6, 15, 20, 15, 6, 1];
  for (let l = 0; l < level; l++) {
    const fine = rows;
    rows = Float64Array.from({ length: fine.length >> 1 }, (_, i) =>
      down.reduce((sum, w, k) => sum + (w / 64) * (fine[2 * i + k - 3] ?? 0), 0),
    );
    lengths.push(rows.length);
  }
  rows = convolved(rows, ownTaps(sigma, level));
  for (let l = level - 1; l >= 0; l--) {
    const coarse = rows;
    const at = (i: number) => coarse[i] ?? 0;
    rows = Float64Array.from({ length: lengths[l] }, (_, i) => {
      const c = i >> 1;
      return i % 2 === 0
        ? (6 * at(c - 1) + 20 * at(c) + 6 * at(c + 1)) / 32
        : (at(c - 1) + 15 * at(c) + 15 * at(c + 1) + at(c + 2)) / 32;
    });
  }
  return rows;
}

describe('a Gaussian by the pyramid', () => {
  test('in double precision, σ from 0.5 to 512, at every place of its grid', () => {
    for (let sigma = 0.5; sigma <= 512; sigma *= 1.09) {
      const step = 2 ** levelFor(sigma);
      const n = step * Math.ceil((10 * sigma + 64) / step);
      for (let k = 0; k < 8; k++) {
        const from = spot(n, n / 2 + (k * step) / 8);
        const want = measured(convolved(from, gaussianTaps(sigma)));
        const got = measured(pyramid(from, sigma));
        // A picture's peak is that of its rows times that of its columns.
        const note = `σ ${sigma}, place ${k}`;
        expect(Math.abs((got.peak / want.peak) ** 2 - 1), note).toBeLessThan(0.01);
        expect(Math.abs(got.variance / want.variance - 1), note).toBeLessThan(0.01);
        expect(Math.abs(got.total - 1), note).toBeLessThan(0.001);
      }
    }
  });

  test.each([0.5, 0.8, 1.5, 2.2, 2.7, 3.1, 5.3, 7, 10.9, 16, 22.3, 28])(
    'in the kernels, σ %d, between pixels',
    (sigma) => {
      const n = 2 * Math.ceil(4.5 * sigma) + 40;
      for (const [px, py] of [
        [0, 0],
        [0.5, 0.25],
        [1, 3],
        [2.3, 1.7],
        [5, 6],
        [7.5, 3.5],
      ]) {
        const [columns, rows] = [spot(n, n / 2 + px), spot(n, n / 2 + py)];
        const p = pictureOf(n, n, (i) => columns[(i >> 2) % n] * rows[Math.floor((i >> 2) / n)]);
        const { data } = sumOfGaussians(workspace, p, [{ sigma, weight: 1 }]);
        const [across, downwards] = [columns, rows].map((r) => convolved(r, gaussianTaps(sigma)));
        const want = measured(across);
        const along = new Float64Array(n);
        let [peak, worst] = [0, 0];
        for (let i = 0; i < n * n; i++) {
          along[i % n] += data[i * 4];
          peak = Math.max(peak, data[i * 4]);
          worst = Math.max(worst, Math.abs(data[i * 4] - across[i % n] * downwards[Math.floor(i / n)]));
        }
        const exact = want.peak * measured(downwards).peak;
        const got = measured(along);
        const note = `σ ${sigma}, place ${px}, ${py}`;
        expect(Math.abs(peak / exact - 1), note).toBeLessThan(0.01);
        expect(worst / exact, note).toBeLessThan(0.012);
        expect(Math.abs(got.variance / want.variance - 1), note).toBeLessThan(0.01);
        expect(Math.abs(got.total - 1), note).toBeLessThan(0.001);
        workspace.clear();
      }
    },
  );
});

test('a bloom is the same wherever its light stands', () => {
  const kernels = bloomKernels(60, 0.3);
  const n = 330;
  const peaks = [0, 0.25, 0.5, 1, 1.6, 2, 3, 5, 7, 11].map((at) => {
    const row = spot(n, n / 2 + at);
    const wide = convolved(row, gaussianTaps(1));
    const p = pictureOf(n, n, (i) => wide[(i >> 2) % n] * wide[Math.floor((i >> 2) / n)]);
    const { data } = sumOfGaussians(workspace, p, kernels);
    const exact = new Float64Array(n);
    let want = 0;
    const middle = Math.round(n / 2 + at);
    for (const { sigma, weight } of kernels) {
      const one = convolved(wide, gaussianTaps(sigma));
      want += weight * one[middle] ** 2;
      one.forEach((v, i) => {
        exact[i] += weight * v;
      });
    }
    const got = data[(middle * n + middle) * 4];
    workspace.clear();
    return got / want;
  });
  for (const ratio of peaks) expect(Math.abs(ratio - 1)).toBeLessThan(0.01);
});
