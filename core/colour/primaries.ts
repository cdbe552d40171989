/** Chromaticities x, y of red, green, blue and white, as an EXR header gives them. */
export type Chromaticities = readonly number[];

/** ITU-R BT.709 with D65: what Zafiro works in, and what EXR files without the attribute mean. */
export const rec709: Chromaticities = [0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329];

/** 3 by 3, row by row. */
export type Matrix = readonly number[];

export const times = (a: Matrix, b: Matrix): number[] =>
  Array.from({ length: 9 }, (_, i) => {
    const [r, c] = [Math.floor(i / 3) * 3, i % 3];
    return a[r] * b[c] + a[r + 1] * b[c + 3] + a[r + 2] * b[c + 6];
  });
const apply = (m: Matrix, [x, y, z]: readonly number[]): number[] =>
  [0, 3, 6].map((r) => m[r] * x + m[r + 1] * y + m[r + 2] * z);

function inverse(m: Matrix): number[] {
  const [a, b, c, d, e, f, g, h, i] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ].map((v) => v / det);
}

/** CIE XYZ of a chromaticity with Y = 1. */
export const xyz = (x: number, y: number) => [x / y, 1, (1 - x - y) / y];

/** Linear RGB to CIE XYZ: columns are the primaries, scaled so that equal parts give white (SMPTE RP 177-1993). */
export function toXyz(c: Chromaticities): number[] {
  const [r, g, b, w] = [0, 2, 4, 6].map((i) => xyz(c[i], c[i + 1]));
  const primaries = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  const scale = apply(inverse(primaries), w);
  return primaries.map((v, i) => v * scale[i % 3]);
}

/** CIE XYZ to linear RGB. */
export const fromXyz = (c: Chromaticities): number[] => inverse(toXyz(c));

/** Cone responses of Bradford's adaptation (ICC.1:2010, annex E). */
const bradford = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

/** CIE XYZ under one white as they look under another, by Bradford. */
export function adaptation(from: readonly number[], to: readonly number[]): number[] {
  const [a, b] = [apply(bradford, from), apply(bradford, to)];
  const scale = [b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]];
  return times(inverse(bradford), times(scale, bradford));
}

/**
 * The matrix from linear RGB of other primaries to Rec. 709 with D65, white to white; undefined where they are the same, or
 * cannot be primaries.
 */
export function toRec709(from: Chromaticities): number[] | undefined {
  if (from.length !== 8 || from.every((v, i) => Math.abs(v - rec709[i]) < 1e-4)) return;
  const matrix = times(
    inverse(toXyz(rec709)),
    times(adaptation(xyz(from[6], from[7]), xyz(rec709[6], rec709[7])), toXyz(from)),
  );
  return matrix.every(Number.isFinite) ? matrix : undefined;
}
