import type { Picture } from '../picture/picture';
import { like, onPixels } from './point';
import { frameOf, type Workspace } from './workspace';

/** What a lens, a shutter and film do to pictures: typed faces of `assembly/lens.ts`. */

const rowPiece = 8;
/** The middle of the frame in pixels of the picture, between pixel centres. */
function middleIn(workspace: Workspace, picture: Picture) {
  const frame = frameOf(workspace, picture);
  return { x: (frame.width - 1) / 2 - frame.x, y: (frame.height - 1) / 2 - frame.y };
}

/**
 * Unsharp masking: c + amount · (c − blurred), past a `threshold` of the difference in luminance, one share for all channels; at most `limit` of the pixel's own
 * luminance is added or taken, so that edges get no halo (0: no limit). Alpha stays.
 */
export const unsharp = (
  workspace: Workspace,
  picture: Picture,
  blurred: Picture,
  { amount, threshold, limit }: { amount: number; threshold: number; limit: number },
) =>
  onPixels(workspace, 'unsharp', like(workspace, picture), {
    from: picture.at,
    blurred: blurred.at,
    amount,
    threshold,
    limit,
  });

/** Fall-off: cos⁴ of the angle to the axis for a focal length in pixels, or a smooth edge from a distance on over another; distances are scaled by `sx`, `sy`. */
export function vignetted(
  workspace: Workspace,
  picture: Picture,
  by:
    | { type: 'natural'; focal: number; amount: number }
    | { type: 'edge'; sx: number; sy: number; from: number; over: number; amount: number },
): Picture {
  const out = like(workspace, picture);
  const { x, y } = middleIn(workspace, picture);
  const natural = by.type === 'natural';
  workspace.runtime.run('vignette', picture.height, rowPiece, {
    out: out.at,
    from: picture.at,
    width: picture.width,
    x0: x,
    y0: y,
    sx: natural ? 1 : by.sx,
    sy: natural ? 1 : by.sy,
    mode: natural ? 0 : 1,
    a: natural ? by.focal : by.from,
    b: natural ? 1 : Math.max(1e-6, by.over),
    amount: by.amount,
  });
  return out;
}

/** A picture read at `factor(r)` times each distance r from the frame's middle (pixels), by cubic convolution; nothing outside. */
export function radially(workspace: Workspace, picture: Picture, factor: (r: number) => number): Picture {
  const { width, height } = picture;
  const { x, y } = middleIn(workspace, picture);
  const furthest = Math.ceil(Math.sqrt(Math.max(x, width - x) ** 2 + Math.max(y, height - y) ** 2) + 2);
  const perRadius = 4;
  const size = furthest * perRadius + 2;
  const table = workspace.floats(Float64Array.from({ length: size }, (_, i) => factor(i / perRadius)));
  const out = like(workspace, picture);
  workspace.runtime.run('radial', height, rowPiece, {
    out: out.at,
    from: picture.at,
    width,
    height,
    cx: x,
    cy: y,
    table,
    size,
    perRadius,
  });
  workspace.drop(table);
  return out;
}

/** Of one wavelength: how much larger its picture is, and its weights in red, green, blue and alpha, each of which sum to 1. */
export type FringeSample = { scale: number; weights: readonly [number, number, number, number] };

/** Sum of pictures of several sizes about the frame's middle; between pixels straight, the border goes on outside. */
export function fringed(workspace: Workspace, picture: Picture, samples: readonly FringeSample[]): Picture {
  const { width, height } = picture;
  const { x, y } = middleIn(workspace, picture);
  const records = workspace.floats(
    samples.flatMap(({ scale, weights }) => [1 / scale - 1, 0, 0, 0, ...weights]),
  );
  const out = like(workspace, picture);
  workspace.runtime.run('fringe', height, rowPiece, {
    out: out.at,
    from: picture.at,
    width,
    height,
    cx: x,
    cy: y,
    samples: records,
    count: samples.length,
  });
  workspace.drop(records);
  return out;
}

/** Noise of mean 0 and variance 1 at the places of the frame: three channels of their own and one for all; the same on every host. */
export function whiteNoise(workspace: Workspace, picture: Picture, seed: number): Picture {
  const out = like(workspace, picture);
  const frame = frameOf(workspace, picture);
  workspace.runtime.run('whiteNoise', picture.height, rowPiece, {
    out: out.at,
    width: picture.width,
    x0: frame.x,
    y0: frame.y,
    seed,
  });
  return out;
}

/** Light times 1 + noise, by a strength over stops of its brightness from `first` on. */
export function grained(
  workspace: Workspace,
  picture: Picture,
  noise: Picture,
  o: { own: number; shared: number; strength: ArrayLike<number>; first: number; perStop: number },
): Picture {
  const table = workspace.floats(o.strength);
  const out = onPixels(workspace, 'grained', like(workspace, picture), {
    from: picture.at,
    noise: noise.at,
    own: o.own,
    shared: o.shared,
    table,
    size: o.strength.length,
    first: o.first,
    perStop: o.perStop,
  });
  workspace.drop(table);
  return out;
}

const squareSide = 16;
const bytesOfSquare = 16;
/** Samples along the longest way. */
const mostSamples = 160;

/**
 * What moves while a shutter is open, from `begin` to `end` of its way in one frame: all by one vector (pixels, rows downwards), or each pixel by its own.
 * See `smear` in `assembly/lens.ts`.
 */
export function smeared(
  workspace: Workspace,
  picture: Picture,
  by: { vector: readonly [number, number] } | { vectors: Picture; scale: readonly [number, number] },
  [begin, end]: readonly [number, number],
): Picture {
  const { width, height } = picture;
  const out = like(workspace, picture);
  const [across, down] = [Math.ceil(width / squareSide), Math.ceil(height / squareSide)];
  const [ax, ay] = 'vector' in by ? by.vector : by.scale;
  const vectors = 'vector' in by ? 0 : by.vectors.at;
  const squares = vectors ? workspace.bytes(across * down * bytesOfSquare) : 0;
  if (vectors)
    workspace.runtime.run('longestVectors', down, 1, {
      out: squares,
      vectors,
      width,
      height,
      side: squareSide,
      across,
      ax,
      ay,
    });
  workspace.runtime.run('smear', height, rowPiece, {
    out: out.at,
    from: picture.at,
    vectors,
    width,
    height,
    ax,
    ay,
    begin,
    end,
    squares,
    side: squareSide,
    across,
    down,
    most: mostSamples,
  });
  if (squares) workspace.drop(squares);
  return out;
}

/** A picture convolved with a small square of weights, black outside. */
export function convolvedSmall(
  workspace: Workspace,
  picture: Picture,
  kernel: Float32Array,
  side: number,
): Picture {
  const half = side >> 1;
  const used = Array.from(kernel, (weight, i) => ({
    weight,
    x: half - (i % side),
    y: half - Math.floor(i / side),
  })).filter((t) => t.weight !== 0);
  const records = new Float32Array(used.length * 4);
  const ints = new Int32Array(records.buffer);
  for (const [i, { weight, x, y }] of used.entries()) {
    // What lies to the right comes from the left.
    ints.set([x, y, (y * picture.width + x) * 16], i * 4);
    records[i * 4 + 3] = weight;
  }
  const taps = workspace.ints(ints);
  const out = like(workspace, picture);
  workspace.runtime.run('convolveSmall', picture.height, rowPiece, {
    out: out.at,
    from: picture.at,
    width: picture.width,
    height: picture.height,
    taps,
    count: used.length,
    reach: half,
  });
  workspace.drop(taps);
  return out;
}
