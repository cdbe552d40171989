import { expect, test } from 'vitest';
import { fromStops, luminance, toStops } from './luminance';

// ITU-R BT.709-6, item 3.2: E'Y = 0.2126 R + 0.7152 G + 0.0722 B.
test('luminance of the primaries and of white is that of BT.709', () => {
  expect(luminance(1, 0, 0)).toBe(0.2126);
  expect(luminance(0, 1, 0)).toBe(0.7152);
  expect(luminance(0, 0, 1)).toBe(0.0722);
  expect(luminance(1, 1, 1)).toBeCloseTo(1, 12);
  expect(luminance(4, 4, 4)).toBeCloseTo(4, 12);
});

test('stops count doublings from mid-grey', () => {
  expect(toStops(0.18)).toBe(0);
  expect(toStops(0.72)).toBeCloseTo(2, 12);
  expect(fromStops(toStops(12))).toBeCloseTo(12, 12);
});
