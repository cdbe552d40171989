import { afterEach, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import { difference, lookAt } from './looking';

afterEach(() => workspace.clear());
const plain = { look: 'colour', stops: 0, backing: 'black', gamma: 1, marks: false } as const;
const pixels = pictureOf(
  5,
  1,
  (i) =>
    [
      [0, 0, 0, 0],
      [0.5, 0.5, 0.5, 1],
      [4, 0, 0, 1],
      [-0.1, 0, 0, 1],
      [Number.NaN, 0, 0, 1],
    ][i >> 2][i & 3],
);
const kept = { ...pixels, data: pixels.data.slice() };
const fresh = () => pictureOf(5, 1, (i) => kept.data[i]);

test('a backing shows where the picture does not cover, and nowhere else', () => {
  const at = (backing: 'black' | 'grey' | 'white') =>
    Array.from(lookAt(workspace, fresh(), { ...plain, backing })).slice(0, 8);
  expect(at('black')).toEqual([0, 0, 0, 255, 188, 188, 188, 255]);
  expect(at('white')).toEqual([255, 255, 255, 255, 188, 188, 188, 255]);
  // 0.18 is code 118 of IEC 61966-2-1.
  expect(at('grey').slice(0, 3)).toEqual([118, 118, 118]);
});

test('gamma bends the middle and leaves the ends', () => {
  const [black, , , , middle] = lookAt(workspace, fresh(), { ...plain, gamma: 2 });
  expect(black).toBe(0);
  expect(middle).toBe(Math.round(255 * Math.sqrt(188 / 255)));
});

test('marks tell what is past white, below 0, and not finite', () => {
  const shown = lookAt(workspace, fresh(), { ...plain, marks: true });
  const colour = (i: number) => Array.from(shown.subarray(i * 4, i * 4 + 3));
  expect(colour(1)).toEqual([188, 188, 188]);
  expect(colour(2)).toEqual([242, 180, 95]);
  expect(colour(3)).toEqual([111, 157, 255]);
  expect(colour(4)).toEqual([255, 0, 255]);
  // Two stops down nothing is past white.
  const dark = lookAt(workspace, fresh(), { ...plain, stops: -2, marks: true });
  expect(Array.from(dark.subarray(8, 11))).toEqual([255, 0, 0]);
});

test('the difference is that of the numbers, times its gain', () => {
  const [a, b] = [pictureOf(1, 1, (i) => [1, 2, 3, 1][i]), pictureOf(1, 1, (i) => [1, 1.5, 3.25, 0][i])];
  expect(Array.from(difference(workspace, a, b, 4).data)).toEqual([0, 2, 1, 1]);
});
