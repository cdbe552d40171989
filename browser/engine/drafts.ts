import type { Finish } from '../../core/finish/finish';
import type { Size } from '../../core/picture/region';

/** The sizes shown on the way to the full picture, by how long that took last: small changes show at once. */
export const draftsBelow = (millis: number): number[] =>
  millis > 1200 ? [0.125, 0.25, 0.5] : millis > 400 ? [0.25, 0.5] : millis > 70 ? [0.5] : [];

/** Milliseconds that a full picture may take, for want of a better guess: about 40 a step and million pixels. */
export const expectedMillis = ({ strands }: Pick<Finish, 'strands'>, { width, height }: Size): number =>
  (40 * strands.reduce((sum, s) => sum + s.steps.length, 1) * width * height) / 1e6;
