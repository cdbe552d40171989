import type { Affine } from '../../core/kernels/sample';

/** Sampling by its definitions, one channel of RGBA at a time, in float64. */
type Rgba = { width: number; height: number; data: Float32Array };

const at = ({ width, height, data }: Rgba, x: number, y: number, c: number) =>
  x < 0 || y < 0 || x >= width || y >= height ? 0 : data[(y * width + x) * 4 + c];

/** A separable filter over `reach` pixels each way, its weights scaled to sum 1; alpha is held to [0, 1]. */
export function resample(
  p: Rgba,
  width: number,
  height: number,
  m: Affine,
  reach: number,
  weight: (x: number) => number,
): Float64Array {
  const taps = (f: number) => {
    const first = Math.floor(f) - reach + 1;
    const row = Array.from({ length: 2 * reach }, (_, i) => weight(Math.abs(first + i - f)));
    const sum = row.reduce((a, b) => a + b, 0);
    return { first, row: row.map((v) => v / sum) };
  };
  const sums = Float64Array.from({ length: width * height * 4 }, (_, i) => {
    const [c, x, y] = [i & 3, (i >> 2) % width, Math.floor((i >> 2) / width)];
    const [tx, ty] = [taps(m.a * x + m.b * y + m.c), taps(m.d * x + m.e * y + m.f)];
    let sum = 0;
    ty.row.forEach((wy, j) => {
      tx.row.forEach((wx, k) => {
        sum += wx * wy * at(p, tx.first + k, ty.first + j, c);
      });
    });
    return sum;
  });
  // Coverage ends at 1, and the colour with it; where it would be below 0 no colour is.
  return sums.map((v, i) => {
    const alpha = sums[i | 3];
    if (alpha > 1) return v / alpha;
    return alpha < 0 ? (i % 4 === 3 ? 0 : Math.max(0, v)) : v;
  });
}
