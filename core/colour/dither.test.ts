import fc from 'fast-check';
import { expect, test } from 'vitest';
import { dithered } from './dither';

test('an even field has the mean of its value, to a hundredth of a code, in each 8 by 8 pixels', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (value) => {
      let sum = 0;
      for (let i = 0; i < 64; i++) sum += dithered(value, 40 + (i & 7), 16 + (i >> 3));
      expect(Math.abs(sum / 64 - value * 255)).toBeLessThan(0.0101);
    }),
  );
});

test('a value that is a code keeps it everywhere, and what has none is 0 or 255', () => {
  for (let code = 0; code <= 255; code++)
    for (let i = 0; i < 64; i++) expect(dithered(code / 255, i & 7, i >> 3)).toBe(code);
  for (const nothing of [Number.NaN, -1, Number.NEGATIVE_INFINITY]) expect(dithered(nothing, 3, 5)).toBe(0);
  expect(dithered(Number.POSITIVE_INFINITY, 3, 5)).toBe(255);
});

test('each threshold stands once in its 8 by 8 places, spread out: neighbours differ by a quarter and more', () => {
  const least = (x: number, y: number) => {
    let [low, high] = [0, 1 / 255];
    for (let i = 0; i < 30; i++) {
      const middle = (low + high) / 2;
      if (dithered(middle, x, y) > 0) high = middle;
      else low = middle;
    }
    return Math.round((1 - high * 255) * 64 - 0.5);
  };
  const all = Array.from({ length: 64 }, (_, i) => least(i & 7, i >> 3));
  expect(new Set(all).size).toBe(64);
  for (let i = 0; i < 64; i++) expect(Math.abs(all[i] - all[i ^ 1])).toBeGreaterThanOrEqual(16);
});
