import { cosTurns, sinTurns } from '../math/elementary';
import type { PathPoint } from '../math/path';
import { shapeAtRest } from './animated';
import type { Shape } from './heads';

/** Paths of drawn shapes in the picture. The shapes are as they are on a frame (`shapeOn`). */

/** The middle of the box around the points of a path. */
export function middleOf(points: readonly PathPoint[]): [number, number] {
  const of = (axis: 'x' | 'y') => {
    const all = points.map((p) => p[axis]);
    return (Math.min(...all) + Math.max(...all)) / 2;
  };
  return [of('x'), of('y')];
}

export const pivotOf = (shape: Shape): readonly [number, number] => shape.pivot ?? middleOf(shape.path);

/** Points of a path through a transform: scaled and rotated about the pivot, then moved; `back` the other way. */
function through(points: readonly PathPoint[], shape: Shape, back: boolean): PathPoint[] {
  const { moveX: x, moveY, rotate, scale } = shape.transform ?? shapeAtRest;
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

/** The path of a shape in picture coordinates. */
export const transformedPath = (shape: Shape): PathPoint[] => through(shape.path, shape, false);

/** A path in picture coordinates, converted to the coordinates that the shape keeps. */
export const untransformed = (shape: Shape, points: readonly PathPoint[]): PathPoint[] =>
  through(points, shape, true);
