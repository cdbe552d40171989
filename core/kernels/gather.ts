import { power as powerOf, turnsOf } from '../math/elementary';
import type { Picture } from '../picture/picture';
import { type AlongLine, alongAngle, carried, putBack } from './lines';
import type { Workspace } from './workspace';

export type Gathered = {
  /** Falloff of the weights (1 − t)^falloff from the pixel, t = 0, to the far end of its way, t = 1; from 0 to 2. */
  falloff: number;
  /**
   * Gain of the light by the angle in which it goes, in turns from +x counter-clockwise; of a far sun's, by how far beside the picture's middle
   * it goes, in pictures' widths. 1 if there is none.
   */
  byAngle?(turns: number): number;
  /**
   * Its alpha stands in the way of the light: behind it is shadow. The way is then the whole one, its weights thinned by distance so that
   * as much lies within `length` as without anything in the way.
   */
  blocked?: boolean;
} & (
  | {
      /** The light comes from here, in pixels of the picture; may lie far outside. */
      centre: readonly [number, number];
      /** Part of the way to the centre that is gathered, 0 to 1. */
      length: number;
    }
  | {
      /** The light goes this way, degrees counter-clockwise as seen. */
      angle: number;
      /** How far it is carried, in pixels. */
      length: number;
    }
);

/**
 * Lines a pixel, where they lie furthest apart. Between them light is interpolated, so that they must be closer than a pixel, which is as
 * narrow as light can be: closer yet where they run side by side all the way (`apart`, the distance of their nearest point from the centre over
 * that of their furthest), and where what is gathered is but a few pixels (`longest`), in which a softer pixel would be seen.
 */
const densityOf = (apart: number, longest: number) => 2 + apart + 32 / (16 + longest);

/** Where the pieces of a falloff begin, besides at 0. */
const breaksOf = (falloff: number) =>
  Number.isInteger(falloff) ? [] : falloff < 1 ? [1 / 125, 1 / 25, 1 / 5] : [1 / 3];

/**
 * The weights (f + 1)·x^f from the far end of the way, x = 0, to the pixel, x = 1, as parabolas on pieces: exact for whole f, else of the same value
 * at both ends of each piece and of the same mean, so that even light stays even. Elsewhere off by less than 0.02 for f from 0.5 on.
 * As `gatherIn` wants it: the order, the number of pieces, the last one's coefficients, one free place, ∫w and ∫x·w from 0 to each 1/256, then for each where it begins and its coefficients
 * less those of the piece before.
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
    0,
    ...Array.from({ length: 257 }, (_, i) => [
      power(i / 256, f + 1),
      ((f + 1) / (f + 2)) * power(i / 256, f + 2),
    ]).flat(),
    ...pieces.flatMap(({ begin, c }, i) => [begin, ...c.map((v, k) => v - (i > 0 ? pieces[i - 1].c[k] : 0))]),
  ];
}

/**
 * For each pixel the weighted mean of the light on its way back to where light comes from: ∫ w(t) S(p + (c − p)·length·t) dt with
 * w = (1 − t)^falloff, ∫ w = 1 (crepuscular rays: Mitchell, GPU Gems 3, ch. 13). S is the picture joined bilinearly; outside it there is no
 * light. The integral along a line is exact but for parabolas in place of S between two columns; between two lines, half a pixel
 * apart or less, it is interpolated. Even light stays within 1e-5. Against a sum of 4096 samples the rms is below 0.3 % of the range
 * for lights of σ ≥ 1 pixel, and below 1 % for single pixels.
 */
export function gatherLight(workspace: Workspace, from: Picture, o: Gathered): Picture {
  const out = workspace.blank(from.width, from.height);
  if ('centre' in o) radial(workspace, out, from, o.centre, o.length, filterOf(o), o.byAngle);
  else {
    const density = Math.round(densityOf(1, o.length));
    alongAngle(workspace, out, from, o.angle, { oneWay: true, density, gain: o.byAngle }, (step) =>
      filterOf(o, step),
    );
  }
  return out;
}

/** How each line is filtered; `step` is how much of a pixel of the way a pixel of the longer axis is. */
function filterOf(o: Gathered, step = 1): AlongLine {
  if (!o.blocked) {
    const window = 'centre' in o ? [0, o.length] : [o.length * step, 0];
    return { type: 'mean', values: [...window, ...falloffPieces(o.falloff)] };
  }
  // (1 − t)^f over a part of the way has its mean at 1/(f + 2) of it; ρ^g over all of it at 1/(g + 2).
  const g = (o.falloff + 2) / Math.max(0.05, 'centre' in o ? o.length : 1) - 2;
  const values = 'centre' in o ? [Math.max(0, g), 0] : [o.falloff + 2, o.length * step];
  return { type: 'blocked', values };
}

/** Along the lines through a centre, in four families: to the right, the left, downwards and upwards, each up to the diagonals. */
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
      // Along the axis away from the centre: whole pixels from `near` to `far`, at distances d0 … d1.
      const [c, other] = swap ? [cy, cx] : [cx, cy];
      const [n, across] = swap ? [height, width] : [width, height];
      const near = side > 0 ? Math.max(0, Math.ceil(c)) : Math.min(n - 1, Math.floor(c));
      const far = side > 0 ? n - 1 : 0;
      const count = (far - near) * side + 1;
      if (count <= 0) continue;
      const d0 = (near - c) * side;
      const d1 = (far - c) * side;
      // Slopes of the lines that meet the picture somewhere on their way.
      const slopeTo = (y: number, d: number) => (y - other) / Math.max(d, 0.5);
      const ends = [-1, across].flatMap((y) => [slopeTo(y, d0), slopeTo(y, d1)]);
      const low = Math.max(-1, Math.min(...ends));
      const high = Math.min(1, Math.max(...ends));
      if (low >= high) continue;
      // So many lines a unit of slope lie a pixel over their density apart at the far end.
      const perSlope = densityOf(d0 / Math.max(1, d1), length * d1) * Math.max(1, d1);
      const table = new Float64Array((Math.ceil((high - low) * perSlope) + 2) * 3);
      for (let k = 0; k * 3 < table.length; k++) {
        const slope = low + k / perSlope;
        // The direction of the light as seen, upwards positive.
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
