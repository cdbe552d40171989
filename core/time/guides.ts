import { type Key, numberOn } from './keys';

/** A place that moves over the picture: in pixels of the full frame from its middle, x to the right and y upwards. */
export type Guide = {
  id: string;
  name: string;
  x: readonly Key<number>[];
  y: readonly Key<number>[];
};
export type Axis = 'x' | 'y';

/** Where a guide is on a frame: before its first key and after its last it rests. */
export const placeOn = ({ x, y }: Guide, frame: number): { x: number; y: number } => ({
  x: numberOn(x, frame),
  y: numberOn(y, frame),
});

const window = 5;

/** The weights of a parabola through five numbers by least squares, at each of the five. */
const weights: readonly (readonly number[])[] = [0, 1, 2, 3, 4].map((at) => {
  // Orthogonal polynomials on −2 … 2: 1, t and t² − 2, of squared lengths 5, 10 and 14.
  const t = at - 2;
  return [-2, -1, 0, 1, 2].map((u) => 1 / 5 + (t * u) / 10 + ((t * t - 2) * (u * u - 2)) / 14);
});

/**
 * Numbers smoothed by a parabola through five of them each (A. Savitzky and M. J. E. Golay 1964, *Smoothing and Differentiation of Data by Simplified
 * Least Squares Procedures*); the first and last two by the parabola of the first and last five. Fewer than five stay as they are.
 */
export function smoothed(values: readonly number[]): number[] {
  if (values.length < window) return [...values];
  return values.map((_, i) => {
    const first = Math.max(0, Math.min(values.length - window, i - 2));
    return weights[i - first].reduce((sum, w, k) => sum + w * values[first + k], 0);
  });
}
