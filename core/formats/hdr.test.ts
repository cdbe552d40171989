import { describe, expect, test } from 'vitest';
import { FileError } from './file-error';
import { readHdr } from './hdr';

const text = (s: string) => [...new TextEncoder().encode(s)];
const file = (size: string, pixels: number[], header = 'FORMAT=32-bit_rle_rgbe\n') =>
  Uint8Array.from([...text(`#?RADIANCE\n${header}\n${size}\n`), ...pixels]);
/** A pixel whose red tells which it is: mantissa n, exponent 136 gives n exactly. */
const pixel = (n: number) => [n, 0, 0, 136];
const six = [1, 2, 3, 4, 5, 6].flatMap(pixel);
const red = (bytes: Uint8Array) => {
  const { width, height, planes } = readHdr(bytes);
  return Array.from({ length: height }, (_, y) => Array.from(planes[0].subarray(y * width, (y + 1) * width)));
};

describe('all eight orientations come out upright (Radiance reference manual, picture file format)', () => {
  test.each([
    [
      '-Y 2 +X 3',
      [
        [1, 2, 3],
        [4, 5, 6],
      ],
    ],
    [
      '+Y 2 +X 3',
      [
        [4, 5, 6],
        [1, 2, 3],
      ],
    ],
    [
      '-Y 2 -X 3',
      [
        [3, 2, 1],
        [6, 5, 4],
      ],
    ],
    [
      '+Y 2 -X 3',
      [
        [6, 5, 4],
        [3, 2, 1],
      ],
    ],
    [
      '+X 2 -Y 3',
      [
        [1, 4],
        [2, 5],
        [3, 6],
      ],
    ],
    [
      '-X 2 -Y 3',
      [
        [4, 1],
        [5, 2],
        [6, 3],
      ],
    ],
    [
      '+X 2 +Y 3',
      [
        [3, 6],
        [2, 5],
        [1, 4],
      ],
    ],
    [
      '-X 2 +Y 3',
      [
        [6, 3],
        [5, 2],
        [4, 1],
      ],
    ],
  ])('%s', (size, rows) => {
    expect(red(file(size, six))).toEqual(rows);
  });
});

test('old runs repeat the pixel before, and go on in the next byte', () => {
  const run = (n: number) => [1, 1, 1, n];
  expect(red(file('-Y 1 +X 5', [...pixel(7), ...run(3), ...pixel(9)]))).toEqual([[7, 7, 7, 7, 9]]);
  const long = red(file('-Y 1 +X 300', [...pixel(7), ...run(42), ...run(1), ...pixel(9)]));
  expect(long[0].slice(0, 299).every((v) => v === 7)).toBe(true);
  expect(long[0][299]).toBe(9);
});

test('new runs go channel by channel', () => {
  const row = [2, 2, 0, 8, 128 + 8, 5, 128 + 8, 0, 8, 1, 2, 3, 4, 5, 6, 7, 8, 128 + 8, 136];
  const { planes } = readHdr(file('-Y 1 +X 8', row));
  expect(Array.from(planes[0])).toEqual(new Array(8).fill(5));
  expect(Array.from(planes[2])).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
});

test('exposures are taken back; an exponent of 0 is black', () => {
  const header = 'EXPOSURE=2\nEXPOSURE=2\nFORMAT=32-bit_rle_rgbe\n';
  const { planes } = readHdr(file('-Y 1 +X 2', [...pixel(8), 99, 99, 99, 0], header));
  expect(Array.from(planes[0])).toEqual([2, 0]);
});

test('a file cut short gives the rows that are there', () => {
  const { rows, planes } = readHdr(file('-Y 2 +X 3', six.slice(0, 18)));
  expect(rows).toBe(1);
  expect(Array.from(planes[0])).toEqual([1, 2, 3, 0, 0, 0]);
});

test.each([
  ['a size that is invalid', file('Y 2 X 3', six), /size is invalid/],
  ['a size past the limits', file('-Y 90000 +X 90000', six), /past the limit/],
  ['a size out of nowhere', file('-Y 9000 +X 9000', six), /ends before its pixels/],
  ['other pixels', file('-Y 2 +X 3', six, 'FORMAT=32-bit_rle_wxyz\n'), /not known/],
  ['a run that does not fit', file('-Y 1 +X 2', [...pixel(1), 1, 1, 1, 9]), /does not fit/],
])('%s is refused', (_, bytes, what) => {
  expect(() => readHdr(bytes)).toThrow(FileError);
  expect(() => readHdr(bytes)).toThrow(what);
});
