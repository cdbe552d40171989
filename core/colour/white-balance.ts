import type { Rgb } from '../math/rgb';
import { adaptation, fromXyz, type Matrix, rec709, times, toXyz, xyz } from './primaries';

/** White of other lights, and the matrices that make it neutral. */

/**
 * Chromaticity of daylight of a correlated colour temperature, 4000 to 25000 K (CIE 15:2004, equations 3.1 to 3.4); below 4000 K, down to 2500 K, the
 * same formula is continued.
 */
export function daylight(kelvin: number): [number, number] {
  const t = 1000 / kelvin;
  const x =
    kelvin <= 7000
      ? ((-4.607 * t + 2.9678) * t + 0.09911) * t + 0.244063
      : ((-2.0064 * t + 1.9018) * t + 0.24748) * t + 0.23704;
  return [x, (-3 * x + 2.87) * x - 0.275];
}

/** The same moved off the locus by `tint` in thousandths of CIE 1960 uv, above it (greenish) where it is positive. */
export function tintedDaylight(kelvin: number, tint: number): [number, number] {
  const uv = ([x, y]: readonly [number, number]) => {
    const d = -2 * x + 12 * y + 3;
    return [(4 * x) / d, (6 * y) / d] as const;
  };
  const [u, v] = uv(daylight(kelvin));
  const [u2, v2] = uv(daylight(kelvin * 1.001));
  const [du, dv] = [u2 - u, v2 - v];
  const length = Math.sqrt(du * du + dv * dv);
  // Across the locus, upwards in v: towards green.
  const by = (du < 0 ? -tint : tint) / (1000 * length);
  const [nu, nv] = [u - dv * by, v + du * by];
  const d = 2 * nu - 8 * nv + 4;
  return [(3 * nu) / d, (2 * nv) / d];
}

/** The matrix on linear Rec. 709 that makes a white of the chromaticity (x, y) that of D65, by Bradford's adaptation; white keeps its luminance. */
export function whiteMatrix([x, y]: readonly [number, number]): Matrix {
  const from = xyz(x, y);
  const to = xyz(rec709[6], rec709[7]);
  return times(fromXyz(rec709), times(adaptation(from, to), toXyz(rec709)));
}

/** Chromaticity of a colour in linear Rec. 709; undefined where it has none. */
export function chromaticityOf([r, g, b]: Rgb): [number, number] | undefined {
  const m = toXyz(rec709);
  const [x, y, z] = [0, 3, 6].map((row) => m[row] * r + m[row + 1] * g + m[row + 2] * b);
  const sum = x + y + z;
  return sum > 0 && y > 0 ? [x / sum, y / sum] : undefined;
}
