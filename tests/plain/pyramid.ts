import { type Plane, plane } from './plane';

/**
 * A pyramid of planes, each half the size of the one before, that keeps light exactly and does not shimmer.
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

/** A level: its plane, and how far (0 or `margin`) it reaches beyond the picture. */
export type Level = { plane: Plane; margin: number; inner: { width: number; height: number } };

export const bottom = (p: Plane): Level => ({
  plane: p,
  margin: 0,
  inner: { width: p.width, height: p.height },
});

const downMask = [1, 6, 15, 20, 15, 6, 1].map((w) => w / 64);

function downRows(from: Plane, fromMargin: number, width: number): Plane {
  const to = plane(width, from.height);
  for (let y = 0; y < from.height; y++) {
    const row = y * from.width;
    for (let i = 0; i < width; i++) {
      const centre = 2 * (i - margin) + fromMargin;
      let sum = 0;
      for (let k = -3; k <= 3; k++) {
        const x = centre + k;
        if (x >= 0 && x < from.width) sum += from.data[row + x] * downMask[k + 3];
      }
      to.data[y * width + i] = sum;
    }
  }
  return to;
}

function downColumns(from: Plane, fromMargin: number, height: number): Plane {
  const { width } = from;
  const to = plane(width, height);
  for (let i = 0; i < height; i++) {
    const centre = 2 * (i - margin) + fromMargin;
    for (let k = -3; k <= 3; k++) {
      const y = centre + k;
      if (y < 0 || y >= from.height) continue;
      const weight = downMask[k + 3];
      for (let x = 0; x < width; x++) to.data[i * width + x] += from.data[y * width + x] * weight;
    }
  }
  return to;
}

export function down(from: Level): Level {
  const inner = { width: (from.inner.width + 1) >> 1, height: (from.inner.height + 1) >> 1 };
  const across = downRows(from.plane, from.margin, inner.width + 2 * margin);
  return { plane: downColumns(across, from.margin, inner.height + 2 * margin), margin, inner };
}

/** For position `i` of a finer line: the coarser samples it is made of. `at` may lie outside; those count as 0. */
function upTaps(i: number, fineMargin: number): { at: number; weights: number[] } {
  const fine = i - fineMargin;
  const coarse = Math.floor(fine / 2) + margin;
  return fine % 2 === 0
    ? { at: coarse - 1, weights: [6 / 32, 20 / 32, 6 / 32] }
    : { at: coarse - 1, weights: [1 / 32, 15 / 32, 15 / 32, 1 / 32] };
}

/** The coarser level `from`, brought to the size of `like` and added to it (in place). */
export function addUp(like: Level, from: Level) {
  const fine = like.plane;
  const coarse = from.plane;
  const tall = plane(coarse.width, fine.height);
  for (let y = 0; y < fine.height; y++) {
    const { at, weights } = upTaps(y, like.margin);
    weights.forEach((weight, k) => {
      if (at + k < 0 || at + k >= coarse.height) return;
      const row = (at + k) * coarse.width;
      for (let x = 0; x < coarse.width; x++) tall.data[y * coarse.width + x] += coarse.data[row + x] * weight;
    });
  }
  for (let x = 0; x < fine.width; x++) {
    const { at, weights } = upTaps(x, like.margin);
    const inside = weights
      .map((weight, k) => ({ weight, x: at + k }))
      .filter((t) => t.x >= 0 && t.x < coarse.width);
    for (let y = 0; y < fine.height; y++) {
      let sum = 0;
      for (const tap of inside) sum += tall.data[y * coarse.width + tap.x] * tap.weight;
      fine.data[y * fine.width + x] += sum;
    }
  }
}
