/** Ordered dither: an 8 by 8 matrix (Bayer 1973, *An optimum method for two-level rendition of continuous-tone pictures*). */

/** The bits of x ^ y and of y by turns, the lowest as the highest: the order in which the matrix fills. */
const rank = (x: number, y: number): number => {
  let r = 0;
  for (let bit = 0; bit < 3; bit++) {
    r = (r << 1) | (((x ^ y) >> bit) & 1);
    r = (r << 1) | ((y >> bit) & 1);
  }
  return r;
};
const matrix = Float64Array.from({ length: 64 }, (_, i) => (rank(i & 7, i >> 3) + 0.5) / 64);

/**
 * The 8-bit code of a value from 0 to 1 at a pixel. In a field of equal values the share of pixels that get the code above makes the mean equal to the value.
 * A value that is a code keeps it. What is not finite or below 0 is 0.
 */
export const dithered = (value: number, x: number, y: number): number =>
  value >= 1 ? 255 : value > 0 ? Math.floor(value * 255 + matrix[(y & 7) * 8 + (x & 7)] * (1 - 1e-9)) : 0;
