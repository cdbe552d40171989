/**
 * Fill rules of closed outlines that cross or touch themselves: SVG's `fill-rule` (W3C SVG 1.1, 11.3). A point is inside if its winding number is not
 * 0 (`nonzero`), or is odd (`evenodd`).
 */
export const fillRules = ['nonzero', 'evenodd'] as const;
export type FillRule = (typeof fillRules)[number];

/** Numbers per edge: from (x, y), to (x, y), softness at both ends. */
const edgeSize = 6;

export const isFilled = (winding: number, rule: FillRule) =>
  rule === 'nonzero' ? winding !== 0 : winding % 2 !== 0;

/** Winding number of a closed outline around a point, positive from +x towards +y. */
export function windingAt(edges: Float64Array, x: number, y: number): number {
  let winding = 0;
  for (let i = 0; i < edges.length; i += edgeSize) {
    const [x0, y0, x1, y1] = [edges[i], edges[i + 1], edges[i + 2], edges[i + 3]];
    if (y0 <= y === y1 <= y) continue;
    if (x0 + ((y - y0) / (y1 - y0)) * (x1 - x0) > x) winding += y1 > y0 ? 1 : -1;
  }
  return winding;
}

/** Points closer than this, in pixels, are merged. */
const near = 1e-7;
/** Number of edges in a leaf of the tree. */
const fewest = 16;

/**
 * Calls `meet` for pairs of edges whose bounding boxes touch. Consecutive edges are close together, so the boxes of runs of edges, in a binary tree,
 * are compared first. An outline of n edges that does not meet itself costs about n steps.
 */
function meetings(edges: Float64Array, meet: (i: number, j: number) => void) {
  const n = edges.length / edgeSize;
  // Left, top, right and bottom of each edge.
  const boxes = new Float64Array(n * 4);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < 2; k++) {
      const [a, b] = [edges[i * edgeSize + k], edges[i * edgeSize + 2 + k]];
      boxes[i * 4 + k] = Math.min(a, b) - near;
      boxes[i * 4 + 2 + k] = Math.max(a, b) + near;
    }
  const touch = (a: Float64Array, i: number, b: Float64Array, j: number) =>
    a[i] <= b[j + 2] && b[j] <= a[i + 2] && a[i + 1] <= b[j + 3] && b[j + 1] <= a[i + 3];
  type Run = { from: number; to: number; box: Float64Array; parts?: [Run, Run] };
  const runOf = (from: number, to: number): Run => {
    const box = Float64Array.of(Infinity, Infinity, -Infinity, -Infinity);
    const middle = (from + to) >> 1;
    const parts: [Run, Run] | undefined =
      to - from > fewest ? [runOf(from, middle), runOf(middle, to)] : undefined;
    const inside = parts ? parts.map((p) => p.box) : [boxes.subarray(from * 4, to * 4)];
    for (const given of inside)
      for (let k = 0; k < given.length; k += 4) {
        box[0] = Math.min(box[0], given[k]);
        box[1] = Math.min(box[1], given[k + 1]);
        box[2] = Math.max(box[2], given[k + 2]);
        box[3] = Math.max(box[3], given[k + 3]);
      }
    return { from, to, box, parts };
  };
  const both = (a: Run, b: Run) => {
    if (!touch(a.box, 0, b.box, 0)) return;
    if (a.parts && (!b.parts || a.to - a.from >= b.to - b.from)) for (const part of a.parts) both(part, b);
    else if (b.parts) for (const part of b.parts) both(a, part);
    else
      for (let i = a.from; i < a.to; i++)
        if (touch(boxes, i * 4, b.box, 0))
          for (let j = b.from; j < b.to; j++) if (touch(boxes, i * 4, boxes, j * 4)) meet(i, j);
  };
  const alone = (run: Run) => {
    if (run.parts) {
      for (const part of run.parts) alone(part);
      both(...run.parts);
      return;
    }
    for (let i = run.from; i < run.to; i++)
      for (let j = i + 1; j < run.to; j++) if (touch(boxes, i * 4, boxes, j * 4)) meet(i, j);
  };
  alone(runOf(0, n));
}

type Split = { at: Map<number, number[]>; meets: boolean };

/** Positions (0 to 1 along each edge) at which edges cross, touch or overlap; `meets` is true if any do. */
function splitsOf(edges: Float64Array): Split {
  const n = edges.length / edgeSize;
  const at = new Map<number, number[]>();
  let meets = false;
  const split = (i: number, t: number) => {
    meets = true;
    const [x0, y0, x1, y1] = edges.subarray(i * edgeSize, i * edgeSize + 4);
    const length = Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2);
    if (t * length < near || (1 - t) * length < near) return;
    const list = at.get(i);
    if (list) list.push(t);
    else at.set(i, [t]);
  };
  const meet = (i: number, j: number) => {
    const [a0, b0] = [i * edgeSize, j * edgeSize];
    const px = edges[a0];
    const py = edges[a0 + 1];
    const ux = edges[b0];
    const uy = edges[b0 + 1];
    const vx = edges[b0 + 2];
    const vy = edges[b0 + 3];
    const rx = edges[a0 + 2] - px;
    const ry = edges[a0 + 3] - py;
    const sx = vx - ux;
    const sy = vy - uy;
    const across = rx * sy - ry * sx;
    const adjacent = i + 1 === j || j + 1 === i || (i + j === n - 1 && (i === 0 || j === 0));
    const parallel = across * across <= 1e-24 * (rx * rx + ry * ry) * (sx * sx + sy * sy);
    // Adjacent edges share one point, unless one runs back over the other.
    if (adjacent && !parallel) return;
    const [r, s] = [Math.sqrt(rx * rx + ry * ry), Math.sqrt(sx * sx + sy * sy)];
    // The ends of such an edge are merged.
    if (r < near || s < near) return;
    if (!parallel) {
      const t = ((ux - px) * sy - (uy - py) * sx) / across;
      const k = ((ux - px) * ry - (uy - py) * rx) / across;
      if (t * r < -near || (t - 1) * r > near || k * s < -near || (k - 1) * s > near) return;
      split(i, t);
      split(j, k);
      return;
    }
    // Parallel and collinear edges can overlap.
    if (Math.abs((ux - px) * ry - (uy - py) * rx) > near * r) return;
    const onFirst = (x: number, y: number) => ((x - px) * rx + (y - py) * ry) / (r * r);
    const onSecond = (x: number, y: number) => ((x - ux) * sx + (y - uy) * sy) / (s * s);
    const [a, b] = [onFirst(ux, uy), onFirst(vx, vy)];
    if (Math.max(a, b) * r < near || (Math.min(a, b) - 1) * r > -near) return;
    for (const t of [a, b]) if (t > 0 && t < 1) split(i, t);
    for (const t of [onSecond(px, py), onSecond(px + rx, py + ry)]) if (t > 0 && t < 1) split(j, t);
    meets = true;
  };
  meetings(edges, meet);
  return { at, meets };
}

/** A piece of the outline between two points; `times` is how often it is traversed from `from` to `to`, minus the reverse. */
type Piece = { from: number; to: number; times: number; softFrom: number; softTo: number };

/** The points and pieces of the split outline. Pieces do not cross. */
function piecesOf(edges: Float64Array, { at }: Split): { points: [number, number][]; pieces: Piece[] } {
  const points: [number, number][] = [];
  const cells = new Map<string, number>();
  const pointAt = (x: number, y: number): number => {
    const [cx, cy] = [Math.floor(x / (4 * near)), Math.floor(y / (4 * near))];
    for (let v = cy - 1; v <= cy + 1; v++)
      for (let u = cx - 1; u <= cx + 1; u++) {
        const known = cells.get(`${u} ${v}`);
        if (known !== undefined && Math.abs(points[known][0] - x) + Math.abs(points[known][1] - y) < 4 * near)
          return known;
      }
    points.push([x, y]);
    cells.set(`${cx} ${cy}`, points.length - 1);
    return points.length - 1;
  };
  const pieces = new Map<string, Piece>();
  for (let i = 0; i * edgeSize < edges.length; i++) {
    const [x0, y0, x1, y1, s0, s1] = edges.subarray(i * edgeSize, (i + 1) * edgeSize);
    let [last, soft] = [pointAt(x0, y0), s0];
    for (const t of [...(at.get(i) ?? []).sort((a, b) => a - b), 1]) {
      const next = t === 1 ? pointAt(x1, y1) : pointAt(x0 + t * (x1 - x0), y0 + t * (y1 - y0));
      const softNext = s0 + t * (s1 - s0);
      if (next !== last) {
        const forwards = last < next;
        const [from, to] = forwards ? [last, next] : [next, last];
        const key = `${from} ${to}`;
        const piece = pieces.get(key);
        if (piece) piece.times += forwards ? 1 : -1;
        else
          pieces.set(key, {
            from,
            to,
            times: forwards ? 1 : -1,
            softFrom: forwards ? soft : softNext,
            softTo: forwards ? softNext : soft,
          });
      }
      [last, soft] = [next, softNext];
    }
  }
  return { points, pieces: [...pieces.values()].filter((p) => p.times !== 0) };
}

/**
 * Edges of the boundary of the filled region of a closed outline. Each is traversed once, with the inside on the same side, so the signed areas add up to
 * the filled area. An outline that does not meet itself is returned unchanged.
 */
export function filledEdges(edges: Float64Array, rule: FillRule): Float64Array {
  const splits = splitsOf(edges);
  if (!splits.meets) return edges;
  const { points, pieces } = piecesOf(edges, splits);
  const out: number[] = [];
  const balance = new Int32Array(points.length);
  for (const piece of pieces) {
    const [[x0, y0], [x1, y1]] = [points[piece.from], points[piece.to]];
    // Winding numbers on both sides of the piece, by a ray from its middle: along x if the piece is steep, else along y.
    const [main, other] = Math.abs(y1 - y0) >= Math.abs(x1 - x0) ? [0, 1] : [1, 0];
    const [a, b] = [(x0 + x1) / 2, (y0 + y1) / 2];
    const [place, level] = main === 0 ? [a, b] : [b, a];
    let before = 0;
    for (const p of pieces) {
      if (p === piece) continue;
      const [u, v] = [points[p.from], points[p.to]];
      if (u[other] <= level === v[other] <= level) continue;
      const crossing = u[main] + ((level - u[other]) / (v[other] - u[other])) * (v[main] - u[main]);
      if (crossing < place) before += v[other] > u[other] ? p.times : -p.times;
    }
    const grows = points[piece.to][other] > points[piece.from][other];
    const after = before + (grows ? piece.times : -piece.times);
    if (isFilled(before, rule) === isFilled(after, rule)) continue;
    // Orients the piece so that the inside is always on the same side.
    const forwards = (isFilled(after, rule) === grows) === (main === 0);
    const [from, to] = forwards ? [piece.from, piece.to] : [piece.to, piece.from];
    const softs = forwards ? [piece.softFrom, piece.softTo] : [piece.softTo, piece.softFrom];
    out.push(...points[from], ...points[to], ...softs);
    balance[from]++;
    balance[to]--;
  }
  // If rounding broke the boundary, whole rows would be covered. Then the outline is used as it is.
  return balance.every((b) => b === 0) ? Float64Array.from(out) : edges;
}
