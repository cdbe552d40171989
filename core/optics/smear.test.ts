import { afterEach, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import { smeared } from '../kernels/lens';

afterEach(() => workspace.clear());

const [width, height] = [160, 120];
const [cx, cy] = [79.5, 59.5];
const light = (x: number, y: number) => 1 + 0.5 * Math.sin(x / 4) + 0.5 * Math.cos(y / 5 + x / 11);

/** Where what is at a place after t of the frame's way was: the exact inverse of q + v(q) · t. */
type Field = {
  vector(x: number, y: number): [number, number];
  before(x: number, y: number, t: number): [number, number];
};
const shift: Field = { vector: () => [13, -6], before: (x, y, t) => [x - 13 * t, y + 6 * t] };
const zoom: Field = {
  vector: (x, y) => [(x - cx) * 0.24, (y - cy) * 0.24],
  before: (x, y, t) => [cx + (x - cx) / (1 + 0.24 * t), cy + (y - cy) / (1 + 0.24 * t)],
};
const turn: Field = {
  vector: (x, y) => [-(y - cy) * 0.3, (x - cx) * 0.3],
  before: (x, y, t) => {
    const [dx, dy, w] = [x - cx, y - cy, 0.3 * t];
    return [cx + (dx + w * dy) / (1 + w * w), cy + (dy - w * dx) / (1 + w * w)];
  },
};

test.each([
  ['a shift', shift],
  ['a zoom', zoom],
  ['a turn', turn],
])('%s by vectors is the mean over the shutter, integrated in float64', (_, { vector, before }) => {
  const pixel = (of: (x: number, y: number) => readonly number[]) =>
    pictureOf(width, height, (i) => of((i >> 2) % width, Math.floor((i >> 2) / width))[i & 3]);
  const picture = pixel((x, y) => [light(x, y), light(x, y), light(x, y), 1]);
  const vectors = pixel((x, y) => [...vector(x, y), 0, 1]);
  const [begin, end] = [-0.5, 0.5];
  const out = smeared(workspace, picture, { vectors, scale: [1, 1] }, [begin, end]);
  const moments = 96;
  let [worst, squares, count] = [0, 0, 0];
  for (let y = 24; y < height - 24; y++)
    for (let x = 24; x < width - 24; x++) {
      let mean = 0;
      for (let k = 0; k < moments; k++)
        mean += light(...before(x, y, begin + ((end - begin) * (k + 0.5)) / moments)) / moments;
      // Of a range of 2.
      const error = Math.abs(out.data[(y * width + x) * 4] - mean) / 2;
      worst = Math.max(worst, error);
      squares += error * error;
      count++;
    }
  expect(worst).toBeLessThan(0.03);
  expect(Math.sqrt(squares / count)).toBeLessThan(0.005);
});
