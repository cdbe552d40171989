import { cosTurns, sinTurns } from '../../core/math/elementary';
import type { Spot } from './paths';

/** Where everything is on a drawing. Drawings stand for two frames each: 1 for frames 1 and 2, and so on. */
export type Pose = {
  drawing: number;
  /** The moth, between its wings. */
  x: number;
  y: number;
  comet: Spot;
  /** Beat of the wings, −1 to 1. */
  flap: number;
  /** Swing of the bell in degrees. */
  swing: number;
};

export const drawings = 12;
export const drawingOf = (frame: number) => Math.floor((frame - 1) / 2) + 1;
export const frameOf = (drawing: number) => drawing * 2 - 1;

/** Where the comet is where nothing moves. */
export const cometAtRest: Spot = [926, 414];

export function poseOf(drawing: number): Pose {
  const t = (drawing - 1) / drawings;
  const [dx, dy] = [7 * sinTurns(t), 13 * cosTurns(t)];
  return {
    drawing,
    x: 790 + dx,
    y: 296 + dy,
    comet: [cometAtRest[0] + dx, cometAtRest[1] + dy * 1.15],
    flap: sinTurns((drawing - 1) / 6 + 0.1),
    swing: 2.4 * sinTurns(t + 0.15),
  };
}
