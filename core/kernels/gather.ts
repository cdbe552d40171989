import { power as powerOf, turnsOf } from '../math/elementary';
import type { Picture } from '../picture/picture';
import { type AlongLine, alongAngle, carried, putBack } from './lines';
import type { Workspace } from './workspace';

export type Gathered = {
  /** Exponent of the weights (1 − t)^falloff, from 0 to 2. t runs from 0 at the pixel to 1 at the far end of the ray. */
  falloff: number;
  /**
   * Gain of the light by its direction, in turns counter-clockwise from +x; for a far sun by its distance from the picture's middle, in
   * picture widths. 1 if not given.
   */
  byAngle?(turns: number): number;
  /**
   * The alpha of the picture blocks light: behind it is shadow. The integral then runs over the whole distance, with weights that decrease so
   * that as much light as without blocking comes from within `length`.
   */
  blocked?: boolean;
} & (
  | {
      /** Position of the source in pixels of the picture. It can be far outside. */
      centre: readonly [number, number];
      /** Length of the ray relative to the distance from the centre, 0 to 1. */
      length: number;
    }
  | {
      /** Direction of the light, degrees counter-clockwise as seen. */
      angle: number;
      /** Length of the ray in pixels. */
      length: number;
    }
);

/**
 * Number of lines per pixel where their distance is largest. Light is interpolated between lines, which softens details of a pixel, so there are
 * two or more. Nearly parallel lines do not get closer towards the centre, so they need more: `apart` is the distance of their nearest point from
 * the centre relative to that of their furthest. Short rays (`longest`, in pixels) show more of the softening, so they need more too.
 */
const densityOf = (apart: number, longest: number) => 2 + apart + 32 / (16 + longest);

/** Breakpoints of the piecewise weights between 0 and 1. */
const breaksOf = (falloff: number) =>
  Number.isInteger(falloff) ? [] : falloff < 1 ? [1 / 125, 1 / 25, 1 / 5] : [1 / 3];

/**
 * The weights (f + 1)·x^f, x = 0 at the far end of the ray and 1 at the pixel, as a piecewise quadratic polynomial. Exact for whole f. For other f
 * each piece has the exact values at its ends and the exact mean, so that uniform light stays uniform; the error is below 0.02 for f ≥ 0.5.
 * Returns the layout that the kernel `gatherIn` reads: order, number of pieces, three coefficients of the last piece, ∫w and ∫x·w
 * from 0 to each multiple of 1/256, then for each piece its start and its coefficients minus those of the piece before.
 */
export function falloffPieces(falloff: number): number[] {
  const f = Math.min(2, Math.max(0, falloff));
  const power = (x: number, p: number) => (x === 0 ? 0 : powerOf(x, p));
  const ends = [0, ...breaksOf(f), 1];
  const pieces = ends.slice(0, -1).map((begin, i) => {
    const end = ends[i + 1];
    if (Number.isInteger(f)) return { begin, c: [f === 0 ? 1 : 0, f === 1 ? 2 : 0, f === 2 ? 3 : 0] };
    const wide = end - begin;
    const [low, high] = [(f + 1) * power(begin, f), (f + 1) * power(end, f)];
    const mean = (power(end, f + 1) - power(begin, f + 1)) / wide;
    // low + (high − low)·t + bulge·t(1 − t), t = (x − begin)/wide.
    const bulge = 6 * (mean - (low + high) / 2);
    const [b, c] = [(high - low + bulge) / wide, -bulge / wide ** 2];
    return { begin, c: [low - b * begin + c * begin ** 2, b - 2 * c * begin, c] };
  });
  const order = Number.isInteger(f) ? f : 2;
  return [
    order,
    pieces.length,
    ...pieces[pieces.length - 1].c,
    ...Array.from({ length: 257 }, (_, i) => [
      power(i / 256, f + 1),
      ((f + 1) / (f + 2)) * power(i / 256, f + 2),
    ]).flat(),
    ...pieces.flatMap(({ begin, c }, i) => [begin, ...c.map((v, k) => v - (i > 0 ? pieces[i - 1].c[k] : 0))]),
  ];
}

/**
 * For each pixel p the weighted mean of the light between it and the source c: ∫ w(t) S(p + (c − p)·length·t) dt with w = (1 − t)^falloff and
 * ∫ w = 1 (crepuscular rays: Mitchell, GPU Gems 3, ch. 13). S is the picture, interpolated bilinearly; it is 0 outside. The integral is computed
 * along lines, with S as a parabola between two columns, and interpolated between lines, which are half a pixel apart or less.
 * Uniform light stays uniform within 1e-4. Against a sum of 4096 samples the rms error is below 0.3 % of the range for lights of
 * σ ≥ 1 pixel, and below 1 % for single pixels.
 */
export function gatherLight(workspace: Workspace, from: Picture, o: Gathered): Picture {
  const out = workspace.blank(from.width, from.height);
  if ('centre' in o) radial(workspace, out, from, o.centre, o.length, filterOf(o), o.byAngle);
  else {
    const density = o.blocked ? 1 : Math.round(densityOf(1, o.length));
    alongAngle(workspace, out, from, o.angle, { oneWay: true, density, gain: o.byAngle }, (step) =>
      filterOf(o, step),
    );
  }
  return out;
}

/** The filter of each line; `step` is the length along the major axis of one pixel along the line. */
function filterOf(o: Gathered, step = 1): AlongLine {
  if (!o.blocked) {
    const window = 'centre' in o ? [0, o.length] : [o.length * step, 0];
    return { type: 'mean', values: [...window, ...falloffPieces(o.falloff)] };
  }
  // The mean distance of the weights (1 − t)^f is 1/(f + 2) of the ray; that of ρ^g over the whole distance is 1/(g + 2) of it.
  const g = (o.falloff + 2) / Math.max(0.05, 'centre' in o ? o.length : 1) - 2;
  const values = 'centre' in o ? [Math.max(0, g), 0] : [o.falloff + 2, o.length * step];
  return { type: 'blocked', values };
}

/** Gathers along lines through a centre, in four families up to the diagonals: to the right, the left, downwards and upwards. */
function radial(
  workspace: Workspace,
  out: Picture,
  from: Picture,
  [cx, cy]: readonly [number, number],
  length: number,
  filter: AlongLine,
  byAngle?: (turns: number) => number,
) {
  const { width, height } = from;
  for (const swap of [false, true]) {
    for (const side of [1, -1] as const) {
      // Pixels along the axis away from the centre: from `near` to `far`, at distances d0 … d1.
      const [c, other] = swap ? [cy, cx] : [cx, cy];
      const [n, across] = swap ? [height, width] : [width, height];
      const near = side > 0 ? Math.max(0, Math.ceil(c)) : Math.min(n - 1, Math.floor(c));
      const far = side > 0 ? n - 1 : 0;
      const count = (far - near) * side + 1;
      if (count <= 0) continue;
      const d0 = (near - c) * side;
      const d1 = (far - c) * side;
      // Slopes of the lines that cross the picture.
      const slopeTo = (y: number, d: number) => (y - other) / Math.max(d, 0.5);
      const ends = [-1, across].flatMap((y) => [slopeTo(y, d0), slopeTo(y, d1)]);
      const low = Math.max(-1, Math.min(...ends));
      const high = Math.min(1, Math.max(...ends));
      if (low >= high) continue;
      // Lines per unit of slope.
      const density = filter.type === 'blocked' ? 1 : densityOf(d0 / Math.max(1, d1), length * d1);
      const perSlope = density * Math.max(1, d1);
      const table = new Float64Array((Math.ceil((high - low) * perSlope) + 2) * 3);
      for (let k = 0; k * 3 < table.length; k++) {
        const slope = low + k / perSlope;
        // Direction of the light as seen, y upwards.
        const [x, y] = swap ? [slope, -side] : [side, -slope];
        const gain = byAngle ? byAngle(turnsOf(x, y)) : 1;
        table.set([slope, other, gain], k * 3);
      }
      const before = near - side >= 0 && near - side < n;
      const lead = Math.min(1, d0);
      const family = { n: count, swap, back: side < 0, first: near, x0: d0, lead, before, table };
      const held = carried(workspace, from, family, filter);
      const place = { cx, cy, radial: true, side, slope: 0, low, density: perSlope, start: -d0 };
      putBack(workspace, out, held, family, place);
    }
  }
}
