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

/** When the shutter opens and closes, in frames: about the frame, from it on, before it, short, and for a whole frame and a half. */
const openings = [
  [-0.5, 0.5],
  [0, 0.5],
  [-0.5, 0],
  [-0.25, 0.125],
  [-0.75, 0.75],
] as const;

test.each(
  Object.entries({ shift, zoom, turn }).flatMap(([name, field]) =>
    openings.map(([begin, end]) => [name, begin, end, field] as const),
  ),
)(
  'a %s by vectors is the mean over the shutter from %d to %d, integrated in float64',
  (_, begin, end, { vector, before }) => {
    const pixel = (of: (x: number, y: number) => readonly number[]) =>
      pictureOf(width, height, (i) => of((i >> 2) % width, Math.floor((i >> 2) / width))[i & 3]);
    const picture = pixel((x, y) => [light(x, y), light(x, y), light(x, y), 1]);
    const vectors = pixel((x, y) => [...vector(x, y), 0, 1]);
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
  },
);

type Thing = { x: number; y: number; radius: number; vector: [number, number]; light: number };

test('two things whose ways cross each cover what is behind them for their share of the time', () => {
  const things: Thing[] = [
    { x: 66, y: 60, radius: 9, vector: [16, 0], light: 2 },
    { x: 86, y: 52, radius: 9, vector: [0, 16], light: 1.5 },
  ];
  const parts = 4;
  const coverage = (thing: Thing, x: number, y: number, t: number) => {
    let inside = 0;
    for (let j = 0; j < parts; j++)
      for (let i = 0; i < parts; i++) {
        const dx = x + (i + 0.5) / parts - 0.5 - thing.x - thing.vector[0] * t;
        const dy = y + (j + 0.5) / parts - 0.5 - thing.y - thing.vector[1] * t;
        if (dx * dx + dy * dy < thing.radius ** 2) inside++;
      }
    return inside / parts ** 2;
  };
  const background = (x: number, y: number) => 0.5 + 0.2 * Math.sin(x / 9) + 0.1 * Math.cos(y / 7);
  const lightAt = (x: number, y: number, t: number) =>
    things.reduce(
      (behind, thing) => {
        const share = coverage(thing, x, y, t);
        return behind * (1 - share) + thing.light * share;
      },
      background(x, y),
    );
  const vectorAt = (x: number, y: number) =>
    things.findLast((thing) => coverage(thing, x, y, 0) >= 0.5)?.vector ?? [0, 0];
  const pixel = (of: (x: number, y: number) => readonly number[]) =>
    pictureOf(width, height, (i) => of((i >> 2) % width, Math.floor((i >> 2) / width))[i & 3]);
  const picture = pixel((x, y) => [lightAt(x, y, 0), 0, 0, 1]);
  const vectors = pixel((x, y) => [...vectorAt(x, y), 0, 1]);
  const out = smeared(workspace, picture, { vectors, scale: [1, 1] }, [-0.5, 0.5]);
  const moments = 64;
  let [squares, ours, theirs] = [0, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let mean = 0;
      for (let k = 0; k < moments; k++) mean += lightAt(x, y, (k + 0.5) / moments - 0.5) / moments;
      const found = out.data[(y * width + x) * 4];
      squares += ((found - mean) / 1.8) ** 2;
      ours += found;
      theirs += mean;
    }
  // Their cut edges belong to one or to the other as a whole: what is left is there.
  expect(Math.sqrt(squares / (width * height))).toBeLessThan(0.009);
  expect(Math.abs(ours / theirs - 1)).toBeLessThan(0.003);
});
