import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { pictureOf, workspace } from '../../tests/runtime';
import type { Picture } from '../picture/picture';
import { gatherLight, streaks } from './lines';

afterEach(() => workspace.clear());

const point = (width: number, height: number, x: number, y: number, light = 1) =>
  pictureOf(width, height, (i) => {
    const p = i >> 2;
    return (i & 3) < 3 && p % width === x && Math.floor(p / width) === y ? light : 0;
  });
const at = (p: Picture, x: number, y: number, c = 1) => p.data[(y * p.width + x) * 4 + c];
const sum = (p: Picture, c = 1) => p.data.reduce((s, v, i) => s + ((i & 3) === c ? v : 0), 0);
/** A smooth light and a small bright one. */
const lit = (width: number, height: number) =>
  pictureOf(width, height, (i) => {
    if ((i & 3) === 3) return 0;
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
    return Math.exp(-((x - 40) ** 2 + (y - 30) ** 2) / 60) + (Math.hypot(x - 60, y - 22) < 2.5 ? 3 : 0);
  });

/** The same mean by many samples in double precision, weights of the blended whole powers. */
function bruteForce(
  p: Picture,
  [cx, cy]: [number, number],
  length: number,
  falloff: number,
  x: number,
  y: number,
) {
  const n = 1024;
  const low = Math.floor(falloff);
  const weight = (t: number) =>
    (1 - (falloff - low)) * (low + 1) * (1 - t) ** low + (falloff - low) * (low + 2) * (1 - t) ** (low + 1);
  let [total, norm] = [0, 0];
  for (let k = 0; k < n; k++) {
    const t = (k + 0.5) / n;
    const [sx, sy] = [x + (cx - x) * length * t, y + (cy - y) * length * t];
    const [ix, iy] = [Math.floor(sx), Math.floor(sy)];
    const [fx, fy] = [sx - ix, sy - iy];
    const value = (u: number, v: number) =>
      u < 0 || v < 0 || u >= p.width || v >= p.height ? 0 : p.data[(v * p.width + u) * 4];
    const s =
      (1 - fx) * (1 - fy) * value(ix, iy) +
      fx * (1 - fy) * value(ix + 1, iy) +
      (1 - fx) * fy * value(ix, iy + 1) +
      fx * fy * value(ix + 1, iy + 1);
    total += weight(t) * s;
    norm += weight(t);
  }
  return total / norm;
}

describe('light gathered towards a centre', () => {
  const p = () => lit(120, 80);
  test.each([
    { centre: [50, 35] as [number, number], length: 1, falloff: 1 },
    { centre: [50.4, 34.7] as [number, number], length: 0.7, falloff: 0 },
    { centre: [-70, 20] as [number, number], length: 0.9, falloff: 2 },
    { centre: [60, 260] as [number, number], length: 0.6, falloff: 0.5 },
    { centre: [400, -90] as [number, number], length: 0.8, falloff: 1.5 },
  ])('is the sum of 1024 samples in float64: centre $centre, length $length, falloff $falloff', (o) => {
    const picture = p();
    const got = gatherLight(workspace, picture, o);
    const range = 4;
    let [square, worst, count] = [0, 0, 0];
    for (let y = 0; y < 80; y++) {
      for (let x = 0; x < 120; x++) {
        // Within a pixel of the centre there is no way to speak of.
        if (Math.hypot(x - o.centre[0], y - o.centre[1]) < 2) continue;
        const away = at(got, x, y, 0) - bruteForce(picture, o.centre, o.length, o.falloff, x, y);
        square += away * away;
        worst = Math.max(worst, Math.abs(away));
        count++;
      }
    }
    expect(Math.sqrt(square / count) / range).toBeLessThan(0.006);
    expect(worst / range).toBeLessThan(0.05);
  });

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
    for (const way of [
      { centre: [20, 30] as const, length: 0.9 },
      { angle: 0, length: 60 },
    ]) {
      const got = gatherLight(workspace, source, { ...way, falloff: 1, blocked: true });
      const open = gatherLight(workspace, source, { ...way, falloff: 1 });
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

  test('an even light far from the borders stays as it is', () => {
    const even = pictureOf(90, 60, (i) => ((i & 3) === 3 ? 0 : 2));
    const got = gatherLight(workspace, even, { centre: [44, 30], length: 0.8, falloff: 1.3 });
    for (let x = 5; x < 85; x += 7) if (x !== 44) expect(at(got, x, 31)).toBeCloseTo(2, 1);
  });
});

describe('light drawn out along an angle', () => {
  const none = { length: [0, 0, 0] as const, gain: 0 };
  test('keeps its light; 95 % of it within its length; nothing against it', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 360, noNaN: true }), (angle) => {
        const forth = { length: [60, 60, 60] as const, gain: 1 };
        const out = streaks(workspace, point(301, 301, 150, 150, 10), [{ angle, forth, back: none }]);
        expect(Math.abs(sum(out) - 10)).toBeLessThan(0.15);
        let within = 0;
        let against = 0;
        const [ux, uy] = [Math.cos((angle * Math.PI) / 180), -Math.sin((angle * Math.PI) / 180)];
        for (let i = 0; i < 301 * 301; i++) {
          const along = ((i % 301) - 150) * ux + (Math.floor(i / 301) - 150) * uy;
          if (along < -1.5) against += out.data[i * 4];
          else if (along <= 60) within += out.data[i * 4];
        }
        expect(against).toBeLessThan(1e-5);
        expect(within / sum(out, 0)).toBeGreaterThan(0.93);
        expect(within / sum(out, 0)).toBeLessThan(0.97);
        workspace.clear();
      }),
      { numRuns: 40 },
    );
  });
  test('each colour has its own length', () => {
    const forth = { length: [120, 60, 20] as const, gain: 1 };
    const out = streaks(workspace, point(201, 9, 20, 4, 10), [{ angle: 0, forth, back: none }]);
    expect(at(out, 120, 4, 0)).toBeGreaterThan(at(out, 120, 4, 1));
    expect(at(out, 120, 4, 1)).toBeGreaterThan(at(out, 120, 4, 2));
  });
});
