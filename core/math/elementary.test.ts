import fc from 'fast-check';
import { expect, test } from 'vitest';
import { arctan, exp, turnsOf } from './elementary';

const real = (min: number, max: number) => fc.double({ min, max, noNaN: true });

test('the angle of a tangent is that of this host’s, to 1e-14', () => {
  fc.assert(
    fc.property(real(-1e6, 1e6), (x) => void expect(Math.abs(arctan(x) - Math.atan(x))).toBeLessThan(1e-14)),
  );
});

test('turns go around as atan2 does', () => {
  fc.assert(
    fc.property(real(-10, 10), real(-10, 10), (x, y) => {
      fc.pre(Math.hypot(x, y) > 1e-6);
      const want = Math.atan2(y, x) / (2 * Math.PI);
      const away = Math.abs(turnsOf(x, y) - want);
      // Half a turn is the same to both sides.
      expect(Math.min(away, Math.abs(away - 1))).toBeLessThan(1e-9);
    }),
  );
  expect([turnsOf(1, 0), turnsOf(0, 1), turnsOf(-1, 0), turnsOf(0, -1)]).toEqual([0, 0.25, 0.5, -0.25]);
});

test('far below 0 the exponential is nothing at once, far above it is endless', () => {
  expect(exp(-1e9)).toBe(0);
  expect(exp(1e9)).toBe(Number.POSITIVE_INFINITY);
  expect(exp(1)).toBeCloseTo(Math.E, 14);
});
