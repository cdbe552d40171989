import { cosTurns, exp, sinTurns, turnsOf } from '../math/elementary';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { recursiveCoefficients } from './gaussian';
import type { Workspace } from './workspace';

/**
 * Light carried along straight lines. A picture is read along a family of lines that pass through the pixels' middles on one axis, so that
 * only one interpolation is needed on the way in and one on the way out; along each line a filter of exact weights runs at a cost
 * that does not depend on its length. There are no samples to be seen as bands.
 */

const linePiece = 16;
const rowPiece = 16;
const streakPiece = 160;

/**
 * An exponential to one side: its light within `length` pixels is 95 %; in red, green and blue. `gain` is its whole light, of which the
 * share `taper` lies in an exponential of a fifth of its length.
 */
export type Tail = { length: Rgb; gain: number; taper?: number };

/** 95 % of an exponential lie within three of its lengths: e⁻³ = 0.0498. */
const decayOf = (length: number) => (length > 0 ? exp(-3 / length) : 0);

const tail = ({ length, gain, taper = 0 }: Tail, step: number): number[] => {
  const part = (times: number, share: number) => {
    // Along the longer axis a pixel is 1/step pixels of the line.
    const decays = length.map((l) => decayOf(l * times * step));
    return [...decays, 0, ...decays.map((d) => (1 - d) * share), 0];
  };
  return [...part(1, gain * (1 - taper)), ...part(0.2, gain * taper)];
};

/** What runs along each line: see `linesIn`. */
type Filter = { mode: 1 | 2 | 3; values: readonly number[] };

type Family = {
  lines: number;
  n: number;
  /** Slope, shift and gain of each line. */
  table: Float32Array;
};

/** Rows of lines, sampled and filtered, and for each whether any light is on it. */
function carried(
  workspace: Workspace,
  from: Picture,
  family: Family,
  axes: { swap: boolean; back: boolean; first: number; x0: number },
  { mode, values }: Filter,
): { rows: Picture; lit: number } {
  const { width, height } = from;
  const rows = workspace.picture(family.n, Math.max(1, family.lines));
  const lit = workspace.bytes(family.lines + 1);
  const table = workspace.floats(family.table);
  const params = workspace.floats(values);
  const stride = axes.swap ? width * 16 : 16;
  const start = from.at + axes.first * stride;
  workspace.runtime.run('linesIn', family.lines, linePiece, {
    out: rows.at,
    from: start,
    count: family.lines,
    n: family.n,
    across: axes.swap ? width : height,
    along: axes.back ? -stride : stride,
    step: axes.swap ? 16 : width * 16,
    x0: axes.x0,
    byPlace: axes.swap ? 1 : 0,
    table,
    lit,
    mode,
    values: params,
  });
  workspace.drop(table);
  workspace.drop(params);
  return { rows, lit };
}

/** A line's angle (degrees, counter-clockwise as seen), what goes along it, and what against it. */
export type Streak = { angle: number; forth: Tail; back: Tail };

/** The sum of the light of `from` drawn out along each streak. */
export function streaks(workspace: Workspace, from: Picture, list: readonly Streak[]): Picture {
  const { width, height } = from;
  const out = workspace.blank(width, height);
  const way = (s: Streak) => parallels(s.angle, width, height);
  const steep = list.filter((s) => way(s).swap);
  const flat = list.filter((s) => !way(s).swap);
  /** Onto pictures down which the lines run. */
  const draw = (onto: Picture, source: Picture, which: readonly Streak[]) => {
    for (const s of which) {
      workspace.runtime.checkpoint();
      const { major, slope, least, lines } = way(s);
      const tails = major > 0 ? [s.forth, s.back] : [s.back, s.forth];
      const ways = (tails[0].gain > 0 ? 1 : 0) + (tails[1].gain > 0 ? 2 : 0);
      const params = workspace.floats(tails.flatMap((t) => tail(t, Math.abs(major))));
      workspace.runtime.run('streaks', lines, streakPiece, {
        out: onto.at,
        from: source.at,
        width: onto.width,
        height: onto.height,
        slope,
        least,
        values: params,
        ways,
      });
      workspace.drop(params);
    }
  };
  draw(out, from, steep);
  if (flat.length === 0) return out;
  // Lines that run across are drawn on a picture lying on its side: so memory is read in its order.
  const turned = workspace.picture(height, width);
  workspace.runtime.run('transpose', width, rowPiece, {
    out: turned.at,
    from: from.at,
    width: height,
    height: width,
    adds: 0,
  });
  const onto = workspace.blank(height, width);
  draw(onto, turned, flat);
  workspace.runtime.run('transpose', height, rowPiece, {
    out: out.at,
    from: onto.at,
    width,
    height,
    adds: 1,
  });
  workspace.drop(turned);
  workspace.drop(onto);
  return out;
}

/** The light of `from` blurred by a Gaussian of `sigma` pixels (2 or more) along an angle alone. */
export function blurAlong(workspace: Workspace, from: Picture, angle: number, sigma: number): Picture {
  const out = workspace.blank(from.width, from.height);
  alongAngle(workspace, out, from, angle, false, (step) => ({
    mode: 2,
    values: [...recursiveCoefficients(sigma * step)],
  }));
  return out;
}

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

/** Weights of the whole powers of (1 − t) around a falloff. */
const powersOf = (falloff: number): [number, number, number] => {
  const f = Math.min(2, Math.max(0, falloff));
  return f <= 1 ? [1 - f, f, 0] : [0, 2 - f, f - 1];
};

/**
 * For each pixel the weighted mean of the light on its way back to where light comes from: ∫ w(t) S(p + (c − p)·length·t) dt with
 * w = (1 − t)^falloff of whole falloffs, blended between them, ∫ w = 1; outside the picture there is no light. By running sums of
 * S, u·S and u²·S along lines: no samples, no bands; difference to an exact sum below 1e-3 of the range (crepuscular rays:
 * Mitchell, GPU Gems 3, ch. 13).
 */
export function gatherLight(workspace: Workspace, from: Picture, o: Gathered): Picture {
  const out = workspace.blank(from.width, from.height);
  const weights = powersOf(o.falloff);
  if ('centre' in o) radial(workspace, out, from, o.centre, filterOf(o, weights), o.byAngle);
  else alongAngle(workspace, out, from, o.angle, true, (step) => filterOf(o, weights, step), o.byAngle);
  return out;
}

/** How each line is filtered; `step` is how much of a pixel of the way a pixel of the longer axis is. */
function filterOf(o: Gathered, weights: readonly number[], step = 1): Filter {
  if (!o.blocked)
    return { mode: 1, values: 'centre' in o ? [0, o.length, ...weights] : [o.length * step, 0, ...weights] };
  // (1 − t)^f over a part of the way has its mean at 1/(f + 2) of it; ρ^g over all of it at 1/(g + 2).
  const g = (o.falloff + 2) / Math.max(0.05, 'centre' in o ? o.length : 1) - 2;
  return { mode: 3, values: 'centre' in o ? [Math.max(0, g), 0] : [o.falloff + 2, o.length * step] };
}

/**
 * Parallel lines at an angle, a pixel apart on the axis they run across: line k, from `least` on, at k + slope·a for `a` pixels along the
 * other one, which is the vertical with `swap`. `major` is what of the angle's unit lies along it.
 */
function parallels(angle: number, width: number, height: number, back = false) {
  const [ux, uy] = [cosTurns(angle / 360), -sinTurns(angle / 360)];
  const swap = Math.abs(uy) > Math.abs(ux);
  const [major, minor] = swap ? [uy, ux] : [ux, uy];
  const [n, across] = swap ? [height, width] : [width, height];
  const slope = (back ? -1 : 1) * (minor / major);
  const least = Math.floor(Math.min(0, -slope * (n - 1))) - 1;
  const most = Math.ceil(Math.max(across, across - slope * (n - 1))) + 1;
  return { swap, major, n, slope, least, lines: most - least + 1 };
}

/** Adds what a filter makes along parallel lines; with `oneWay` it is run the way of the angle. */
function alongAngle(
  workspace: Workspace,
  onto: Picture,
  from: Picture,
  angle: number,
  oneWay: boolean,
  filter: (step: number) => Filter,
  gain?: (beside: number) => number,
) {
  const { width, height } = from;
  const back = oneWay && parallels(angle, width, height).major < 0;
  const { swap, major, n, slope, least, lines } = parallels(angle, width, height, back);
  const table = new Float32Array(lines * 3);
  // Where a line through the picture's middle begins.
  const middle = (swap ? width - 1 : height - 1) / 2 - (slope * (n - 1)) / 2;
  for (let k = 0; k < lines; k++) {
    const beside = ((k + least - middle) * Math.abs(major)) / width;
    table.set([slope, k + least, gain?.(beside) ?? 1], k * 3);
  }
  const axes = { swap, back, first: back ? n - 1 : 0, x0: 0 };
  const held = carried(workspace, from, { lines, n, table }, axes, filter(Math.abs(major)));
  // Seen from the first pixel the light meets.
  const [cx, cy] = swap ? [0, back ? n - 1 : 0] : [back ? n - 1 : 0, 0];
  const side = back ? -1 : 1;
  workspace.runtime.run('linesOut', height, rowPiece, {
    out: onto.at,
    width,
    lines: held.rows.at,
    lit: held.lit,
    count: lines,
    n,
    cx,
    cy,
    swap: swap ? 1 : 0,
    radial: 0,
    side,
    slope: slope * side,
    shift: -least,
    start: 0,
    gain: 1,
  });
  workspace.drop(held.rows);
  workspace.drop(held.lit);
}

function radial(
  workspace: Workspace,
  out: Picture,
  from: Picture,
  [cx, cy]: readonly [number, number],
  filter: Filter,
  byAngle?: (turns: number) => number,
) {
  const { width, height } = from;
  for (const swap of [false, true]) {
    for (const side of [1, -1]) {
      // Along the axis away from the centre: whole pixels from `near` to `far`, at distances d0 … d1.
      const [c, other] = swap ? [cy, cx] : [cx, cy];
      const [n, across] = swap ? [height, width] : [width, height];
      const near = side > 0 ? Math.max(0, Math.ceil(c)) : Math.min(n - 1, Math.floor(c));
      const far = side > 0 ? n - 1 : 0;
      const count = (far - near) * side + 1;
      if (count <= 0) continue;
      const d0 = (near - c) * side;
      const d1 = (far - c) * side;
      if (d1 < 0.5) continue;
      // Slopes of the lines that meet the picture somewhere on their way, one pixel apart at the far end.
      const slopeTo = (y: number, d: number) => (y - other) / Math.max(d, 0.5);
      const ends = [-1, across].flatMap((y) => [slopeTo(y, d0), slopeTo(y, d1)]);
      const low = Math.max(-1, Math.min(...ends));
      const high = Math.min(1, Math.max(...ends));
      if (low >= high) continue;
      const lines = Math.ceil((high - low) * d1) + 2;
      const table = new Float32Array(lines * 3);
      for (let k = 0; k < lines; k++) {
        const slope = low + k / d1;
        // The way of the light as seen, upwards positive.
        const [x, y] = swap ? [slope, -side] : [side, -slope];
        const gain = byAngle ? byAngle(turnsOf(x, y)) : 1;
        table.set([slope, other, gain], k * 3);
      }
      const axes = { swap, back: side < 0, first: near, x0: d0 };
      const held = carried(workspace, from, { lines, n: count, table }, axes, filter);
      workspace.runtime.run('linesOut', height, rowPiece, {
        out: out.at,
        width,
        lines: held.rows.at,
        lit: held.lit,
        count: lines,
        n: count,
        cx,
        cy,
        swap: swap ? 1 : 0,
        radial: 1,
        side,
        slope: d1,
        shift: -low * d1,
        start: -d0,
        gain: 1,
      });
      workspace.drop(held.rows);
      workspace.drop(held.lit);
    }
  }
}
