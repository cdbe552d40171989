/**
 * Diameter of the circle of confusion on the sensor, in the unit of the focal length: |d − s|/d · f²/(N (s − f)) by the thin lens (S. F. Ray 2002, *Applied
 * Photographic Optics*), of a distance d with the lens focused on s, all in one unit.
 */
export const circleOfConfusion = (d: number, s: number, f: number, n: number): number =>
  (Math.abs(d - s) / d) * endlessConfusion(s, f, n);

/** The same of what is endlessly far. */
export const endlessConfusion = (s: number, f: number, n: number): number => (f * f) / (n * (s - f));
