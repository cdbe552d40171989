/** The next of some frames in a direction, if there is one. */
export const beside = (frames: readonly number[], frame: number, direction: 1 | -1): number | undefined =>
  direction === 1 ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
