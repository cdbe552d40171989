/** What stands for a frame without a file: an error, the drawing before it, or nothing (transparent). */
export const gapRules = {
  missing: 'Say that it is missing',
  hold: 'Hold the last drawing',
  empty: 'Empty',
} as const;
export type GapRule = keyof typeof gapRules;
