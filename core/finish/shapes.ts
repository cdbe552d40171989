import { cosTurns, sinTurns } from '../math/elementary';
import type { PathPoint } from '../math/path';
import type { Shape, ShapeTransform } from './heads';

/** Paths and transforms of drawn shapes on a frame. */

/** The keys around a frame, and how far it is between them: before the first and after the last they hold. */
function neighbours<K extends { frame: number }>(keys: readonly K[], frame: number): [K, K, number] {
  const next = keys.findIndex((k) => k.frame >= frame);
  if (next < 0) return [keys[keys.length - 1], keys[keys.length - 1], 0];
  const b = keys[next];
  if (next === 0 || b.frame === frame) return [b, b, 0];
  const a = keys[next - 1];
  return [a, b, (frame - a.frame) / (b.frame - a.frame)];
}

const between = (a: number, b: number, t: number) => a + (b - a) * t;
const zero = [0, 0] as const;

/** The path of a shape on a frame. Between keys with as many points each point is interpolated; with other numbers the earlier holds. */
export function pathAt(shape: Shape, frame: number): PathPoint[] {
  const [a, b, t] = neighbours(shape.paths, frame);
  if (t === 0 || a.points.length !== b.points.length) return a.points;
  return a.points.map((p, i): PathPoint => {
    const q = b.points[i];
    const handle = (side: 'in' | 'out') => {
      if (!p[side] && !q[side]) return {};
      const [u, w] = [p[side] ?? zero, q[side] ?? zero];
      return { [side]: [between(u[0], w[0], t), between(u[1], w[1], t)] };
    };
    const feather = between(p.feather ?? 0, q.feather ?? 0, t);
    return {
      x: between(p.x, q.x, t),
      y: between(p.y, q.y, t),
      ...handle('in'),
      ...handle('out'),
      ...(feather > 0 ? { feather } : {}),
    };
  });
}

const still: Omit<ShapeTransform, 'frame'> = { moveX: 0, moveY: 0, rotate: 0, scale: 1 };

/** Transform of a shape on a frame. */
export function transformAt(shape: Shape, frame: number): Omit<ShapeTransform, 'frame'> {
  if (shape.transforms.length === 0) return still;
  const [a, b, t] = neighbours(shape.transforms, frame);
  return {
    moveX: between(a.moveX, b.moveX, t),
    moveY: between(a.moveY, b.moveY, t),
    rotate: between(a.rotate, b.rotate, t),
    scale: between(a.scale, b.scale, t),
  };
}

/** The middle of the box around the points of a path. */
export function middleOf(points: readonly PathPoint[]): [number, number] {
  const of = (axis: 'x' | 'y') => {
    const all = points.map((p) => p[axis]);
    return (Math.min(...all) + Math.max(...all)) / 2;
  };
  return [of('x'), of('y')];
}

export const pivotOf = (shape: Shape): readonly [number, number] =>
  shape.pivot ?? middleOf(shape.paths[0].points);

/** Points of a path through a transform: scaled and rotated about the pivot, then moved; `back` the other way. */
function through(points: readonly PathPoint[], shape: Shape, frame: number, back: boolean): PathPoint[] {
  const { moveX: x, moveY, rotate, scale } = transformAt(shape, frame);
  // Rows count downwards.
  const y = -moveY;
  if (x === 0 && y === 0 && rotate === 0 && scale === 1) return [...points];
  const [mx, my] = pivotOf(shape);
  const by = back ? 1 / scale : scale;
  const angle = back ? -rotate : rotate;
  const [cos, sin] = [cosTurns(angle / 360) * by, sinTurns(angle / 360) * by];
  // Rows count downwards: counter-clockwise as seen turns x towards −y.
  const turned = (dx: number, dy: number): [number, number] => [cos * dx + sin * dy, cos * dy - sin * dx];
  return points.map((p) => {
    const [dx, dy] = back ? turned(p.x - mx - x, p.y - my - y) : turned(p.x - mx, p.y - my);
    return {
      ...p,
      x: mx + dx + (back ? 0 : x),
      y: my + dy + (back ? 0 : y),
      ...(p.in ? { in: turned(...p.in) } : {}),
      ...(p.out ? { out: turned(...p.out) } : {}),
    };
  });
}

/** The path of a shape on a frame, in picture coordinates. */
export const transformedPath = (shape: Shape, frame: number): PathPoint[] =>
  through(pathAt(shape, frame), shape, frame, false);

/** A path in picture coordinates, converted to the coordinates that the shape keeps. */
export const untransformed = (shape: Shape, frame: number, points: readonly PathPoint[]): PathPoint[] =>
  through(points, shape, frame, true);
