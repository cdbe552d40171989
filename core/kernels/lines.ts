import { cosTurns, sinTurns } from '../math/elementary';
import type { Picture } from '../picture/picture';
import type { Workspace } from './workspace';

/**
 * Families of straight lines across a picture. The picture is sampled along each line, the line is filtered, and the result is written back to the
 * picture. Lines pass through pixel centres of one axis, so only the other axis is interpolated. There are no sample steps, so there is no banding.
 */

const linePiece = 16;
const rowPiece = 16;

/** A family of lines y = slope·z + offset, z along the major axis. `table` has three numbers per line: slope, offset, gain of its light. */
export type Family = {
  /** Number of columns (rows with `swap`) along the lines, from `first` on, backwards with `back`. */
  n: number;
  swap: boolean;
  back: boolean;
  first: number;
  /** z of the first column. */
  x0: number;
  /** The line starts this far before the first column, 0 to 1; the picture has a column there if `before`. */
  lead: number;
  before: boolean;
  table: Float64Array;
};

/** Filter of a line: see the kernels `linesIn` and `gatherIn`. */
export type AlongLine =
  | { type: 'mean'; values: readonly number[] }
  | { type: 'blocked' | 'gaussian'; values: readonly number[] };

/** Filtered lines, one per row, and a flag per line: 1 if it has any light. */
type Carried = { rows: Picture; lit: number; count: number };

/** Samples the lines of a family and filters them. */
export function carried(workspace: Workspace, from: Picture, f: Family, filter: AlongLine): Carried {
  const { width, height } = from;
  const count = f.table.length / 3;
  const rows = workspace.picture(f.n, Math.max(1, count));
  const lit = workspace.bytes(count + 1);
  const table = workspace.doubles(f.table);
  const stride = f.swap ? width * 16 : 16;
  const args = {
    out: rows.at,
    from: from.at + f.first * stride,
    count,
    n: f.n,
    across: f.swap ? width : height,
    along: f.back ? -stride : stride,
    step: f.swap ? 16 : width * 16,
    x0: f.x0,
    byPlace: f.swap ? 1 : 0,
    table,
    lit,
  };
  const values = filter.type === 'mean' ? workspace.doubles(filter.values) : workspace.floats(filter.values);
  if (filter.type === 'mean')
    workspace.runtime.run('gatherIn', count, linePiece, {
      ...args,
      lead: f.lead,
      before: f.before ? 1 : 0,
      values,
    });
  else
    workspace.runtime.run('linesIn', count, linePiece, {
      ...args,
      mode: filter.type === 'blocked' ? 1 : 2,
      values,
    });
  workspace.drop(table);
  workspace.drop(values);
  return { rows, lit, count };
}

/** How lines map to pixels: see the kernel `linesOut`. */
type PutBack = {
  cx: number;
  cy: number;
  radial: boolean;
  side: 1 | -1;
  slope: number;
  low: number;
  density: number;
  start: number;
};

/** Adds lines to a picture, and frees their memory. */
export function putBack(workspace: Workspace, onto: Picture, lines: Carried, f: Family, p: PutBack) {
  workspace.runtime.run('linesOut', onto.height, rowPiece, {
    ...p,
    out: onto.at,
    width: onto.width,
    lines: lines.rows.at,
    lit: lines.lit,
    count: lines.count,
    n: f.n,
    swap: f.swap ? 1 : 0,
    radial: p.radial ? 1 : 0,
  });
  workspace.drop(lines.rows);
  workspace.drop(lines.lit);
}

/**
 * Parallel lines at an angle, one pixel apart on the minor axis: line k, from `least` on, is at k + slope·a, a pixels along the major axis, which
 * is the vertical one with `swap`. `major` is the component of the angle's unit vector along the major axis.
 */
export function parallels(angle: number, width: number, height: number, back = false) {
  const [ux, uy] = [cosTurns(angle / 360), -sinTurns(angle / 360)];
  const swap = Math.abs(uy) > Math.abs(ux);
  const [major, minor] = swap ? [uy, ux] : [ux, uy];
  const [n, across] = swap ? [height, width] : [width, height];
  const slope = (back ? -1 : 1) * (minor / major);
  const least = Math.floor(Math.min(0, -slope * (n - 1))) - 1;
  const most = Math.ceil(Math.max(across, across - slope * (n - 1))) + 1;
  return { swap, major, n, slope, least, lines: most - least + 1 };
}

/**
 * Filters a picture along parallel lines, `density` lines per pixel, and adds the result to `onto`. With `oneWay` the filter runs in the direction
 * of the angle. `gain` is the gain of a line by its distance from the picture's middle, in picture widths.
 */
export function alongAngle(
  workspace: Workspace,
  onto: Picture,
  from: Picture,
  angle: number,
  options: { oneWay: boolean; density: number; gain?: (beside: number) => number },
  filter: (step: number) => AlongLine,
) {
  const { width, height } = from;
  const { density } = options;
  const back = options.oneWay && parallels(angle, width, height).major < 0;
  const { swap, major, n, slope, least, lines } = parallels(angle, width, height, back);
  const table = new Float64Array(((lines - 1) * density + 1) * 3);
  // Offset of the line through the picture's middle.
  const middle = (swap ? width - 1 : height - 1) / 2 - (slope * (n - 1)) / 2;
  for (let k = 0; k * 3 < table.length; k++) {
    const offset = k / density + least;
    const beside = ((offset - middle) * Math.abs(major)) / width;
    table.set([slope, offset, options.gain?.(beside) ?? 1], k * 3);
  }
  const first = back ? n - 1 : 0;
  const family = { n, swap, back, first, x0: 0, lead: 1, before: false, table };
  const held = carried(workspace, from, family, filter(Math.abs(major)));
  // Relative to the first pixel along the light.
  const [cx, cy] = swap ? [0, first] : [first, 0];
  const side = back ? -1 : 1;
  const place = { cx, cy, radial: false, side, slope: slope * side, low: least, density, start: 0 } as const;
  putBack(workspace, onto, held, family, place);
}
