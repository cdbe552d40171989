import type { Place } from '../../core/evaluate/plan';
import type { Run } from '../../core/evaluate/run';
import { type Finish, findStep, placeAbove, type Tap } from '../../core/finish/finish';
import { kindAt } from '../../core/finish/flow';
import { type Desk, openDesk } from '../../core/kernels/desk';
import { matteOf } from '../../core/kernels/point';
import type { Picture } from '../../core/picture/picture';
import type { Kind } from '../../core/steps/define';

/** Places of a finish and desks to look at their pictures on, for everything that the engine is asked. */

/** Small pictures and shares are measured at this scale. */
export const smallScale = 0.25;

/** Does `work` at a desk of its own, which is cleared. */
export function withDesk<T>(run: Run, work: (desk: Desk) => T): T {
  const desk = openDesk(run.machine);
  try {
    return work(desk);
  } finally {
    desk.clear();
  }
}

/** A matte as it is; a picture read as one. What is made lies on the desk. */
export const matteIn = (desk: Desk, p: Picture, { as = 'luminance' }: Pick<Tap, 'as'>) =>
  p.channels === 1 ? p : matteOf(desk, p, as);

export const kindOf = (finish: Finish, { strand, after }: Place): Kind => kindAt(finish, strand, after);

/** What comes to a step. */
export function placeBefore(finish: Finish, stepId: string): Place | undefined {
  const found = findStep(finish, stepId);
  if (!found) return;
  const { strand, index } = found;
  return { strand: strand.id, after: placeAbove(strand, index) };
}

/** The light that a step takes from: what is linked, or what comes to it. */
export const placeOfLight = (finish: Finish, stepId: string): Place | undefined =>
  findStep(finish, stepId)?.step.slots.light ?? placeBefore(finish, stepId);
