/**
 * The sRGB transfer curve, exact and piecewise (IEC 61966-2-1). Both run on past 1; below 0 they mirror, so that
 * a value survives the way there and back.
 */
export function encodeSrgb(linear: number): number {
  if (linear < 0) return -encodeSrgb(-linear);
  return linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** Linear red, green and blue of #rrggbb. */
export const linearOfHex = (hex: string): [number, number, number] => {
  const at = (i: number) => decodeSrgb(Number.parseInt(hex.slice(i, i + 2), 16) / 255);
  return [at(1), at(3), at(5)];
};

export function decodeSrgb(encoded: number): number {
  if (encoded < 0) return -decodeSrgb(-encoded);
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}
