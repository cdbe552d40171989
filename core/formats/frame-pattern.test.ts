import fc from 'fast-check';
import { expect, test } from 'vitest';
import { frameOf, parseFrames, parsePattern, pathOf } from './frame-pattern';

test('the three ways to write a number, and stills', () => {
  expect(pathOf(parsePattern('/a/hall.####.exr'), 7)).toBe('/a/hall.0007.exr');
  expect(pathOf(parsePattern('/a/hall_%04d.exr'), 12345)).toBe('/a/hall_12345.exr');
  expect(pathOf(parsePattern('hall%d.png'), 7)).toBe('hall7.png');
  expect(pathOf(parsePattern('hall.[01-48].exr'), 3)).toBe('hall.03.exr');
  expect(parsePattern('hall.[1-48].exr').range).toEqual([1, 48]);
  expect(pathOf(parsePattern('/a#b/still.exr'), 3)).toBe('/a#b/still.exr');
});

test('a path leads back to its frame', () => {
  fc.assert(
    fc.property(fc.integer({ min: -99999, max: 99999 }), fc.integer({ min: 1, max: 6 }), (frame, digits) => {
      const pattern = parsePattern(`/x/y.${'#'.repeat(digits)}.exr`);
      expect(frameOf(pattern, pathOf(pattern, frame))).toBe(frame);
    }),
  );
  expect(frameOf(parsePattern('/x/y.####.exr'), '/x/y.07.exr')).toBeUndefined();
  expect(frameOf(parsePattern('/x/y.####.exr'), '/x/y.abcd.exr')).toBeUndefined();
});

test('frame ranges', () => {
  expect(parseFrames('1-3,7, 2')).toEqual([1, 2, 3, 7]);
  expect(parseFrames('-2-1')).toEqual([-2, -1, 0, 1]);
  expect(() => parseFrames('3-1')).toThrow(/backwards/);
  expect(() => parseFrames('one')).toThrow(/not a frame range/);
});
