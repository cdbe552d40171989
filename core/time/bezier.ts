import bezierEasing from 'bezier-easing';

type Point = readonly [number, number];

/**
 * The height at x of a cubic Bézier from p0 to p3, whose handles are held between the two in x, so that it never runs back: the timing
 * function of W3C *CSS Easing Functions Level 1*, computed by the package bezier-easing (error about 1e-6 of the span).
 */
export function easedAt(
  x: number,
  [x0, y0]: Point,
  [x1, y1]: Point,
  [x2, y2]: Point,
  [x3, y3]: Point,
): number {
  const share = (v: number) => Math.min(1, Math.max(0, (v - x0) / (x3 - x0)));
  const [first, second, at] = [share(x1), share(x2), share(x)];
  // The height is linear in the heights of the four points, so ends at the same height need no case of their own.
  const weights = (a: number, b: number) => bezierEasing(first, a, second, b)(at);
  const last = weights(0, 0);
  return y0 + (y1 - y0) * (weights(1, 0) - last) + (y2 - y0) * (weights(0, 1) - last) + (y3 - y0) * last;
}
