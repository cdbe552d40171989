import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { gathered } from '../../tests/plain/gather';
import { at, point, sum } from '../../tests/point';
import { noise, pictureOf, workspace } from '../../tests/runtime';
import type { Picture } from '../picture/picture';
import { falloffPieces, gatherLight } from './gather';

afterEach(() => workspace.clear());

type Centre = [number, number];
const [width, height] = [120, 80];
/** Red, green and blue by the place; no alpha. */
const lit = (light: (x: number, y: number) => number) =>
  pictureOf(width, height, (i) =>
    (i & 3) === 3 ? 0 : light((i >> 2) % width, Math.floor((i >> 2) / width)),
  );
const gaussian = (cx: number, cy: number, sigma: number) => (x: number, y: number) =>
  Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * sigma * sigma));

/** Root mean square and largest difference to the sum in double precision, of its range, at every third pixel of every fourth row. */
function difference(picture: Picture, o: { centre: Centre; length: number; falloff: number }) {
  const got = gatherLight(workspace, picture, o);
  const pairs: [number, number][] = [];
  for (let y = 0; y < height; y += 4)
    for (let x = (y / 4) % 3; x < width; x += 3) {
      const ray: Centre = [(o.centre[0] - x) * o.length, (o.centre[1] - y) * o.length];
      pairs.push([at(got, x, y, 0), gathered(picture, x, y, ray, o.falloff)]);
    }
  const range = got.data.reduce((a, b) => Math.max(a, b)) - Math.min(...pairs.map(([, want]) => want));
  const squares = pairs.reduce((s, [g, w]) => s + (g - w) ** 2, 0) / pairs.length;
  return {
    rms: Math.sqrt(squares) / range,
    worst: Math.max(...pairs.map(([g, w]) => Math.abs(g - w))) / range,
  };
}

const centres: Centre[] = [
  [60, 40],
  [60.37, 39.61],
  [0, 0],
  [119, 33.5],
  [-70, 20],
  [60, 2600],
];

/** The float64 sum of 4096 samples is `tests/plain/gather.ts`, after Mitchell, GPU Gems 3, ch. 13. */
describe('light gathered towards a centre is the sum of 4096 samples in float64', () => {
  const settings = centres.flatMap((centre, i) =>
    [
      [1, 1],
      [0.3, 2],
      [0.08, 1.4],
      [0.7, 0.5],
    ].flatMap(([length, falloff], k) => ((i + k) % 2 === 0 ? [{ centre, length, falloff }] : [])),
  );
  test.each(settings)('smooth lights: centre $centre, length $length, falloff $falloff', (o) => {
    for (const light of [gaussian(75, 30, 1), gaussian(40.3, 50.7, 3)]) {
      const { rms, worst } = difference(lit(light), o);
      expect(rms).toBeLessThan(0.003);
      expect(worst).toBeLessThan(0.04);
      workspace.clear();
    }
  });

  test.each(settings)('single pixels: centre $centre, length $length, falloff $falloff', (o) => {
    const { rms } = difference(
      lit((x, y) => (x === 72 && y === 26 ? 1 : 0)),
      o,
    );
    expect(rms).toBeLessThan(0.01);
  });

  test.each(settings)(
    'a lamp of 10000 beside the dark: centre $centre, length $length, falloff $falloff',
    (o) => {
      const { rms } = difference(
        lit((x, y) => (Math.hypot(x - 60, y - 40) < 9 ? 1e4 : 0.1)),
        o,
      );
      expect(rms).toBeLessThan(0.003);
    },
  );
});

describe('light of a far sun is the sum of 4096 samples in float64', () => {
  test.each([
    [0, 40, 1],
    [17, 30, 0.5],
    [90, 25.5, 2],
    [133.7, 60, 1.6],
    [225, 12, 0],
    [-60, 3.3, 1],
    [301, 90, 0.2],
  ])('angle %d, length %d, falloff %d', (angle, length, falloff) => {
    const turn = (angle / 180) * Math.PI;
    const ray: Centre = [-Math.cos(turn) * length, Math.sin(turn) * length];
    for (const [light, most] of [
      [gaussian(75, 30, 1), 0.003],
      [gaussian(40.3, 50.7, 3), 0.003],
      [(x: number, y: number) => (x === 60 && y === 40 ? 1 : 0), 0.01],
    ] as const) {
      const picture = lit(light);
      const got = gatherLight(workspace, picture, { angle, length, falloff });
      let [squares, count, range] = [0, 0, 0];
      for (let y = 0; y < height; y += 3)
        for (let x = y % 2; x < width; x += 2) {
          const want = gathered(picture, x, y, ray, falloff);
          squares += (at(got, x, y, 0) - want) ** 2;
          count++;
        }
      for (let i = 0; i < got.data.length; i += 4) range = Math.max(range, got.data[i]);
      expect(Math.sqrt(squares / count) / range).toBeLessThan(most);
      workspace.clear();
    }
    // Even light stays even where all of its way lies in the picture.
    const even = gatherLight(
      workspace,
      lit(() => 2.5),
      { angle, length, falloff },
    );
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [ex, ey] = [x + ray[0], y + ray[1]];
        if (ex < 0 || ey < 0 || ex > width - 1 || ey > height - 1) continue;
        if (Math.abs(at(even, x, y) / 2.5 - 1) > 1e-4) throw new Error(`${at(even, x, y)} at ${x}, ${y}`);
      }
  });
});

describe('even light stays even', () => {
  test('wherever all of its way lies in the picture, for every centre, length and falloff', () => {
    const even = lit(() => 2.5);
    fc.assert(
      fc.property(
        fc.double({ min: -40, max: width + 40, noNaN: true }),
        fc.double({ min: -40, max: height + 40, noNaN: true }),
        fc.boolean(),
        fc.double({ min: 1e-4, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (cx, cy, whole, length, falloff) => {
          const centre: Centre = whole ? [Math.round(cx), Math.round(cy)] : [cx, cy];
          const got = gatherLight(workspace, even, { centre, length, falloff });
          for (let y = 0; y < height; y++)
            for (let x = 0; x < width; x++) {
              const [ex, ey] = [x + (centre[0] - x) * length, y + (centre[1] - y) * length];
              if (ex < 0 || ey < 0 || ex > width - 1 || ey > height - 1) continue;
              if (Math.abs(at(got, x, y) / 2.5 - 1) > 1e-4)
                throw new Error(`${at(got, x, y)} for 2.5 at ${x}, ${y}, centre ${centre}`);
            }
          workspace.drop(got);
        },
      ),
      { numRuns: 200 },
    );
  });

  test('random light keeps its mean', () => {
    const random = noise(5, 1.5);
    const picture = pictureOf(width, height, (i) => ((i & 3) === 3 ? 0 : random(i)));
    const mean = sum(picture) / (width * height);
    for (const [length, falloff] of [
      [0.3, 2],
      [0.1, 2],
      [1, 1],
      [0.02, 0.3],
    ]) {
      const got = gatherLight(workspace, picture, { centre: [60, 40], length, falloff });
      // With length 1 all ways end in the same few pixels, which count the more for it.
      expect(sum(got) / (width * height) / mean).toBeCloseTo(1, length === 1 ? 0 : 1);
    }
  });
});

test('the centre itself is not dark, and a lamp around it keeps its light', () => {
  const lamp = lit((x, y) => (Math.hypot(x - 60, y - 40) < 12 ? 7 : 0));
  for (const centre of [
    [60, 40],
    [60.5, 40.5],
    [60.2, 39.9],
  ] as Centre[]) {
    const got = gatherLight(workspace, lamp, { centre, length: 1, falloff: 1 });
    for (let y = 33; y < 48; y++) for (let x = 53; x < 68; x++) expect(at(got, x, y)).toBeCloseTo(7, 3);
  }
});

test('there are no rings: behind the edge of a light its rays only become weaker', () => {
  const lamp = lit((x, y) => (Math.hypot(x - 40, y - 40) < 6 ? 5 : 0));
  for (const falloff of [0, 0.3, 0.5, 1, 1.5, 2])
    for (const length of [0.25, 0.6, 1]) {
      const got = gatherLight(workspace, lamp, { centre: [20, 40], length, falloff });
      for (let x = 48; x < width; x++) expect(at(got, x, 40)).toBeLessThanOrEqual(at(got, x - 1, 40) + 1e-6);
      workspace.drop(got);
    }
});

test('falloffs between whole ones: half a plane, whose light is known', () => {
  // Light on the near part of the way, up to the share s of it: ∫ of (f + 1)(1 − t)^f from 0 to s is 1 − (1 − s)^(f + 1).
  const plane = lit((x) => (x >= 60 ? 1 : 0));
  for (const falloff of [0.1, 0.5, 0.8, 1.3, 1.7]) {
    const got = gatherLight(workspace, plane, { centre: [0, 40], length: 1, falloff });
    for (let x = 70; x < width; x += 7)
      // The edge lies in the middle between two columns that are joined by a line.
      expect(at(got, x, 40)).toBeCloseTo(1 - (59.5 / x) ** (falloff + 1), 2);
  }
});

test('pieces of a falloff meet, have its whole, and come close to it', () => {
  for (const falloff of [0.25, 0.5, 0.9, 1.1, 1.6, 1.9]) {
    const [, count, ...more] = falloffPieces(falloff);
    const flat = more.slice(3 + 257 * 2);
    let c = [0, 0, 0];
    let whole = 0;
    for (let i = 0; i < count; i++) {
      const [begin, ...steps] = flat.slice(i * 4, i * 4 + 4);
      const value = (x: number) => c[0] + c[1] * x + c[2] * x * x;
      const before = value(begin);
      c = c.map((v, k) => v + steps[k]);
      if (i > 0) expect(value(begin)).toBeCloseTo(before, 9);
      const end = i + 1 < count ? flat[(i + 1) * 4] : 1;
      for (let k = 0; k < 1000; k++) {
        const x = begin + ((k + 0.5) / 1000) * (end - begin);
        whole += (value(x) * (end - begin)) / 1000;
        if (x > 0.04) expect(Math.abs(value(x) - (falloff + 1) * x ** falloff)).toBeLessThan(0.03);
      }
    }
    expect(whole).toBeCloseTo(1, 5);
  }
});

describe('light that is gathered', () => {
  test('a point lights only the half-line away from the centre', () => {
    const got = gatherLight(workspace, point(81, 61, 50, 30, 100), {
      centre: [40, 30],
      length: 0.95,
      falloff: 1,
    });
    for (let x = 52; x < 81; x += 4) expect(at(got, x, 30)).toBeGreaterThan(0.1);
    for (let x = 0; x < 50; x++) expect(at(got, x, 30)).toBe(0);
    for (let x = 0; x < 81; x++) expect(at(got, x, 10)).toBe(0);
  });

  test('along a direction it goes that way alone, as far as it says', () => {
    const source = point(101, 61, 50, 30, 100);
    const east = gatherLight(workspace, source, { angle: 0, length: 30, falloff: 1 });
    expect(at(east, 49, 30)).toBe(0);
    expect(at(east, 60, 30)).toBeGreaterThan(at(east, 70, 30));
    expect(at(east, 82, 30)).toBeCloseTo(0, 5);
    expect(sum(east)).toBeCloseTo(100, 0);
    const north = gatherLight(workspace, source, { angle: 90, length: 20, falloff: 0 });
    expect(at(north, 50, 20)).toBeGreaterThan(1);
    expect(at(north, 50, 40)).toBe(0);
    const southwest = gatherLight(workspace, source, { angle: 225, length: 20, falloff: 0 });
    expect(at(southwest, 42, 38)).toBeGreaterThan(1);
    expect(at(southwest, 58, 22)).toBe(0);
  });

  test('behind what stands in the way is shadow, beside it none', () => {
    const source = pictureOf(101, 61, (i) => {
      const [x, y] = [(i >> 2) % 101, Math.floor((i >> 2) / 101)];
      if ((i & 3) === 3) return x === 60 && y >= 30 ? 1 : 0;
      return x === 40 && Math.abs(y - 30) < 20 ? 10 : 0;
    });
    for (const ray of [
      { centre: [20, 30] as const, length: 0.9 },
      { angle: 0, length: 60 },
    ]) {
      const got = gatherLight(workspace, source, { ...ray, falloff: 1, blocked: true });
      const open = gatherLight(workspace, source, { ...ray, falloff: 1 });
      expect(at(got, 80, 40)).toBe(0);
      expect(at(got, 80, 20)).toBeGreaterThan(0.02);
      // The blocker itself is lit, and what is before it.
      expect(at(got, 60, 35)).toBeGreaterThan(0.02);
      expect(at(got, 30, 30)).toBe(0);
      // As bright as without anything in the way, about.
      expect(at(got, 55, 22) / at(open, 55, 22)).toBeGreaterThan(0.4);
      expect(at(got, 55, 22) / at(open, 55, 22)).toBeLessThan(2.5);
    }
  });
});

describe('a way that leaves the frame', () => {
  // Even light, and the border half a pixel beyond the first and last pixels: what is gathered is the share of the way inside.
  test.each([
    [100, 21],
    [80, 21],
    [60, 13],
    [-75, 30],
    [-130, 9],
    [170, 21],
    [10, 40],
  ])('counts only as far as the frame goes: angle %d, length %d', (angle, length) => {
    const turn = (angle / 180) * Math.PI;
    const [dx, dy] = [-Math.cos(turn) * length, Math.sin(turn) * length];
    for (const falloff of [0, 1]) {
      const got = gatherLight(
        workspace,
        lit(() => 1),
        { angle, length, falloff },
      );
      const inside = (from: number, by: number, size: number) =>
        by < 0 ? (from + 0.5) / -by : by > 0 ? (size - 0.5 - from) / by : Number.POSITIVE_INFINITY;
      let worst = 0;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const [across, down] = [inside(x, dx, width), inside(y, dy, height)];
          const t = Math.min(1, across, down);
          // Where it leaves through a corner both borders share a cell: there it is off by half a pixel.
          if (t < 1 && Math.abs(across - down) * length < 1.5) continue;
          const want = 1 - (1 - t) ** (falloff + 1);
          worst = Math.max(worst, Math.abs(at(got, x, y, 0) - want) * length);
        }
      // In pixels of the way, whose weights begin with falloff + 1.
      expect(worst).toBeLessThan(0.15 * (falloff + 1));
      workspace.clear();
    }
  });
});
