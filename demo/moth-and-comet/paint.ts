import { linearOfHex } from '../../core/colour/srgb';
import { type CoverOperation, cover } from '../../core/kernels/cover';
import { colourWhere } from '../../core/kernels/plane';
import { over, weightedSum } from '../../core/kernels/point';
import type { Workspace } from '../../core/kernels/workspace';
import { edgesOf, joined, type PathPoint } from '../../core/math/path';
import type { Picture } from '../../core/picture/picture';

export const size = { width: 1280, height: 720 };

/** Closed paths laid in one colour; several of them are one shape. `within` keeps what lies inside another path. */
export type Stroke = {
  paths: readonly (readonly PathPoint[])[];
  colour: string;
  opacity?: number;
  /** Softness of the edge in pixels to both sides. */
  soft?: number;
  within?: readonly PathPoint[];
};

/** Strokes over each other, the first the lowest, on nothing; exact coverage, premultiplied scene-linear light. */
export function painted(workspace: Workspace, strokes: readonly Stroke[]): Picture {
  const { width, height } = size;
  let below = workspace.blank(width, height);
  for (const { paths, colour, opacity = 1, soft = 0, within } of strokes) {
    const outline = (edges: Float64Array, operation: CoverOperation) => ({ edges, operation, opacity: 1 });
    const matte = cover(workspace, width, height, [
      outline(joined(paths.map((p) => edgesOf(p, 1, soft))), 'add'),
      ...(within ? [outline(edgesOf(within), 'intersect')] : []),
    ]);
    const solid = colourWhere(workspace, matte, linearOfHex(colour));
    const faded = opacity === 1 ? solid : weightedSum(workspace, solid, opacity, solid, 0);
    const next = over(workspace, faded, below);
    for (const p of new Set([matte, solid, faded, below])) workspace.drop(p);
    below = next;
  }
  return below;
}
