import fc from 'fast-check';
import { expect, test } from 'vitest';
import { decodeSrgb, encodeSrgb } from './srgb';

// IEC 61966-2-1: linear part 12.92, break at 0.0031308 / 0.04045, exponent 2.4, offset 0.055.
// The 8-bit values are those of the standard's formula worked by hand (0.5 → 0.735357 → 187.516).
test('values of IEC 61966-2-1', () => {
  expect(encodeSrgb(0)).toBe(0);
  expect(encodeSrgb(1)).toBeCloseTo(1, 12);
  expect(encodeSrgb(0.0031308)).toBeCloseTo(0.040449936, 9);
  expect(encodeSrgb(0.5) * 255).toBeCloseTo(187.516, 3);
  expect(encodeSrgb(0.18)).toBeCloseTo(0.461356, 6);
  expect(decodeSrgb(0.04045)).toBeCloseTo(0.0031308, 6);
  expect(decodeSrgb(128 / 255)).toBeCloseTo(0.2158605, 6);
});

test('there and back', () => {
  fc.assert(
    fc.property(fc.double({ min: -100, max: 100, noNaN: true }), (v) => {
      expect(Math.abs(decodeSrgb(encodeSrgb(v)) - v)).toBeLessThan(1e-6 * Math.max(1, Math.abs(v)));
    }),
  );
});
