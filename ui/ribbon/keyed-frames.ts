import { type Finish, findStep, originalOf, type Step } from '@/core/finish/finish';

const framesOf = (finish: Finish, step: Step) =>
  Object.values(originalOf(finish, step).keys ?? {}).flatMap((keys) => keys.map((k) => k.frame));

/** Frames on which the selected step has keys, or any step where it has none; in order. */
export function keyedFrames(finish: Finish, selected: string | undefined): number[] {
  const step = findStep(finish, selected ?? '')?.step;
  const own = step ? framesOf(finish, step) : [];
  const all =
    own.length > 0 ? own : finish.strands.flatMap((s) => s.steps.flatMap((x) => framesOf(finish, x)));
  return [...new Set(all)].sort((a, b) => a - b);
}

/** The next of some frames in a direction, if there is one. */
export const beside = (frames: readonly number[], frame: number, direction: 1 | -1): number | undefined =>
  direction === 1 ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
