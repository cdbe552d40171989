/** Monotone cubic interpolation. */

export type Knot = readonly [x: number, y: number];

/**
 * A curve through points in the order of their x that never overshoots them (F. N. Fritsch and J. Butland 1984, *A Method for Constructing Local
 * Monotone Piecewise Cubic Interpolants*, the slopes that SciPy's PCHIP has); straight on beyond both ends. The points lie at least a millionth apart; one alone shifts by its y − x.
 */
export function monotoneCurve(knots: readonly Knot[]): { at(x: number): number; slopes: number[] } {
  const n = knots.length;
  if (n < 2) {
    const by = n === 1 ? knots[0][1] - knots[0][0] : 0;
    return { at: (x) => x + by, slopes: knots.map(() => 1) };
  }
  const h = knots.slice(1).map(([x], i) => x - knots[i][0]);
  const d = knots.slice(1).map(([, y], i) => (y - knots[i][1]) / h[i]);
  const slopes = knots.map((_, i) => {
    if (i === 0) return n === 2 ? d[0] : end(h[0], h[1], d[0], d[1]);
    if (i === n - 1) return n === 2 ? d[0] : end(h[n - 2], h[n - 3], d[n - 2], d[n - 3]);
    if (d[i - 1] * d[i] <= 0) return 0;
    const [a, b] = [2 * h[i] + h[i - 1], h[i] + 2 * h[i - 1]];
    return (a + b) / (a / d[i - 1] + b / d[i]);
  });
  const at = (x: number) => {
    if (x <= knots[0][0]) return knots[0][1] + slopes[0] * (x - knots[0][0]);
    if (x >= knots[n - 1][0]) return knots[n - 1][1] + slopes[n - 1] * (x - knots[n - 1][0]);
    let i = 0;
    while (x >= knots[i + 1][0]) i++;
    const t = (x - knots[i][0]) / h[i];
    const s = 1 - t;
    return (
      knots[i][1] * s * s * (1 + 2 * t) +
      knots[i + 1][1] * t * t * (3 - 2 * t) +
      h[i] * t * s * (slopes[i] * s - slopes[i + 1] * t)
    );
  };
  return { at, slopes };
}

/** The slope at an end, by three points, kept in the direction of the first piece. */
function end(h0: number, h1: number, d0: number, d1: number): number {
  const slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
  if (slope * d0 <= 0) return 0;
  return d0 * d1 <= 0 && Math.abs(slope) > 3 * Math.abs(d0) ? 3 * d0 : slope;
}
