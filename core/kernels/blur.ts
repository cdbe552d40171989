import type { Picture } from '../picture/picture';
import { gaussian, gaussianTaps, recursiveCoefficients, recursiveFrom } from './gaussian';
import { copy, like } from './point';
import type { Workspace } from './workspace';

/** Gaussians of their own along x and y, with a choice of what lies outside the frame. */
export const blurEdges = ['black', 'continued', 'mirrored'] as const;
export type BlurEdge = (typeof blurEdges)[number];

/** One axis of a Gaussian: exact where narrow, recursive where wide. */
function along(workspace: Workspace, from: Picture, sigma: number, rows: boolean, edge: 0 | 1): Picture {
  const { width, height } = from;
  const out = like(workspace, from);
  if (sigma >= recursiveFrom) {
    const coefficients = workspace.floats(recursiveCoefficients(sigma));
    const args = { out: out.at, from: from.at, width, height, coefficients, edge };
    if (rows) workspace.runtime.run('recursiveRows', height, 16, args);
    else workspace.runtime.run('recursiveColumns', width, 32, args);
    workspace.drop(coefficients);
    return out;
  }
  const values = gaussianTaps(sigma);
  const taps = workspace.floats(values);
  const args = { out: out.at, from: from.at, width, height, taps, reach: values.length - 1, edge };
  if (rows) workspace.runtime.run('gaussianRows', height, 16, args);
  else workspace.runtime.run('gaussianColumns', height, Math.max(16, values.length), args);
  workspace.drop(taps);
  return out;
}

/** The picture with `margin` pixels of its mirror image on every side, as far as there are any. */
function mirrored(workspace: Workspace, from: Picture, mx: number, my: number): Picture {
  const { width, height } = from;
  const out = workspace.picture(width + 2 * mx, height + 2 * my);
  const fold = (i: number, n: number) => {
    const period = 2 * n;
    const k = ((i % period) + period) % period;
    return k < n ? k : period - 1 - k;
  };
  for (let y = 0; y < out.height; y++) {
    const line = fold(y - my, height) * width * 4;
    const to = y * out.width * 4;
    out.data.set(from.data.subarray(line, line + width * 4), to + mx * 4);
    for (let x = 0; x < mx; x++) {
      for (const [at, source] of [
        [x, fold(x - mx, width)],
        [out.width - 1 - x, fold(width + mx - 1 - x, width)],
      ] as const)
        out.data.copyWithin(to + at * 4, to + (mx + source) * 4, to + (mx + source) * 4 + 4);
    }
  }
  return out;
}

/** A picture blurred by Gaussians of `sx` and `sy` pixels: the errors are those of `gaussian`. */
export function blurred(
  workspace: Workspace,
  from: Picture,
  sx: number,
  sy: number,
  edge: BlurEdge,
): Picture {
  if (edge !== 'mirrored' && sx === sy && sx > 0) return gaussian(workspace, from, sx, edge);
  if (edge === 'mirrored') {
    const [mx, my] = [Math.ceil(5 * sx), Math.ceil(5 * sy)];
    const wide = mirrored(workspace, from, mx, my);
    const soft = blurred(workspace, wide, sx, sy, 'continued');
    workspace.drop(wide);
    const out = like(workspace, from);
    for (let y = 0; y < from.height; y++) {
      const at = ((y + my) * wide.width + mx) * 4;
      out.data.set(soft.data.subarray(at, at + from.width * 4), y * from.width * 4);
    }
    workspace.drop(soft);
    return out;
  }
  const outside = edge === 'black' ? 0 : 1;
  const across = sx > 0 ? along(workspace, from, sx, true, outside) : from;
  const both = sy > 0 ? along(workspace, across, sy, false, outside) : across;
  if (across !== from && both !== across) workspace.drop(across);
  return both === from ? copy(workspace, from) : both;
}
