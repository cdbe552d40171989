import { type Finish, findStep } from '@/core/finish/finish';
import { keyedFramesOf } from '@/core/finish/keys';

/** Frames on which the selected step has keys, or any step where it has none; in order. */
export function keyedFrames(finish: Finish, selected: string | undefined): number[] {
  const step = findStep(finish, selected ?? '')?.step;
  const own = step ? keyedFramesOf(finish, step) : [];
  const all =
    own.length > 0 ? own : finish.strands.flatMap((s) => s.steps.flatMap((x) => keyedFramesOf(finish, x)));
  return [...new Set(all)].sort((a, b) => a - b);
}

/** The next of some frames in a direction, if there is one. */
export const beside = (frames: readonly number[], frame: number, direction: 1 | -1): number | undefined =>
  direction === 1 ? frames.find((f) => f > frame) : frames.findLast((f) => f < frame);
