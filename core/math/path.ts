/** A point of a closed path: where it is, its handles as offsets from it, and its own softness in pixels. */
export type PathPoint = {
  x: number;
  y: number;
  in?: readonly [number, number];
  out?: readonly [number, number];
  feather?: number;
};

const zero = [0, 0] as const;

/** A path on its way to another, each point by itself; where they have other numbers of points it stays as it is. */
export function pathBetween(
  a: readonly PathPoint[],
  b: readonly PathPoint[],
  t: number,
): readonly PathPoint[] {
  if (t === 0 || a.length !== b.length) return a;
  const between = (from: number, to: number) => from + (to - from) * t;
  return a.map((p, i): PathPoint => {
    const q = b[i];
    const handle = (side: 'in' | 'out') => {
      if (!p[side] && !q[side]) return {};
      const [u, w] = [p[side] ?? zero, q[side] ?? zero];
      return { [side]: [between(u[0], w[0]), between(u[1], w[1])] };
    };
    const feather = between(p.feather ?? 0, q.feather ?? 0);
    return {
      x: between(p.x, q.x),
      y: between(p.y, q.y),
      ...handle('in'),
      ...handle('out'),
      ...(feather > 0 ? { feather } : {}),
    };
  });
}

/** Furthest that a straight piece may lie from its curve, in pixels. */
const tolerance = 0.003;

/**
 * How many straight pieces of equal parameter keep a cubic within `tolerance`: a chord over 1/n of it strays at most M/(8 n²), with M
 * the largest second derivative, that is at one of its ends.
 */
function pieces(c: readonly number[]): number {
  const bend = (i: number) => {
    const [x, y] = [c[i] - 2 * c[i + 2] + c[i + 4], c[i + 1] - 2 * c[i + 3] + c[i + 5]];
    return Math.sqrt(x * x + y * y) * 6;
  };
  return Math.max(1, Math.min(200, Math.ceil(Math.sqrt(Math.max(bend(0), bend(2)) / (8 * tolerance)))));
}

/**
 * Straight edges of a closed path, six numbers each: from (x, y), to (x, y), softness at both ends. The softness of a path is added to
 * that of each point. Coordinates and softness come out times `scale`.
 */
export function edgesOf(points: readonly PathPoint[], scale = 1, feather = 0): Float64Array {
  const edges: number[] = [];
  points.forEach((p, i) => {
    const q = points[(i + 1) % points.length];
    const soft = (r: PathPoint) => (feather + (r.feather ?? 0)) * scale;
    const [sp, sq] = [soft(p), soft(q)];
    const c = [
      p.x,
      p.y,
      p.x + (p.out?.[0] ?? 0),
      p.y + (p.out?.[1] ?? 0),
      q.x + (q.in?.[0] ?? 0),
      q.y + (q.in?.[1] ?? 0),
      q.x,
      q.y,
    ].map((v) => v * scale);
    const n = p.out || q.in ? pieces(c) : 1;
    let [x0, y0] = [c[0], c[1]];
    for (let k = 1; k <= n; k++) {
      const t = k / n;
      const u = 1 - t;
      const at = (j: number) =>
        u * u * u * c[j] + 3 * u * u * t * c[2 + j] + 3 * u * t * t * c[4 + j] + t * t * t * c[6 + j];
      const [x1, y1] = k === n ? [c[6], c[7]] : [at(0), at(1)];
      edges.push(x0, y0, x1, y1, sp + ((k - 1) / n) * (sq - sp), sp + t * (sq - sp));
      [x0, y0] = [x1, y1];
    }
  });
  return Float64Array.from(edges);
}

/** Edges of several paths, one after the other. */
export function joined(edges: readonly Float64Array[]): Float64Array {
  const all = new Float64Array(edges.reduce((sum, e) => sum + e.length, 0));
  let at = 0;
  for (const e of edges) {
    all.set(e, at);
    at += e.length;
  }
  return all;
}

/** Handle of a quarter of a circle by a cubic, in radii: 4/3·tan(π/8), the usual one. */
const quarter = (4 / 3) * (Math.SQRT2 - 1);

/** An ellipse by four cubics; its area is within 0.03 % of π a b. */
export const ellipse = (cx: number, cy: number, rx: number, ry: number): PathPoint[] => [
  { x: cx + rx, y: cy, in: [0, -ry * quarter], out: [0, ry * quarter] },
  { x: cx, y: cy + ry, in: [rx * quarter, 0], out: [-rx * quarter, 0] },
  { x: cx - rx, y: cy, in: [0, ry * quarter], out: [0, -ry * quarter] },
  { x: cx, y: cy - ry, in: [-rx * quarter, 0], out: [rx * quarter, 0] },
];

export const rectangle = (x0: number, y0: number, x1: number, y1: number): PathPoint[] => [
  { x: x0, y: y0 },
  { x: x1, y: y0 },
  { x: x1, y: y1 },
  { x: x0, y: y1 },
];
