import { type FillRule, filledEdges } from '../math/fill-rule';
import { joined } from '../math/path';
import type { Picture } from '../picture/picture';
import type { Workspace } from './workspace';

const rowPiece = 32;

/** How an outline changes what is there: it is added, taken away, or only what it covers is kept. */
export const coverOperations = ['add', 'subtract', 'intersect'] as const;
export type CoverOperation = (typeof coverOperations)[number];

/** A closed outline of straight edges, six numbers each: from (x, y), to (x, y), softness in pixels at both ends; what it fills where it crosses itself (nonzero if not given). */
export type Outline = {
  edges: Float64Array;
  operation: CoverOperation;
  opacity: number;
  fillRule?: FillRule;
};

/** Columns and rows that an outline can touch, within the picture. */
function touched(edges: Float64Array, width: number, height: number) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < edges.length; i += 6) {
    const soft = Math.max(edges[i + 4], edges[i + 5]) + (edges[i + 4] > 0 || edges[i + 5] > 0 ? 1 : 0);
    x0 = Math.min(x0, edges[i] - soft, edges[i + 2] - soft);
    x1 = Math.max(x1, edges[i] + soft, edges[i + 2] + soft);
    y0 = Math.min(y0, edges[i + 1] - soft, edges[i + 3] - soft);
    y1 = Math.max(y1, edges[i + 1] + soft, edges[i + 3] + soft);
  }
  const clamp = (v: number, to: number) => Math.max(0, Math.min(to, v));
  return [
    clamp(Math.floor(x0), width),
    clamp(Math.ceil(x1), width),
    clamp(Math.floor(y0), height),
    clamp(Math.ceil(y1), height),
  ];
}

/**
 * A matte of closed outlines, one after the other: the share of each pixel's area that lies inside by its fill rule, exact to float32. Added: the larger of both; taken away: the smaller of what is there and what the
 * outline leaves; kept: the smaller of both. Softness s spreads an edge evenly over s pixels to both sides (smoothstep of the
 * distance). Coordinates in pixels, (0, 0) the upper left corner of the picture. Begins with all of the picture if the first outline
 * does not add.
 */
export function cover(
  workspace: Workspace,
  width: number,
  height: number,
  given: readonly Outline[],
): Picture {
  const outlines = given.map((o) => ({ ...o, edges: filledEdges(o.edges, o.fillRule ?? 'nonzero') }));
  const out = workspace.picture(width, height, 1);
  const table: number[] = [];
  let at = 0;
  for (const { edges, operation, opacity } of outlines) {
    const count = edges.length / 6;
    table.push(at, count, coverOperations.indexOf(operation), opacity, ...touched(edges, width, height));
    at += count;
  }
  const outlinesAt = workspace.doubles(table);
  const edgesAt = workspace.doubles(joined(outlines.map((o) => o.edges)));
  const start = outlines.length === 0 || outlines[0].operation === 'add' ? 0 : 1;
  workspace.runtime.run('cover', height, rowPiece, {
    out: out.at,
    width,
    outlines: outlinesAt,
    count: outlines.length,
    edges: edgesAt,
    start,
  });
  workspace.drop(outlinesAt);
  workspace.drop(edgesAt);
  return out;
}
