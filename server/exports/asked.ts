import { parseFrames } from '../../core/formats/frame-pattern';
import { BadRequest } from '../base/refusals';

/** Frames as they are written by hand. @throws {BadRequest} */
export function framesAsked(text: string): number[] {
  try {
    return parseFrames(text);
  } catch (error) {
    throw new BadRequest((error as Error).message);
  }
}
