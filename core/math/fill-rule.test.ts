import fc from 'fast-check';
import clipping, { type Ring } from 'polygon-clipping';
import { afterEach, describe, expect, test } from 'vitest';
import { workspace } from '../../tests/runtime';
import { cover } from '../kernels/cover';
import { type FillRule, filledEdges, fillRules, isFilled, windingAt } from './fill-rule';
import { edgesOf, ellipse, rectangle } from './path';

afterEach(() => workspace.clear());

type Point = { x: number; y: number };
const areaOf = (edges: Float64Array) => {
  let sum = 0;
  for (let i = 0; i < edges.length; i += 6) sum += edges[i] * edges[i + 3] - edges[i + 2] * edges[i + 1];
  return Math.abs(sum / 2);
};
const covered = (points: Point[], fillRule: FillRule, size = 24) =>
  cover(workspace, size, size, [{ edges: edgesOf(points), operation: 'add', opacity: 1, fillRule }]).data;
const total = (data: Float32Array) => data.reduce((a, b) => a + b, 0);

/** A regular star of n points that joins every second corner: it winds twice around its middle. */
const star = (n: number, r: number, c: number): Point[] =>
  Array.from({ length: n }, (_, i) => {
    const turn = ((2 * i) / n - 0.25) * 2 * Math.PI;
    return { x: c + r * Math.cos(turn), y: c + r * Math.sin(turn) };
  });
const degrees = Math.PI / 180;

describe('what an outline fills that crosses itself (W3C SVG 1.1, 11.3, fill-rule)', () => {
  test('a pentagram: with its pentagon by nonzero, without by evenodd', () => {
    // Of the circumscribed radius r: the pentagon within has r·cos 72°/cos 36°; the star is ten triangles.
    const r = 10.3;
    const inner = (r * Math.cos(72 * degrees)) / Math.cos(36 * degrees);
    const whole = 5 * r * inner * Math.sin(36 * degrees);
    const pentagon = 2.5 * inner * inner * Math.sin(72 * degrees);
    const points = star(5, r, 12);
    expect(areaOf(filledEdges(edgesOf(points), 'nonzero'))).toBeCloseTo(whole, 9);
    expect(total(covered(points, 'nonzero'))).toBeCloseTo(whole, 3);
    expect(total(covered(points, 'evenodd'))).toBeCloseTo(whole - pentagon, 3);
    expect(covered(points, 'nonzero')[12 * 24 + 12]).toBeCloseTo(1, 6);
    expect(covered(points, 'evenodd')[12 * 24 + 12]).toBeCloseTo(0, 6);
  });

  test('an outline that does not meet itself comes back as it is', () => {
    const edges = edgesOf(ellipse(40, 30, 20, 12));
    for (const rule of fillRules) expect(filledEdges(edges, rule)).toBe(edges);
  });

  test('a path that is run through twice, back on itself, or touches itself at a corner', () => {
    const square = rectangle(3, 3, 11, 9);
    expect(total(covered([...square, ...square], 'nonzero'))).toBeCloseTo(48, 4);
    expect(total(covered([...square, ...square], 'evenodd'))).toBeCloseTo(0, 4);
    // A spike out and back has no area.
    const spiked = [...square.slice(0, 2), { x: 20, y: 3 }, ...square.slice(1)];
    for (const rule of fillRules) expect(total(covered(spiked, rule))).toBeCloseTo(48, 4);
    // Two triangles that meet in one corner wind opposite ways; the pixel there has a part of both.
    const bow = [
      { x: 2, y: 2 },
      { x: 7.5, y: 7.5 },
      { x: 13, y: 2 },
      { x: 13, y: 13 },
      { x: 7.5, y: 7.5 },
      { x: 2, y: 13 },
    ];
    const area = 2 * (11 * 5.5) * 0.5;
    for (const rule of fillRules) expect(total(covered(bow, rule))).toBeCloseTo(area, 4);
    expect(covered(bow, 'nonzero')[7 * 24 + 7]).toBeCloseTo(0.5, 5);
  });

  test('edges that are as good as level are numbers', () => {
    const points = [
      { x: 0, y: 0 },
      { x: 4, y: 5e-324 },
      { x: 4, y: 4 },
      { x: -8e-16, y: 4 },
    ];
    for (const rule of fillRules) expect(total(covered(points, rule))).toBeCloseTo(16, 5);
  });

  test('any polygon: each pixel has the area that clipping gives, by both rules (the library polygon-clipping)', () => {
    const polygons = fc.array(
      fc.record({
        x: fc.double({ min: -2, max: 14, noNaN: true }),
        y: fc.double({ min: -2, max: 14, noNaN: true }),
      }),
      { minLength: 4, maxLength: 9 },
    );
    let compared = 0;
    fc.assert(
      fc.property(polygons, (points) => {
        const edges = edgesOf(points);
        for (const rule of fillRules) {
          const out = covered(points, rule, 12);
          for (let y = 0; y < 12; y++)
            for (let x = 0; x < 12; x++) {
              // Samples of the definition: how often the outline winds around a point.
              let inside = 0;
              for (let k = 0; k < 64; k++)
                if (isFilled(windingAt(edges, x + ((k & 7) + 0.4871) / 8, y + ((k >> 3) + 0.5133) / 8), rule))
                  inside++;
              expect(Math.abs(out[y * 12 + x] - inside / 64)).toBeLessThan(0.16);
            }
        }
        // The library fills by evenodd: xor of the ring with nothing.
        const ring = [...points, points[0]].map((p): [number, number] => [p.x, p.y]) as Ring;
        const square: Ring = [
          [0, 0],
          [12, 0],
          [12, 12],
          [0, 12],
          [0, 0],
        ];
        let want: number;
        try {
          want = clipping
            .intersection([ring], [square])
            .flatMap((polygon) => polygon.map((r, i) => (i === 0 ? 1 : -1) * ringArea(r)))
            .reduce((a, b) => a + b, 0);
        } catch {
          return;
        }
        compared++;
        expect(total(covered(points, 'evenodd', 12))).toBeCloseTo(want, 2);
      }),
      { numRuns: 120 },
    );
    expect(compared).toBeGreaterThan(80);
  });

  test('a soft edge runs along the boundary of what is filled, not along lines inside it', () => {
    const points = star(5, 40, 48);
    const at = (fillRule: FillRule) =>
      cover(workspace, 96, 96, [{ edges: edgesOf(points, 1, 4), operation: 'add', opacity: 1, fillRule }])
        .data;
    expect(at('nonzero')[48 * 96 + 48]).toBeCloseTo(1, 6);
    // Halfway along a side of the pentagon, which is inside by nonzero and a border by evenodd.
    const middle = Math.round(48 - (40 * Math.cos(72 * degrees)) / 1);
    expect(at('nonzero')[middle * 96 + 48]).toBeGreaterThan(0.99);
    expect(at('evenodd')[middle * 96 + 48]).toBeGreaterThan(0.2);
    expect(at('evenodd')[middle * 96 + 48]).toBeLessThan(0.8);
  });
});

const ringArea = (ring: Ring) => {
  let sum = 0;
  for (let i = 0; i + 1 < ring.length; i++) sum += ring[i][0] * ring[i + 1][1] - ring[i + 1][0] * ring[i][1];
  return Math.abs(sum / 2);
};
