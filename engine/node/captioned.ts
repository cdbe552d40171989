import { cover } from '../../core/kernels/cover';
import { colourWhere } from '../../core/kernels/plane';
import { over } from '../../core/kernels/point';
import type { Workspace } from '../../core/kernels/workspace';
import { edgesOf, joined, type PathPoint, rectangle } from '../../core/math/path';
import type { Picture } from '../../core/picture/picture';
import { letters } from '../../core/type/letters';

/** A picture with words in its lower left corner, on a strip that keeps them readable on any ground; a thirtieth of its height. */
export function captioned(workspace: Workspace, picture: Picture, words: string): Picture {
  const { width, height } = picture;
  const size = Math.max(8, Math.round(height / 30));
  const placed = letters(words, { font: 'sans', size, spacing: 0.02, leading: 1.2, align: 'left' }).map(
    (contour) => contour.map((p) => ({ ...p, x: p.x + size * 0.6, y: p.y + height - size * 0.85 })),
  );
  const matte = (paths: PathPoint[][], opacity: number) =>
    cover(workspace, width, height, [
      { edges: joined(paths.map((p) => edgesOf(p, 1, 0))), operation: 'add', opacity },
    ]);
  const right = Math.min(width, Math.max(0, ...placed.flat().map((p) => p.x)) + size * 0.6);
  const top = height - size * 1.7;
  const strip = rectangle(0, top, right, height);
  const ground = over(workspace, colourWhere(workspace, matte([strip], 0.6), [0, 0, 0]), picture);
  return over(workspace, colourWhere(workspace, matte(placed, 1), [0.8, 0.8, 0.8]), ground);
}
