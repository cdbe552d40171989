/** Radial distortion (D. C. Brown 1971, *Close-Range Camera Calibration*): r' = r (1 + k₁ r² + k₂ r⁴ + k₃ r⁶), r in half diagonals of the frame. */
export type Distortion = { k1: number; k2: number; k3: number };

/** By how much a distance r of the undistorted picture is multiplied. */
export const distortedBy = ({ k1, k2, k3 }: Distortion, r: number): number => {
  const r2 = r * r;
  return 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
};

const mostSteps = 30;

/**
 * By how much a distance of the distorted picture is multiplied to come back, by Newton's method from the distance itself. Where the way out turns back, and
 * so has no inverse, it stays at the turning point.
 */
export function undistortedBy(k: Distortion, distorted: number): number {
  if (distorted === 0) return 1;
  let r = distorted;
  for (let i = 0; i < mostSteps; i++) {
    const r2 = r * r;
    const slope = 1 + r2 * (3 * k.k1 + r2 * (5 * k.k2 + r2 * 7 * k.k3));
    if (slope <= 1e-3) {
      r *= 0.9;
      continue;
    }
    const step = (r * distortedBy(k, r) - distorted) / slope;
    r = Math.max(0, r - step);
    if (Math.abs(step) < 1e-9) break;
  }
  return r / distorted;
}

/**
 * How much a picture is to be enlarged so that each pixel of the frame comes from inside of it: at least 1. `factor` says by how much the distance of a
 * pixel is multiplied to where it is read; the frame's borders lie from `nearest` (half its shorter side) to 1, in half diagonals.
 */
export function fillScale(factor: (r: number) => number, nearest: number): number {
  const radii = Array.from({ length: 65 }, (_, i) => nearest + ((1 - nearest) * i) / 64);
  const isFull = (s: number) => radii.every((r) => factor(r / s) / s <= 1);
  if (isFull(1)) return 1;
  let [low, high] = [1, 2];
  while (!isFull(high) && high < 64) high *= 2;
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (isFull(middle)) high = middle;
    else low = middle;
  }
  return high;
}
