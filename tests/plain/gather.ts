import type { Picture } from '../../core/picture/picture';

/** A channel of a picture joined bilinearly at (x, y); outside it is nothing. */
export function bilinear(p: Picture, x: number, y: number, c = 0): number {
  const [ix, iy] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - ix, y - iy];
  const value = (u: number, v: number) =>
    u < 0 || v < 0 || u >= p.width || v >= p.height ? 0 : p.data[(v * p.width + u) * 4 + c];
  return (
    (1 - fy) * ((1 - fx) * value(ix, iy) + fx * value(ix + 1, iy)) +
    fy * ((1 - fx) * value(ix, iy + 1) + fx * value(ix + 1, iy + 1))
  );
}

/**
 * The mean of the light from a pixel to the end of its way, (dx, dy) from it, weights (1 − t)^falloff, by many samples in double precision
 * (Mitchell, GPU Gems 3, ch. 13, eq. 4, with the weights of `docs/finish-format.md`).
 */
export function gathered(
  p: Picture,
  x: number,
  y: number,
  [dx, dy]: readonly [number, number],
  falloff: number,
  samples = 4096,
): number {
  let sum = 0;
  for (let k = 0; k < samples; k++) {
    // The weight of each sample is its part of ∫ (f + 1)(1 − t)^f dt, exactly.
    const [from, to] = [1 - k / samples, 1 - (k + 1) / samples];
    const weight = from ** (falloff + 1) - to ** (falloff + 1);
    const t = (k + 0.5) / samples;
    sum += weight * bilinear(p, x + dx * t, y + dy * t);
  }
  return sum;
}
