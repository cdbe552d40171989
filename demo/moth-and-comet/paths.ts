import { cosTurns, sinTurns } from '../../core/math/elementary';
import type { PathPoint } from '../../core/math/path';

/** Lines of a hand: smooth closed shapes through points, and ink that swells and thins. All in pixels, y downwards. */

export type Spot = readonly [number, number];

/** Moved to a place, turned by degrees (counter-clockwise as seen) and scaled about the origin. */
export const at =
  (x: number, y: number, turn = 0, sx = 1, sy = sx) =>
  ([px, py]: Spot): Spot => {
    const [cos, sin] = [cosTurns(turn / 360), sinTurns(turn / 360)];
    return [x + px * sx * cos + py * sy * sin, y - px * sx * sin + py * sy * cos];
  };

/** A smooth way through points (Catmull & Rom 1974, as cubics), closed or open. */
export function smooth(spots: readonly Spot[], closed = true): PathPoint[] {
  const n = spots.length;
  const near = (i: number) => spots[closed ? (i + n) % n : Math.max(0, Math.min(n - 1, i))];
  return spots.map(([x, y], i) => {
    const [a, b] = [near(i - 1), near(i + 1)];
    const [dx, dy] = [(b[0] - a[0]) / 6, (b[1] - a[1]) / 6];
    return { x, y, in: [-dx, -dy], out: [dx, dy] };
  });
}

const pieces = 14;

/** Points along a way, evenly by parameter. */
export function along(points: readonly PathPoint[], closed: boolean): Spot[] {
  const out: Spot[] = [];
  const last = closed ? points.length : points.length - 1;
  for (let i = 0; i < last; i++) {
    const [p, q] = [points[i], points[(i + 1) % points.length]];
    for (let k = 0; k < pieces; k++) {
      const t = k / pieces;
      const u = 1 - t;
      const mix = (a: number, b: number, c: number, d: number) =>
        u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
      const [ox, oy] = p.out ?? [0, 0];
      const [ix, iy] = q.in ?? [0, 0];
      out.push([mix(p.x, p.x + ox, q.x + ix, q.x), mix(p.y, p.y + oy, q.y + iy, q.y)]);
    }
  }
  if (!closed) out.push([points[points.length - 1].x, points[points.length - 1].y]);
  return out;
}

const corners = (spots: readonly Spot[]): PathPoint[] => spots.map(([x, y]) => ({ x, y }));

/** Both sides of a line `width(t)` wide, t from 0 at its beginning to 1 at its end. */
function sides(spots: readonly Spot[], closed: boolean, width: (t: number) => number): [Spot[], Spot[]] {
  const n = spots.length;
  const left: Spot[] = [];
  const right: Spot[] = [];
  spots.forEach(([x, y], i) => {
    const a = spots[closed ? (i + n - 1) % n : Math.max(0, i - 1)];
    const b = spots[closed ? (i + 1) % n : Math.min(n - 1, i + 1)];
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
    const half = width(i / (n - (closed ? 0 : 1))) / 2 / Math.max(1e-6, Math.sqrt(dx * dx + dy * dy));
    left.push([x - dy * half, y + dx * half]);
    right.push([x + dy * half, y - dx * half]);
  });
  return [left, right];
}

/** A line of ink as closed paths: an open one thins to both ends, a closed one is a ring. */
export function ink(points: readonly PathPoint[], closed: boolean, width: number, seed = 0): PathPoint[][] {
  // Pressure of the hand, the same for the same seed.
  const press = (t: number) => 1 + 0.2 * sinTurns(t * 2 + seed * 0.37) + 0.1 * sinTurns(t * 5 + seed * 0.71);
  const taper = (t: number) => (closed ? 1 : 0.12 + 0.88 * Math.sqrt(Math.max(0, 4 * t * (1 - t))));
  const spots = along(points, closed);
  const [left, right] = sides(spots, closed, (t) => width * press(t) * taper(t));
  return closed ? [corners(left), corners([...right].reverse())] : [corners([...left, ...right.reverse()])];
}

/** An ellipse whose edge is ragged as fur is: `tufts` of them, `high` of its radius. */
export const furry = (
  [cx, cy]: Spot,
  rx: number,
  ry: number,
  tufts: number,
  high: number,
  seed: number,
): PathPoint[] => {
  const spots = Array.from({ length: tufts * 2 }, (_, i): Spot => {
    const t = i / (tufts * 2);
    const r = 1 + (i % 2 === 0 ? high : -high / 2) * (1 + 0.5 * sinTurns(t * 5 + seed * 0.43));
    return [cx + cosTurns(t) * rx * r, cy - sinTurns(t) * ry * r];
  });
  return corners(spots);
};
