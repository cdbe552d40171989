import fc from 'fast-check';
import clipping, { type Polygon } from 'polygon-clipping';
import { afterEach, describe, expect, test } from 'vitest';
import { workspace } from '../../tests/runtime';
import { edgesOf, ellipse, type PathPoint, rectangle } from '../math/path';
import { cover, type Outline } from './cover';

afterEach(() => workspace.clear());

const added = (points: PathPoint[], feather = 0): Outline => ({
  edges: edgesOf(points, 1, feather),
  operation: 'add',
  opacity: 1,
});
const areaOf = (ring: [number, number][]) => {
  let sum = 0;
  ring.forEach(([x, y], i) => {
    const [u, v] = ring[(i + 1) % ring.length];
    sum += x * v - u * y;
  });
  return Math.abs(sum / 2);
};
/** Area of a star-shaped polygon within one pixel, by clipping (the library polygon-clipping). */
function within(polygon: Polygon, x: number, y: number): number | undefined {
  const pixel: Polygon = [
    [
      [x, y],
      [x + 1, y],
      [x + 1, y + 1],
      [x, y + 1],
      [x, y],
    ],
  ];
  try {
    return clipping
      .intersection(polygon, pixel)
      .flat()
      .reduce((sum, ring) => sum + areaOf(ring), 0);
  } catch {
    return undefined;
  }
}

describe('coverage of outlines', () => {
  test('of polygons is the area by clipping, pixel for pixel, also past the borders', () => {
    const polygons = fc.record({
      cx: fc.double({ min: -3, max: 16, noNaN: true }),
      cy: fc.double({ min: -3, max: 12, noNaN: true }),
      radii: fc.array(fc.double({ min: 0.3, max: 14, noNaN: true }), { minLength: 3, maxLength: 9 }),
    });
    fc.assert(
      fc.property(polygons, ({ cx, cy, radii }) => {
        const points = radii.map((r, i) => {
          const turn = (i / radii.length) * 2 * Math.PI;
          return { x: cx + r * Math.cos(turn), y: cy + r * Math.sin(turn) };
        });
        const out = cover(workspace, 13, 9, [added(points)]);
        const ring = [...points, points[0]].map((p): [number, number] => [p.x, p.y]);
        for (let y = 0; y < 9; y++) {
          for (let x = 0; x < 13; x++) {
            const area = within([ring], x, y);
            // The library gives up on corners that nearly touch a pixel's side.
            if (area !== undefined) expect(Math.abs(out.data[y * 13 + x] - area)).toBeLessThan(2e-5);
          }
        }
      }),
      { numRuns: 150 },
    );
  });

  test('of an ellipse sums to π a b within 0.06 %, at any draft scale', () => {
    for (const scale of [1, 0.5, 0.25]) {
      const edges = edgesOf(ellipse(61.3, 47.1, 41.7, 22.9), scale);
      const out = cover(workspace, 128 * scale, 96 * scale, [{ edges, operation: 'add', opacity: 1 }]);
      const sum = out.data.reduce((a, b) => a + b, 0) / (scale * scale);
      expect(Math.abs(sum / (Math.PI * 41.7 * 22.9) - 1)).toBeLessThan(6e-4);
    }
  });

  test('adds, takes away and keeps, each by its opacity', () => {
    const left = added(rectangle(0, 0, 6, 8));
    const middle = { ...added(rectangle(4, 0, 8, 8)), opacity: 0.5 };
    const row = (outlines: Outline[]) => [...cover(workspace, 10, 8, outlines).data.subarray(0, 10)];
    expect(row([left])).toEqual([1, 1, 1, 1, 1, 1, 0, 0, 0, 0]);
    expect(row([left, middle])).toEqual([1, 1, 1, 1, 1, 1, 0.5, 0.5, 0, 0]);
    expect(row([left, { ...middle, operation: 'subtract' }])).toEqual([1, 1, 1, 1, 0.5, 0.5, 0, 0, 0, 0]);
    expect(row([left, { ...middle, operation: 'intersect' }])).toEqual([
      0.5, 0.5, 0.5, 0.5, 1, 1, 0, 0, 0, 0,
    ]);
    expect(row([{ ...middle, operation: 'subtract', opacity: 1 }])).toEqual([1, 1, 1, 1, 0, 0, 0, 0, 1, 1]);
    expect(row([])).toEqual(new Array(10).fill(0));
  });

  test('a soft edge is half at the edge, rises evenly, and ends at its softness', () => {
    const out = cover(workspace, 40, 40, [added(rectangle(20, -40, 80, 80), 8)]);
    const row = [...out.data.subarray(20 * 40, 21 * 40)];
    expect(row[11]).toBe(0);
    expect(row[28]).toBe(1);
    expect(row[19] + row[20]).toBeCloseTo(1, 6);
    for (let x = 1; x < 40; x++) expect(row[x]).toBeGreaterThanOrEqual(row[x - 1]);
    // Smoothstep of the distance: at half the softness 0.5 + 0.5·(1.5·0.5 − 0.5·0.125).
    expect((row[23] + row[24]) / 2).toBeCloseTo(0.84375, 2);
  });

  test('points may have softness of their own', () => {
    const points = rectangle(10, 10, 50, 50).map((p, i) => ({ ...p, feather: i < 2 ? 6 : 0 }));
    const out = cover(workspace, 60, 60, [added(points)]);
    expect(out.data[7 * 60 + 30]).toBeGreaterThan(0);
    expect(out.data[53 * 60 + 30]).toBe(0);
    expect(out.data[48 * 60 + 30]).toBe(1);
  });

  test('a path that crosses itself is covered where it winds', () => {
    const bow = [
      { x: 1, y: 1 },
      { x: 9, y: 9 },
      { x: 9, y: 1 },
      { x: 1, y: 9 },
    ];
    const out = cover(workspace, 10, 10, [added(bow)]);
    expect(out.data[5 * 10 + 2]).toBe(1);
    expect(out.data[5 * 10 + 7]).toBe(1);
    expect(out.data[2 * 10 + 5]).toBe(0);
  });
});
