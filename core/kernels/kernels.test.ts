import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { exp } from './exp';
import { gaussian, gaussianTaps } from './gaussian';
import { plane } from './plane';
import { addUp, bottom, down } from './pyramid';
import { softThreshold } from './take';
import { sumOfGaussians } from './wide-sum';

/** Σ weight · Gaussian by its definition, in float64, at one pixel. */
function bruteForce(data: Float32Array, w: number, h: number, sigma: number, x: number, y: number): number {
  const taps = gaussianTaps(sigma);
  const reach = taps.length - 1;
  let sum = 0;
  for (let j = -reach; j <= reach; j++) {
    for (let i = -reach; i <= reach; i++) {
      const [px, py] = [x + i, y + j];
      if (px >= 0 && py >= 0 && px < w && py < h)
        sum += data[py * w + px] * taps[Math.abs(i)] * taps[Math.abs(j)];
    }
  }
  return sum;
}

const planes = fc
  .record({
    width: fc.constantFrom(1, 2, 3, 7, 13, 31),
    height: fc.constantFrom(1, 2, 5, 11, 17),
    seed: fc.nat(),
  })
  .map(({ width, height, seed }) => {
    const p = plane(width, height);
    for (let i = 0; i < p.data.length; i++) p.data[i] = ((Math.imul(i + 1, seed | 1) >>> 8) % 1000) / 250;
    return p;
  });

test('exp agrees with the host’s within 2e-15', () => {
  fc.assert(
    fc.property(fc.double({ min: -700, max: 700, noNaN: true }), (x) => {
      expect(Math.abs(exp(x) / Math.exp(x) - 1)).toBeLessThan(2e-15);
    }),
  );
  expect(exp(0)).toBe(1);
});

test('the Gaussian equals its definition over odd sizes', () => {
  fc.assert(
    fc.property(planes, fc.constantFrom(0, 0.4, 1, 2.7), (p, sigma) => {
      const out = gaussian(p, sigma);
      for (let y = 0; y < p.height; y++) {
        for (let x = 0; x < p.width; x++) {
          const exact = bruteForce(p.data, p.width, p.height, sigma, x, y);
          expect(Math.abs(out.data[y * p.width + x] - exact)).toBeLessThan(1e-5);
        }
      }
    }),
    { numRuns: 40 },
  );
});

describe('the pyramid', () => {
  test('keeps the light on the way down and up, wherever it stands', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 44 }), fc.integer({ min: 20, max: 40 }), (x, y) => {
        const fine = plane(65, 61);
        fine.data[y * 65 + x] = 1;
        const level = down(down(bottom(fine)));
        expect(level.plane.data.reduce((a, b) => a + b, 0)).toBeCloseTo(1 / 16, 6);
        const middle = down(bottom(plane(65, 61)));
        addUp(middle, level);
        const back = bottom(plane(65, 61));
        addUp(back, middle);
        expect(back.plane.data.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
      }),
    );
  });
});

test('a wide sum differs from the exact sum of Gaussians by less than 1 % of its peak, at borders too', () => {
  const [w, h] = [91, 75];
  const from = plane(w, h);
  from.data[30 * w + 40] = 100;
  from.data[3] = 60;
  from.data[74 * w + 90] = 80;
  const kernels = [
    { sigma: 12, weight: 0.5 },
    { sigma: 5, weight: 0.3 },
    { sigma: 1.3, weight: 0.2 },
  ];
  const out = sumOfGaussians(from, kernels);
  let [worst, peak] = [0, 0];
  for (let y = 0; y < h; y += 3) {
    for (let x = 0; x < w; x += 3) {
      const exact = kernels.reduce((s, k) => s + k.weight * bruteForce(from.data, w, h, k.sigma, x, y), 0);
      worst = Math.max(worst, Math.abs(out.data[y * w + x] - exact));
      peak = Math.max(peak, exact);
    }
  }
  expect(worst).toBeLessThan(0.01 * peak);
});

test('the soft threshold is 0 below, continuous with continuous slope, and y − t above', () => {
  const light = (y: number, t: number, k: number) => y * softThreshold(y, t, k);
  expect(light(0.4, 1, 0.5)).toBe(0);
  expect(light(3, 1, 0.5)).toBeCloseTo(2, 12);
  expect(light(1, 1, 0.5)).toBeCloseTo(0.125, 12);
  fc.assert(
    fc.property(
      fc.double({ min: 0.01, max: 100, noNaN: true }),
      fc.double({ min: 0.001, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 200, noNaN: true }),
      (t, share, y) => {
        const k = t * share;
        const step = 1e-6 * (1 + t);
        const [a, b, c] = [light(y, t, k), light(y + step, t, k), light(y + 2 * step, t, k)];
        expect(b).toBeGreaterThanOrEqual(a - 1e-9);
        expect((b - a) / step).toBeLessThan(1.001);
        // The slope changes no faster than the parabola's second derivative, 1/(2k).
        expect(Math.abs(c - 2 * b + a)).toBeLessThan(((1.1 * step) / (2 * k)) * step + 1e-9);
      },
    ),
  );
});
