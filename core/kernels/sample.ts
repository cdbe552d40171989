import { sinTurns } from '../math/elementary';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { draftSize } from '../picture/scale';
import type { Workspace } from './workspace';

const rowPiece = 16;

const sinc = (x: number) => (x === 0 ? 1 : sinTurns(x / 2) / (Math.PI * x));

/** Weight of a sample `x` pixels away, by filter; and how many samples each way counts. */
const filters = {
  bilinear: { taps: 2, weight: (x: number) => 1 - x },
  /** Mitchell & Netravali 1988, B = C = 1/3. */
  mitchell: {
    taps: 4,
    weight: (x: number) =>
      x < 1
        ? (7 * x ** 3 - 12 * x ** 2 + 16 / 3) / 6
        : ((-7 / 3) * x ** 3 + 12 * x ** 2 - 20 * x + 32 / 3) / 6,
  },
  lanczos: { taps: 6, weight: (x: number) => (x < 3 ? sinc(x) * sinc(x / 3) : 0) },
} as const;
export type Filter = keyof typeof filters;
const phases = 256;

/** Weights of a filter at each 1/256 of a pixel, each row of sum 1. */
export function filterTable(filter: Filter): Float64Array {
  const { taps, weight } = filters[filter];
  const table = new Float64Array((phases + 1) * taps);
  for (let p = 0; p <= phases; p++) {
    const row = Array.from({ length: taps }, (_, i) => weight(Math.abs(i - (taps / 2 - 1) - p / phases)));
    const sum = row.reduce((a, b) => a + b, 0);
    for (let i = 0; i < taps; i++) table[p * taps + i] = row[i] / sum;
  }
  return table;
}

/** Map from a pixel (x, y) of the result to the source: x' = a x + b y + c, y' = d x + e y + f, in pixels between centres. */
export type Affine = { a: number; b: number; c: number; d: number; e: number; f: number };

/**
 * A picture of `width` by `height` read from another through an affine map, black outside; alpha is held to [0, 1]. Positions are held to 1/256 pixel,
 * an error below 1/200 of the largest difference nearby. Not for making smaller: that is `shrink`.
 */
export function resample(
  workspace: Workspace,
  from: Picture,
  width: number,
  height: number,
  m: Affine,
  filter: Filter,
): Picture {
  const out = workspace.picture(width, height);
  const table = workspace.floats(filterTable(filter));
  workspace.runtime.run('resample', height, rowPiece, {
    out: out.at,
    width,
    from: from.at,
    fromWidth: from.width,
    fromHeight: from.height,
    ...m,
    table,
    taps: filters[filter].taps,
  });
  workspace.drop(table);
  return out;
}

/**
 * Adds to `onto` another picture of its size, thrown about the middle: in red, green and blue at `scales` times its size (below 0 turned
 * around), times `gains`. Black outside; alpha stays.
 */
export function addThrown(workspace: Workspace, onto: Picture, from: Picture, scales: Rgb, gains: Rgb) {
  const { width, height } = from;
  const seen = scales.map((s) => 1 / s);
  workspace.runtime.run('addThrown', height, rowPiece, {
    out: onto.at,
    from: from.at,
    width,
    height,
    scaleR: seen[0],
    scaleG: seen[1],
    scaleB: seen[2],
    red: gains[0],
    green: gains[1],
    blue: gains[2],
  });
}

/** For each new index the first old one it covers, how many, and their shares (sum 1 each). */
function covers(from: number, to: number, first: number): { index: number[]; shares: number[] } {
  const ratio = from / to;
  const index: number[] = [];
  const shares: number[] = [];
  for (let i = 0; i < to; i++) {
    const [start, end] = [i * ratio, Math.min(from, (i + 1) * ratio)];
    const begin = Math.floor(start);
    const at = shares.length;
    for (let j = begin; j < end - 1e-9; j++)
      shares.push((Math.min(end, j + 1) - Math.max(start, j)) / (end - start));
    index.push(begin, shares.length - at, first + at);
  }
  return { index, shares };
}

/**
 * A picture made smaller by averaging: each new pixel is the mean of the area it covers, with exact shares at the
 * edges, so the light in the picture is kept.
 */
export function shrink(workspace: Workspace, from: Picture, scale: number): Picture {
  const { width, height } = draftSize(from.width, from.height, scale);
  const across = covers(from.width, width, 0);
  const downwards = covers(from.height, height, across.shares.length);
  const out = workspace.picture(width, height, from.channels);
  const [tx, ty] = [workspace.ints(across.index), workspace.ints(downwards.index)];
  const shares = workspace.floats([...across.shares, ...downwards.shares]);
  const kernel = from.channels === 1 ? 'shrinkPlane' : 'shrink';
  workspace.runtime.run(kernel, height, rowPiece, {
    out: out.at,
    width,
    from: from.at,
    fromWidth: from.width,
    columns: tx,
    rows: ty,
    shares,
  });
  for (const at of [tx, ty, shares]) workspace.drop(at);
  return out;
}

/** Data passes are never averaged: the pixel at the centre of each new one. */
export function pickCentres(workspace: Workspace, from: Picture, scale: number): Picture {
  const { width, height } = draftSize(from.width, from.height, scale);
  const out = workspace.picture(width, height, from.channels);
  const n = from.channels;
  for (let y = 0; y < height; y++) {
    const row = Math.floor(((y + 0.5) * from.height) / height) * from.width;
    for (let x = 0; x < width; x++) {
      const source = (row + Math.floor(((x + 0.5) * from.width) / width)) * n;
      for (let c = 0; c < n; c++) out.data[(y * width + x) * n + c] = from.data[source + c];
    }
  }
  return out;
}
