import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { workspace } from '../../tests/runtime';
import { shapeAddress, shapeOn } from '../finish/animated';
import { newFinish } from '../finish/edits';
import type { Finish, ShapesHead } from '../finish/finish';
import { changeEach, toggleKey } from '../finish/key-edits';
import { newShape, setPath, transformShape } from '../finish/shape-edits';
import { transformedPath, untransformed } from '../finish/shapes';
import { parseFinish } from '../finish/validation';
import { cover } from '../kernels/cover';
import { edgesOf, ellipse, type PathPoint, rectangle } from '../math/path';
import { isInside, nearestOn, pathOfLine, splitPath } from './edit-path';
import { fromPathData, fromSvg, toPathData, toSvg } from './svg';

const near = (a: readonly PathPoint[], b: readonly PathPoint[], by = 1e-6) => {
  expect(a.length).toBe(b.length);
  a.forEach((p, i) => {
    expect(Math.hypot(p.x - b[i].x, p.y - b[i].y)).toBeLessThan(by);
    for (const side of ['in', 'out'] as const) {
      const [u, v] = [p[side] ?? [0, 0], b[i][side] ?? [0, 0]];
      expect(Math.hypot(u[0] - v[0], u[1] - v[1])).toBeLessThan(by);
    }
  });
};
const areaOf = (points: readonly PathPoint[]) => {
  const e = edgesOf(points, 8);
  let sum = 0;
  for (let i = 0; i < e.length; i += 6) sum += e[i] * e[i + 3] - e[i + 2] * e[i + 1];
  return sum / 2 / 64;
};

describe('shapes over time', () => {
  const head = { type: 'shapes', shapes: [newShape('a', 'A', rectangle(0, 0, 10, 10))] } as ShapesHead;
  const doc = newFinish('f', 'F', head);
  const of = shapeAddress('main', 'a');
  const shapeOf = (d: Finish) => (d.strands[0].head as ShapesHead).shapes[0];
  const pathAt = (d: Finish, frame: number) => shapeOn(d, shapeOf(d), frame).path;
  const keyed = (to: readonly PathPoint[]) => {
    const first = toggleKey(doc, of, 'path', 1).apply(doc);
    const both = setPath(first, 'main', 'a', 5, to).apply(first);
    return parseFinish(
      JSON.parse(
        JSON.stringify(
          changeEach(both, [{ of, key: 'path', frame: 1 }], { interpolation: 'linear' }).apply(both),
        ),
      ),
    );
  };
  test('hold before the first key and after the last, and are interpolated between', () => {
    const moved = keyed(rectangle(8, 4, 18, 24));
    expect(pathAt(moved, -3)).toEqual(rectangle(0, 0, 10, 10));
    expect(pathAt(moved, 9)).toEqual(rectangle(8, 4, 18, 24));
    near(pathAt(moved, 3), rectangle(4, 2, 14, 17));
    // Eased it is as far halfway, and less far after a quarter.
    const eased = changeEach(moved, [{ of, key: 'path', frame: 1 }], { interpolation: 'ease' }).apply(moved);
    near(pathAt(eased, 3), rectangle(4, 2, 14, 17));
    expect(pathAt(eased, 2)[0].x).toBeLessThan(1.5);
  });
  test('hold where keys have other numbers of points', () => {
    expect(pathAt(keyed(ellipse(5, 5, 3, 3).slice(0, 3)), 4)).toEqual(rectangle(0, 0, 10, 10));
  });
  test('turn counter-clockwise as seen and scale about their middle, then move; the way back gives the path', () => {
    const moved = transformShape(doc, 'main', 'a', 1, { moveX: 100, rotate: 90, scale: 2 }).apply(doc);
    const shape = shapeOn(moved, shapeOf(moved), 1);
    const path = transformedPath(shape);
    // The upper right corner goes to the upper left, 10 pixels from the middle at (105, 5).
    expect(path[1].x).toBeCloseTo(95, 4);
    expect(path[1].y).toBeCloseTo(-5, 4);
    near(untransformed(shape, path), rectangle(0, 0, 10, 10), 1e-4);
  });
});

describe('paths by hand', () => {
  test('a point more leaves the form as it is', () => {
    const curve = ellipse(50, 40, 30, 20);
    fc.assert(
      fc.property(fc.nat(3), fc.double({ min: 0.05, max: 0.95, noNaN: true }), (index, t) => {
        const more = splitPath(curve, index, t);
        expect(more).toHaveLength(5);
        expect(Math.abs(areaOf(more) - areaOf(curve))).toBeLessThan(0.05);
      }),
    );
  });
  test('the nearest place on a path is found', () => {
    const on = nearestOn(rectangle(0, 0, 10, 10), 5, -2);
    expect(on.index).toBe(0);
    expect(on.t).toBeCloseTo(0.5, 1);
    expect(on.away).toBeCloseTo(2, 3);
    expect(isInside(ellipse(50, 40, 30, 20), 60, 40)).toBe(true);
    expect(isInside(ellipse(50, 40, 30, 20), 79, 55)).toBe(false);
  });
  test('a drawn line becomes few cubics close to it', () => {
    const line = Array.from({ length: 200 }, (_, i): [number, number] => {
      const turn = (i / 200) * 2 * Math.PI;
      return [100 + 60 * Math.cos(turn), 80 + 40 * Math.sin(turn)];
    });
    const path = pathOfLine(line, 1);
    expect(path.length).toBeLessThan(20);
    for (const [x, y] of line) expect(nearestOn(path, x, y).away).toBeLessThan(1.5);
    expect(Math.abs(Math.abs(areaOf(path)) / (Math.PI * 60 * 40) - 1)).toBeLessThan(0.02);
  });
});

describe('SVG', () => {
  const paths = fc.array(
    fc.record({
      x: fc.integer({ min: -500, max: 2000 }),
      y: fc.integer({ min: -500, max: 2000 }),
      in: fc.option(fc.tuple(fc.integer({ min: -99, max: 99 }), fc.integer({ min: -99, max: 99 })), {
        nil: undefined,
      }),
      out: fc.option(fc.tuple(fc.integer({ min: -99, max: 99 }), fc.integer({ min: -99, max: 99 })), {
        nil: undefined,
      }),
    }),
    { minLength: 3, maxLength: 12 },
  );
  test('what is written is read back as it was', () => {
    fc.assert(
      fc.property(paths, (points) => {
        // Two points at one place close a path early.
        fc.pre(points.every((p, i) => points.every((q, k) => i === k || p.x !== q.x || p.y !== q.y)));
        const [back] = fromPathData(toPathData(points));
        near(back, points, 1e-3);
      }),
    );
  });
  test('reads arcs, quadratic and short forms, relative and absolute (examples after W3C SVG 1.1, 8.3)', () => {
    const [circle] = fromPathData('M10 50a40 40 0 1 0 80 0a40 40 0 1 0 -80 0z');
    expect(Math.abs(areaOf(circle))).toBeCloseTo(Math.PI * 1600, -1);
    const [quadratic] = fromPathData('M0 0Q50 100 100 0Z');
    // A parabola's segment has two thirds of the box around it.
    expect(Math.abs(areaOf(quadratic))).toBeCloseTo((2 / 3) * 100 * 50, 0);
    const [box] = fromPathData('M5,5 h10 v10 h-10 z');
    near(box, rectangle(5, 5, 15, 15));
    expect(fromPathData('M0 0L9 0L9 9ZM20 20l5 0l0 5z')).toHaveLength(2);
  });
  test('reads the paths of a file by their names, and says what is wrong with one', () => {
    const text = toSvg({ width: 100, height: 80 }, [{ name: 'Sail', points: rectangle(1, 2, 30, 40) }]);
    const [read] = fromSvg(text);
    expect(read.name).toBe('Sail');
    near(read.points, rectangle(1, 2, 30, 40));
    const star = [{ name: 'Star', points: rectangle(1, 2, 30, 40), fillRule: 'evenodd' as const }];
    expect(fromSvg(toSvg({ width: 100, height: 80 }, star))).toMatchObject([{ fillRule: 'evenodd' }]);
    expect(fromSvg('<svg><path style="fill-rule: evenodd" d="M0 0L9 0L9 9Z"/></svg>')[0].fillRule).toBe(
      'evenodd',
    );
    expect(() => fromSvg('<svg><circle r="3"/></svg>')).toThrow(/no path/);
    expect(() => fromSvg('<svg><path d="M1 2 banana"/></svg>')).toThrow(/cannot be read/);
  });
  test('a path of rings in each other has the holes that its fill rule gives (W3C SVG 1.1, 11.3)', () => {
    const box = (a: number, b: number, back = false) =>
      back ? `M${a} ${a}V${b}H${b}V${a}Z` : `M${a} ${a}H${b}V${b}H${a}Z`;
    const area = (d: string, rule: string) => {
      const shapes = fromSvg(`<svg><path fill-rule="${rule}" d="${d}"/></svg>`);
      const outlines = shapes.map((s) => ({ ...s, edges: edgesOf(s.points), opacity: 1 }));
      const { data } = cover(workspace, 40, 40, outlines);
      workspace.clear();
      return Math.round(data.reduce((x, y) => x + y, 0));
    };
    // A ring, and an island in its hole, which may stand first in the file.
    expect(area(box(0, 30) + box(5, 25), 'evenodd')).toBe(900 - 400);
    expect(area(box(10, 20) + box(0, 30) + box(5, 25), 'evenodd')).toBe(900 - 400 + 100);
    expect(area(box(0, 30) + box(5, 25), 'nonzero')).toBe(900);
    expect(area(box(0, 30) + box(5, 25, true), 'nonzero')).toBe(900 - 400);
    expect(area(box(0, 30, true) + box(5, 25) + box(10, 20, true), 'nonzero')).toBe(900 - 400 + 100);
    expect(area(box(0, 10) + box(12, 20), 'evenodd')).toBe(100 + 64);
  });
});
