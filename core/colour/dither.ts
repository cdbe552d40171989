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
 * The code of 8 bits of a value from 0 to 1 at a pixel: of a run of equal values as many get the code above as lie their mean nearest to it. Values
 * that are a code keep it. What is not finite or below 0 is 0.
 */
export const dithered = (value: number, x: number, y: number): number =>
  value >= 1 ? 255 : value > 0 ? Math.floor(value * 255 + matrix[(y & 7) * 8 + (x & 7)] * (1 - 1e-9)) : 0;
