import fc from 'fast-check';
import { expect, test } from 'vitest';
import { pictureOf } from '../../tests/runtime';
import { middleOf } from './middle';

test('a disc whose edge is covered in part has its middle where it was drawn, to a hundredth of a pixel', () => {
  const [w, h, r] = [80, 60, 9.3];
  fc.assert(
    fc.property(
      fc.double({ min: -20, max: 20, noNaN: true }),
      fc.double({ min: -15, max: 15, noNaN: true }),
      (cx, cy) => {
        const [px, py] = [w / 2 + cx, h / 2 - cy];
        // Sixteen samples a side and pixel.
        const covered = (i: number) => {
          const [x, y] = [i % w, Math.floor(i / w)];
          let count = 0;
          for (let a = 0; a < 16; a++)
            for (let b = 0; b < 16; b++)
              if (Math.hypot(x + (a + 0.5) / 16 - px, y + (b + 0.5) / 16 - py) < r) count++;
          return count / 256;
        };
        const middle = middleOf(pictureOf(w, h, covered, 1))!;
        expect(Math.abs(middle.x - cx)).toBeLessThan(0.01);
        expect(Math.abs(middle.y - cy)).toBeLessThan(0.01);
      },
    ),
    { numRuns: 25 },
  );
});

test('light counts by its luminance, what is no light does not, and where there is none there is no middle', () => {
  const spots = (i: number) => {
    const [pixel, c] = [i >> 2, i & 3];
    if (pixel === 5) return c < 3 ? 3 : 1;
    if (pixel === 8) return c < 3 ? 1 : 1;
    return pixel === 2 ? (c < 3 ? Number.NaN : 1) : pixel === 3 ? -4 : 0;
  };
  // Ten pixels in a row: three parts of light in the sixth, one in the ninth.
  expect(middleOf(pictureOf(10, 1, spots))).toEqual({ x: expect.closeTo((3 * 5.5 + 8.5) / 4 - 5), y: 0 });
  expect(middleOf(pictureOf(10, 4, () => 0))).toBeUndefined();
  expect(middleOf(pictureOf(10, 4, () => 0, 1))).toBeUndefined();
});
