import type { ShapesHead } from '../finish/heads';
import { transformedPath } from '../finish/shapes';
import { cover } from '../kernels/cover';
import type { Workspace } from '../kernels/workspace';
import { edgesOf } from '../math/path';
import type { Picture } from '../picture/picture';

/** The matte of a shapes head as it is on a frame: its shapes one after the other, on a picture of `width` by `height` at a draft's scale. */
export function shapesMatte(
  workspace: Workspace,
  width: number,
  height: number,
  { shapes }: ShapesHead,
  scale: number,
): Picture {
  const outlines = shapes
    .filter((s) => !s.hidden)
    .map((s) => ({
      edges: edgesOf(transformedPath(s), scale, s.feather),
      operation: s.operation,
      opacity: s.opacity,
      fillRule: s.fillRule,
    }));
  return cover(workspace, width, height, outlines);
}
