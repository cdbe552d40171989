import { cosTurns, sinTurns } from '../math/elementary';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { gaussian, gaussianPlane } from './gaussian';
import { combine, planeLike } from './plane';
import { like, onPixels } from './point';
import { frameOf, type Workspace } from './workspace';

const rowPiece = 16;

/**
 * A colour on a picture where a matte is, times `amount`: multiplied, c(1 + k(colour − 1)), or as a tint, c + k(colour·α − c), on
 * premultiplied colour. Alpha stays; where the matte is 0, every bit does.
 */
export const shade = (
  workspace: Workspace,
  picture: Picture,
  matte: Picture | undefined,
  colour: Rgb,
  amount: number,
  mode: 'multiply' | 'tint',
) =>
  onPixels(workspace, 'shade', like(workspace, picture), {
    from: picture.at,
    matte: matte?.at ?? 0,
    red: colour[0],
    green: colour[1],
    blue: colour[2],
    amount,
    mode: mode === 'tint' ? 1 : 0,
  });

/**
 * Of a figure's coverage the share that a matte covers, both drawn along the same edges: one that ends where the figure does covers all of its
 * edge, with no fringe. A soft matte (by `sigma` pixels) fades inside the figure alone. Nothing where there is no figure.
 */
export function shareWithin(workspace: Workspace, matte: Picture, figure: Picture, sigma: number): Picture {
  const inside = combine(workspace, matte, figure, 'intersect');
  const [part, all] =
    sigma > 0
      ? [gaussianPlane(workspace, inside, sigma), gaussianPlane(workspace, figure, sigma)]
      : [inside, figure];
  return onPixels(workspace, 'shareOf', planeLike(workspace, matte), { part: part.at, all: all.at });
}

/** (1 − (r/reach)²)² of the distance r from a point in pixels of the picture: 1 there, 0 from `reach` on. */
export function fadeAround(
  workspace: Workspace,
  like: Picture,
  x: number,
  y: number,
  reach: number,
): Picture {
  const out = planeLike(workspace, like);
  workspace.runtime.run('fadeAround', like.height, rowPiece, {
    out: out.at,
    width: like.width,
    cx: x,
    cy: y,
    reach: Math.max(1e-3, reach),
  });
  return out;
}

/** The same by distances in a plane. */
export const fadeAway = (workspace: Workspace, distances: Picture, reach: number) =>
  onPixels(workspace, 'fadeAway', planeLike(workspace, distances), {
    from: distances.at,
    reach: Math.max(1e-3, reach),
  });

/**
 * Colours of a picture carried outwards to fill a larger matte: of each pixel the mean of the colours nearby, weighted by a Gaussian of `sigma`
 * pixels and their coverage, times the matte.
 */
export function spreadUnder(workspace: Workspace, picture: Picture, matte: Picture, sigma: number): Picture {
  const blurred = gaussian(workspace, picture, Math.max(0.5, sigma));
  const out = keptUnder(workspace, blurred, matte);
  workspace.drop(blurred);
  return out;
}

/** A picture's own colours under another matte, which becomes its alpha; nothing where the picture has none. */
export const keptUnder = (workspace: Workspace, picture: Picture, matte: Picture) =>
  onPixels(workspace, 'spreadUnder', like(workspace, picture), { from: picture.at, matte: matte.at });

export type Warp = {
  /** The furthest that a pixel is carried, and how wide the noise’s cells are, in pixels. */
  amount: number;
  noiseSize: number;
  /** Sizes in each other: each half as wide and half as strong. */
  octaves: number;
  /** To all sides, or along an angle in degrees, counter-clockwise as seen. */
  along?: number;
  /** How far the noise itself has moved, in pixels of the picture, rows downwards; and its third dimension. */
  moved: readonly [number, number];
  phase: number;
  seed: number;
  border: 'empty' | 'continued';
};

const side = 32;

/** For each square of 32 pixels 1 if it has any non-zero pixel within `reach` pixels, else 0. */
function busySquares({ width, height, data }: Picture, reach: number): Uint8Array {
  const [across, down] = [Math.ceil(width / side), Math.ceil(height / side)];
  const filled = new Uint8Array(across * down);
  for (let y = 0, p = 0; y < height; y++) {
    const row = Math.floor(y / side) * across;
    for (let x = 0; x < width; x++, p += 4)
      // Also what is not a number is something.
      if (data[p] !== 0 || data[p + 1] !== 0 || data[p + 2] !== 0 || data[p + 3] !== 0)
        filled[row + Math.floor(x / side)] = 1;
  }
  const far = Math.ceil(reach / side);
  return filled.map((_, i) => {
    const [cx, cy] = [i % across, Math.floor(i / across)];
    for (let y = Math.max(0, cy - far); y <= Math.min(down - 1, cy + far); y++)
      for (let x = Math.max(0, cx - far); x <= Math.min(across - 1, cx + far); x++)
        if (filled[y * across + x]) return 1;
    return 0;
  });
}

/**
 * Each pixel of a picture read as far beside itself as gradient noise says (Perlin 2002, *Improving Noise*, with a hash in place of its table of
 * permutations). The noise lies still in the frame: what uses the same one moves together.
 */
export function warp(workspace: Workspace, picture: Picture, v: Warp): Picture {
  const { width, height } = picture;
  const out = workspace.picture(width, height);
  const frame = frameOf(workspace, picture);
  const [ax, ay] =
    v.along === undefined
      ? [v.amount, v.amount]
      : [v.amount * cosTurns(v.along / 360), -v.amount * sinTurns(v.along / 360)];
  // Noise of several sizes never passes 1 by a tenth.
  const squares = busySquares(picture, v.amount * 1.1 + 2);
  const busy = workspace.bytes(squares.length);
  new Uint8Array(workspace.runtime.arena.memory.buffer, busy, squares.length).set(squares);
  workspace.runtime.run('warp', height, rowPiece, {
    out: out.at,
    from: picture.at,
    width,
    height,
    ox: frame.x + 0.5 - v.moved[0],
    oy: frame.y + 0.5 - v.moved[1],
    ax,
    ay,
    one: v.along === undefined ? 0 : 1,
    cells: 1 / v.noiseSize,
    octaves: v.octaves,
    z: v.phase,
    seed: v.seed,
    edge: v.border === 'continued' ? 1 : 0,
    busy,
  });
  workspace.drop(busy);
  return out;
}
