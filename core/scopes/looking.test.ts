import { afterEach, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import { packCube } from '../formats/cube';
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

test('a tone curve brings what is above white into the range of the screen, at the exposure; channels are shown as they are', () => {
  const p = pictureOf(2, 1, (i) => ((i & 3) === 3 ? 1 : i < 4 ? 4 : 0.18));
  const base = { stops: 0, gamma: 1, marks: false, backing: 'black' } as const;
  const at = (o: object) => Array.from(lookAt(workspace, p, { ...base, look: 'colour', ...o }));
  const plain = at({});
  expect(plain[0]).toBe(255);
  const toned = at({ screen: { by: 'reinhard' } });
  expect(toned[0]).toBeLessThan(250);
  // Reinhard of 0.18: 0.18 · (1 + 0.18/11.52²)/1.18 = 0.1528, code 108.
  expect(Math.abs(toned[4] - 108)).toBeLessThanOrEqual(1);
  expect(at({ screen: { by: 'reinhard' }, stops: 1 })[4]).toBeGreaterThan(toned[4]);
  expect(at({ look: 'red', screen: { by: 'reinhard' } })[0]).toBe(255);
  expect(at({ screen: { by: 'table', table: 'none' } })).toEqual(plain);
  const values = Float32Array.from([1, 1, 1, 0, 0, 0]);
  const negative = packCube({ title: '', dimensions: 1, size: 2, low: [0, 0, 0], high: [1, 1, 1], values });
  expect(at({ screen: { by: 'table', table: negative } })[0]).toBe(0);
});
