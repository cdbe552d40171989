/** Replacement of a frame without a file: an error, the drawing before it, or nothing (transparent). */
export const gapRules = {
  missing: 'Error',
  hold: 'Hold the last frame',
  empty: 'Empty',
} as const;
export type GapRule = keyof typeof gapRules;
