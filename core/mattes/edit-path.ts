import fitCurve from 'fit-curve';
import { type FillRule, isFilled, windingAt } from '../math/fill-rule';
import { edgesOf, type PathPoint } from '../math/path';

/** A cubic from one point of a path to the next as its four corners. */
const cornersOf = (p: PathPoint, q: PathPoint): [number, number][] => [
  [p.x, p.y],
  [p.x + (p.out?.[0] ?? 0), p.y + (p.out?.[1] ?? 0)],
  [q.x + (q.in?.[0] ?? 0), q.y + (q.in?.[1] ?? 0)],
  [q.x, q.y],
];

const mid = (a: readonly number[], b: readonly number[], t: number): [number, number] => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
];

/** A point more on the piece after point `index`, at `t` of it; the path keeps its form (de Casteljau). */
export function splitPath(points: readonly PathPoint[], index: number, t: number): PathPoint[] {
  const [p, q] = [points[index], points[(index + 1) % points.length]];
  const out = [...points];
  if (!p.out && !q.in) {
    out.splice(index + 1, 0, { x: p.x + (q.x - p.x) * t, y: p.y + (q.y - p.y) * t });
    return out;
  }
  const [a, b, c, d] = cornersOf(p, q);
  const [ab, bc, cd] = [mid(a, b, t), mid(b, c, t), mid(c, d, t)];
  const [abc, bcd] = [mid(ab, bc, t), mid(bc, cd, t)];
  const [x, y] = mid(abc, bcd, t);
  out[index] = { ...p, out: [ab[0] - p.x, ab[1] - p.y] };
  out[(index + 1) % points.length] = { ...q, in: [cd[0] - q.x, cd[1] - q.y] };
  out.splice(index + 1, 0, { x, y, in: [abc[0] - x, abc[1] - y], out: [bcd[0] - x, bcd[1] - y] });
  return out;
}

/** The place on a path nearest to (x, y): after which point, how far along to the next, and how far away. */
export function nearestOn(
  points: readonly PathPoint[],
  x: number,
  y: number,
): { index: number; t: number; away: number } {
  let best = { index: 0, t: 0, away: Number.POSITIVE_INFINITY };
  points.forEach((p, index) => {
    const [a, b, c, d] = cornersOf(p, points[(index + 1) % points.length]);
    const samples = 64;
    for (let k = 0; k <= samples; k++) {
      const t = k / samples;
      const u = 1 - t;
      const at = (i: 0 | 1) => u ** 3 * a[i] + 3 * u * u * t * b[i] + 3 * u * t * t * c[i] + t ** 3 * d[i];
      const away = Math.hypot(at(0) - x, at(1) - y);
      if (away < best.away) best = { index, t, away };
    }
  });
  return best;
}

/** True where (x, y) lies inside a path (winding number other than 0). */
export const isInside = (
  points: readonly PathPoint[],
  x: number,
  y: number,
  rule: FillRule = 'nonzero',
): boolean => isFilled(windingAt(edgesOf(points), x, y), rule);

/** Points of a drawn line as a closed path of few cubics, nowhere further from it than `error` pixels (Schneider 1990, by fit-curve). */
export function pathOfLine(line: readonly (readonly [number, number])[], error: number): PathPoint[] {
  if (line.length < 3) return line.map(([x, y]) => ({ x, y }));
  const closed = [...line, line[0]].map(([x, y]): [number, number] => [x, y]);
  const pieces = fitCurve(closed, error);
  return pieces.map(([a, b], i) => {
    const [, , c, d] = pieces[(i + pieces.length - 1) % pieces.length];
    return {
      x: a[0],
      y: a[1],
      in: [c[0] - d[0], c[1] - d[1]],
      out: [b[0] - a[0], b[1] - a[1]],
    };
  });
}
