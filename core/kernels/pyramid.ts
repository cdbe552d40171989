import type { Picture } from '../picture/picture';
import { blurInto, gaussianTaps } from './gaussian';
import type { Workspace } from './workspace';

/**
 * A pyramid of pictures, each half the size of the one before, that keeps light exactly and does not shimmer.
 *
 * Down: the binomial 1 6 15 20 15 6 1 / 64 about every second pixel (the construction of Burt & Adelson 1983, *The Laplacian
 * Pyramid as a Compact Image Code*, one order higher). Up: the subdivision mask of the uniform quintic B-spline, 6 20 6 / 32 and
 * 1 15 15 1 / 32, its mirror image. Both are close to Gaussians of variance 3/2 in pixels of the finer level, so what comes back from
 * level L is blurred by a variance of 4^L − 1 pixels of level 0; their fourth cumulant, −3/4 each, is taken off where a blur is made. Every
 * input pixel gives the same weight to the sum of its level wherever it stands: light moved by fractions of a pixel does not change its total.
 *
 * Levels below the first reach `margin` pixels beyond the picture on each side, so light that leaves the frame on
 * the way down can come back on the way up.
 */
export const margin = 3;

/** A level: its picture, how far (0 or `margin`) it reaches beyond the frame, and the frame's size on it. */
export type Level = { picture: Picture; margin: number; width: number; height: number };

export const bottom = (p: Picture): Level => ({ picture: p, margin: 0, width: p.width, height: p.height });

/** Variance, in pixels² of level 0, of going down to `level` and back up. */
export const varianceOfLevel = (level: number) => 4 ** level - 1;

const rowPiece = 16;

export function down(workspace: Workspace, from: Level): Level {
  const [width, height] = [(from.width + 1) >> 1, (from.height + 1) >> 1];
  const { picture: p } = from;
  const out = workspace.picture(width + 2 * margin, height + 2 * margin);
  workspace.runtime.run('down', out.height, rowPiece, {
    out: out.at,
    width: out.width,
    fine: p.at,
    fineWidth: p.width,
    fineHeight: p.height,
    fineMargin: from.margin,
  });
  return { picture: out, margin, width, height };
}

/** The coarser level `from`, brought to the size of `like` and added to it, in place. */
export function addUp(workspace: Workspace, like: Level, from: Level) {
  const { picture: p } = like;
  workspace.runtime.run('addUp', p.height, rowPiece, {
    out: p.at,
    width: p.width,
    ownMargin: like.margin,
    coarse: from.picture.at,
    coarseWidth: from.picture.width,
  });
}

/**
 * Least variance, in the level's own pixels, that is left to blur at a coarse level. It hides the level's grid: with less, the peak of a small light
 * would depend on its position in the grid by more than 1 %.
 */
const leastVariance = 0.85;

/**
 * Half of the kernel that makes a Gaussian of `sigma` (pixels of level 0) at a level: a sampled Gaussian of the variance that is left, plus a share of
 * its fourth difference, which compensates the negative fourth cumulant of the pyramid's own filters.
 */
export function ownTaps(sigma: number, level: number): Float64Array {
  const taps = gaussianTaps(Math.sqrt(Math.max(0, sigma * sigma - varianceOfLevel(level)) / 4 ** level));
  if (level === 0) return taps;
  const share = ((3 / 2) * (1 - 1 / 16 ** level)) / 15 / 24;
  const at = (i: number) => taps[Math.abs(i)] ?? 0;
  return Float64Array.from(
    { length: taps.length + 2 },
    (_, i) => at(i) + share * (at(i - 2) - 4 * at(i - 1) + 6 * at(i) - 4 * at(i + 1) + at(i + 2)),
  );
}

/** The coarsest level at which a Gaussian of `sigma` pixels still has variance of its own to add. */
export function levelFor(sigma: number): number {
  let level = 0;
  while ((sigma * sigma - varianceOfLevel(level + 1)) / 4 ** (level + 1) >= leastVariance) level++;
  return level;
}

/**
 * Σ weight · Gaussian(sigma) of a picture, black outside. Wide Gaussians are worked on coarse levels of a pyramid,
 * whose own variance is taken off first. Keeps Σ weight of the light (up to float rounding) as far as it stays in
 * the frame. For every σ from 0.5 to 512 and every place of a light its peak and its variance are within 1 % of the exact Gaussian's.
 */
export function sumOfGaussians(
  workspace: Workspace,
  from: Picture,
  kernels: { sigma: number; weight: number }[],
): Picture {
  const placed = kernels.map((k) => ({ ...k, level: levelFor(k.sigma) }));
  const top = Math.max(0, ...placed.map((k) => k.level));
  const levels = [bottom(from)];
  while (levels.length <= top) levels.push(down(workspace, levels[levels.length - 1]));

  let sum: Level | undefined;
  for (let l = top; l >= 0; l--) {
    workspace.runtime.checkpoint();
    const level = levels[l];
    const { picture } = level;
    const own = placed.filter((k) => k.level === l);
    const here = own.length
      ? workspace.picture(picture.width, picture.height)
      : workspace.blank(picture.width, picture.height);
    own.forEach(({ sigma, weight }, i) => {
      blurInto(workspace, here, picture, ownTaps(sigma, l), weight, i > 0);
    });
    const next: Level = { ...level, picture: here };
    if (sum) {
      addUp(workspace, next, sum);
      workspace.drop(sum.picture);
    }
    if (l > 0) workspace.drop(picture);
    sum = next;
  }
  return sum!.picture;
}
