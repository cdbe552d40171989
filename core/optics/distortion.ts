/** Radial distortion (D. C. Brown 1971, *Close-Range Camera Calibration*): r' = r (1 + k₁ r² + k₂ r⁴ + k₃ r⁶), r in half diagonals of the frame. */
export type Distortion = { k1: number; k2: number; k3: number };

/** By how much a distance r of the undistorted picture is multiplied. */
export const distortedBy = ({ k1, k2, k3 }: Distortion, r: number): number => {
  const r2 = r * r;
  return 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
};

/** No distance of a picture is larger, in half diagonals. */
const furthest = 100;
const mostSteps = 60;

/** The slope of the way out at r, by u = r². */
const slopeAt = ({ k1, k2, k3 }: Distortion, u: number) => 1 + u * (3 * k1 + u * (5 * k2 + u * 7 * k3));

/** Between `low`, where a condition does not hold, and `high`, where it does: the nearest to where that changes, on both sides. */
function boundary(low: number, high: number, holds: (x: number) => boolean): [number, number] {
  let [from, to] = [low, high];
  for (let i = 0; i < mostSteps; i++) {
    const middle = (from + to) / 2;
    if (holds(middle)) to = middle;
    else from = middle;
  }
  return [from, to];
}

/** Where the way out first turns back, and its slope falls to 0; `furthest` where it does not. */
function turningPoint(k: Distortion): number {
  const isBack = (u: number) => slopeAt(k, u) <= 0;
  // Between the extremes of the slope it only rises or only falls.
  const [a, b, c] = [21 * k.k3, 5 * k.k2, 3 * k.k1];
  const root = Math.sqrt(b * b - a * c);
  const extremes = [(-b - root) / a, (-b + root) / a, -c / (2 * b)].filter(
    (u) => u > 0 && u < furthest * furthest,
  );
  const ends = [...extremes.sort((p, q) => p - q), furthest * furthest];
  const end = ends.findIndex(isBack);
  return end < 0 ? furthest : Math.sqrt(boundary(ends[end - 1] ?? 0, ends[end], isBack)[0]);
}

/**
 * By how much a distance of the distorted picture is multiplied to come back, by Newton's method between bounds. Where the way out turns back, and
 * so has no inverse, it stays at the turning point.
 */
export function undistorting(k: Distortion): (distorted: number) => number {
  const turn = turningPoint(k);
  const most = turn * distortedBy(k, turn);
  return (distorted) => {
    if (distorted < 1e-9) return 1;
    if (distorted >= most) return turn / distorted;
    let [low, high] = [0, turn];
    let r = Math.min(distorted, turn);
    for (let i = 0; i < mostSteps; i++) {
      const off = r * distortedBy(k, r) - distorted;
      if (off > 0) high = r;
      else low = r;
      const next = r - off / slopeAt(k, r * r);
      const inside = next >= low && next <= high ? next : (low + high) / 2;
      const step = Math.abs(inside - r);
      r = inside;
      if (step < 1e-9) break;
    }
    return r / distorted;
  };
}

/**
 * How much a picture is to be enlarged so that each pixel of the frame comes from inside of it: at least 1. `factor` says by how much the distance of a
 * pixel is multiplied to where it is read; the frame's borders lie from `nearest` (half its shorter side) to 1, in half diagonals.
 */
export function fillScale(factor: (r: number) => number, nearest: number): number {
  const radii = Array.from({ length: 65 }, (_, i) => nearest + ((1 - nearest) * i) / 64);
  const isFull = (s: number) => radii.every((r) => Math.abs(factor(r / s)) / s <= 1);
  if (isFull(1)) return 1;
  let high = 2;
  while (!isFull(high) && high < 64) high *= 2;
  return boundary(1, high, isFull)[1];
}
