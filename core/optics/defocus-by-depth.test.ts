import { afterEach, describe, expect, test } from 'vitest';
import { type Plane, planesOutOfFocus, slopeOutOfFocus } from '../../tests/plain/defocus';
import { pictureOf, workspace } from '../../tests/runtime';
import type { Picture } from '../picture/picture';
import { defocusedByDepth } from './defocus-by-depth';

afterEach(() => workspace.clear());

const [width, height] = [120, 48];
const disc = { blades: 0, rotate: 0, curvature: 0, rim: 0 };

/** A depth that gives a signed radius: focused on 10, radius 20 · (1 − 10/d). */
const lens = { focus: 10, scale: 20, most: 24 };
const depthFor = (radius: number) => 10 / (1 - radius / 20);
const fieldOf = (of: (x: number, y: number) => number): Picture =>
  pictureOf(width, height, (i) => ((i & 3) === 3 ? 1 : of((i >> 2) % width, Math.floor((i >> 2) / width))));

const at = (p: Picture, x: number, y: number) => p.data[(y * width + x) * 4];

function seenOf(planes: readonly Plane[]) {
  const nearest = (x: number, y: number) => planes.findLast((p) => p.is(x, y))!;
  const picture = fieldOf((x, y) => nearest(x, y).light(x, y));
  const depth = fieldOf((x, y) => depthFor(nearest(x, y).radius));
  return defocusedByDepth(workspace, picture, depth, disc, lens);
}

/** Pixels from the nearest edge between planes, up to `most`. */
function fromEdge(index: (x: number, y: number) => number, x: number, y: number, most: number): number {
  let least = most;
  for (let j = -most; j <= most; j++)
    for (let i = -most; i <= most; i++) {
      const [u, v] = [Math.min(width - 1, Math.max(0, x + i)), Math.min(height - 1, Math.max(0, y + j))];
      if (index(u, v) !== index(x, y)) least = Math.min(least, Math.hypot(i, j));
    }
  return least;
}

/** The largest error in shares of the range of the true picture, further than a radius from edges of planes and within it. */
function errors(out: Picture, truth: Float64Array, planes: readonly Plane[]) {
  const index = (x: number, y: number) => planes.findLastIndex((p) => p.is(x, y));
  const most = Math.max(...planes.map((p) => Math.abs(p.radius)));
  const range = Math.max(...truth) - Math.min(...truth);
  let [away, beside] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const error = Math.abs(at(out, x, y) - truth[y * width + x]) / range;
      // At half of its size a part is softer by a pixel or so.
      if (fromEdge(index, x, y, Math.ceil(most) + 3) <= most + 2) beside = Math.max(beside, error);
      else away = Math.max(away, error);
    }
  return { away, beside };
}

const left = (x: number) => x < 60;
const everywhere = () => true;
const cases: [string, Plane[]][] = [
  [
    'the far out of focus behind what is sharp',
    [
      { radius: 7, light: () => 3, is: everywhere },
      { radius: 0, light: (x, y) => 1 + ((x + y) % 3), is: left },
    ],
  ],
  [
    'a near thing over what is sharp',
    [
      { radius: 0, light: () => 1, is: everywhere },
      { radius: -8, light: () => 3, is: (x, y) => x > 40 && x < 70 && y > 12 && y < 36 },
    ],
  ],
  [
    'both out of focus, the near less',
    [
      { radius: 10, light: () => 2, is: everywhere },
      { radius: -4.2, light: () => 0.5, is: left },
    ],
  ],
  [
    'three planes',
    [
      { radius: 9, light: () => 4, is: everywhere },
      { radius: 0, light: () => 1, is: (x) => x > 20 && x < 80 },
      { radius: -6, light: () => 2, is: (x, y) => (x - 50) ** 2 + (y - 24) ** 2 < 100 },
    ],
  ],
];

describe('against discs integrated by brute force in float64', () => {
  test.each(cases)('%s', (_, planes) => {
    const found = errors(seenOf(planes), planesOutOfFocus(width, height, planes), planes);
    expect(found.away).toBeLessThan(0.01);
    expect(found.beside).toBeLessThan(0.03);
  });

  test.each([
    [7, 3, 0.03],
    [7, 6, 0.03],
    [7, 9, 0.03],
    // Worked on at half of its size: less wide by what its edge is softer, and brighter.
    [12, 8, 0.12],
  ])(
    'lamps of a pixel, out of focus by %d, %d from a sharp near edge and far from it',
    (radius, away, most) => {
      const lamp = (x: number, y: number) => (y === 24 && (x === 60 + away || x === 95) ? 2000 : 2);
      const planes: Plane[] = [
        { radius, light: lamp, is: everywhere },
        { radius: 0, light: () => 1, is: left },
      ];
      const out = seenOf(planes);
      // The plane behind goes on with what surrounds the lamps, where the near hides it.
      const truth = planesOutOfFocus(width, height, planes);
      const total = (of: (i: number) => number, from: number, to: number) => {
        let all = 0;
        for (let y = 0; y < height; y++) for (let x = from; x < to; x++) all += of(y * width + x);
        return all;
      };
      for (const [from, to] of [
        [0, 60],
        [60, 82],
        [82, width],
      ]) {
        const [ours, theirs] = [total((i) => out.data[i * 4], from, to), total((i) => truth[i], from, to)];
        expect(Math.abs(ours / theirs - 1)).toBeLessThan(0.03);
      }
      // A lamp's own edge is another where it is cut by pixels: places are compared as means of five by five.
      const level = 2000 / (Math.PI * radius * radius);
      const mean = (of: (i: number) => number, x: number, y: number) => {
        let all = 0;
        for (let j = -2; j <= 2; j++) for (let i = -2; i <= 2; i++) all += of((y + j) * width + x + i);
        return all / 25;
      };
      let worst = 0;
      for (let y = 8; y < 40; y++)
        for (let x = 63; x < 110; x++) {
          const off = mean((i) => out.data[i * 4], x, y) - mean((i) => truth[i], x, y);
          worst = Math.max(worst, Math.abs(off) / level);
        }
      expect(worst).toBeLessThan(most);
    },
  );

  test.each([2.4, 7, 17])(
    'a picture with holes is its light and its alpha, each as an opaque one, radius %d',
    (radius) => {
      const planes: Plane[] = [
        { radius, light: (x, y) => 2 + Math.sin(x / 3 + y), is: everywhere },
        { radius: -radius / 2, light: (x) => 1 + (x % 5), is: left },
      ];
      const nearest = (x: number, y: number) => planes.findLast((p) => p.is(x, y))!;
      // Holes as light, so that one blurred as alpha can be compared with them.
      const alpha = (x: number, y: number) => 0.25 + 0.5 * (((x >> 3) + (y >> 3)) % 2);
      const depth = fieldOf((x, y) => depthFor(nearest(x, y).radius));
      const place = (i: number) => [(i >> 2) % width, Math.floor((i >> 2) / width)] as const;
      const withHoles = pictureOf(width, height, (i) =>
        (i & 3) === 3 ? alpha(...place(i)) : nearest(...place(i)).light(...place(i)) * alpha(...place(i)),
      );
      const opaque = pictureOf(width, height, (i) => {
        if ((i & 3) === 3) return 1;
        return (i & 3) === 0
          ? nearest(...place(i)).light(...place(i)) * alpha(...place(i))
          : alpha(...place(i));
      });
      const [ours, theirs] = [withHoles, opaque].map((p) =>
        defocusedByDepth(workspace, p, depth, disc, lens),
      );
      let [light, share] = [0, 0];
      // Hidden places are filled by brightness, which differs: away from the edge both are the same.
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          if (Math.abs(x - 60) < 2.7 * radius + 4) continue;
          const i = (y * width + x) * 4;
          light = Math.max(light, Math.abs(ours.data[i] - theirs.data[i]));
          share = Math.max(share, Math.abs(ours.data[i + 3] - theirs.data[i + 1]));
        }
      expect(light).toBeLessThan(1e-4);
      expect(share).toBeLessThan(1e-4);
    },
  );

  test('a slope from far before the focus to far behind it', () => {
    const radiusAt = (x: number) => (x - 60) / 8;
    const light = (x: number, y: number) => 2 + Math.sin(x / 9) + Math.cos(y / 7);
    const out = defocusedByDepth(
      workspace,
      fieldOf(light),
      fieldOf((x) => depthFor(radiusAt(x))),
      disc,
      lens,
    );
    const truth = slopeOutOfFocus(width, height, light, radiusAt);
    let worst = 0;
    // Away from the borders, beyond which the picture goes on otherwise.
    for (let y = 12; y < height - 12; y++)
      for (let x = 20; x < width - 20; x++)
        worst = Math.max(worst, Math.abs(at(out, x, y) - truth[y * width + x]) / 4);
    expect(worst).toBeLessThan(0.01);
  });
});
