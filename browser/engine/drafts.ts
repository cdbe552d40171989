/** The sizes shown on the way to the full picture, by how long that took last: small changes show at once. */
export const draftsBelow = (millis: number): number[] =>
  millis > 1200 ? [0.125, 0.25, 0.5] : millis > 400 ? [0.25, 0.5] : millis > 70 ? [0.5] : [];
