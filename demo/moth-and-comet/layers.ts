import { body, eyes, farWing, formShade, nearWing } from './moth';
import type { Stroke } from './paint';
import { drawingOf, drawings, frameOf, type Pose, poseOf } from './pose';
import { bell, comet, sky, tail } from './scenery';

/** A layer of the shot: one file that never changes, or its frames that have a drawing. */
export type DrawnLayer = { name: string; frames: readonly number[] | 'still'; strokes(pose: Pose): Stroke[] };

const onTwos = Array.from({ length: drawings }, (_, i) => frameOf(i + 1));
/** The shade is drawn only where the comet burns low; its drawings stand for the frames they are on, and for no other. */
const shaded = [5, 6, 7, 8, 9, 10, 13, 14, 15, 16, 17, 18, 19, 20];

/** All layers, the lowest first. */
export const layers: readonly DrawnLayer[] = [
  { name: 'sky', frames: 'still', strokes: sky },
  { name: 'tail', frames: 'still', strokes: tail },
  { name: 'comet', frames: onTwos, strokes: comet },
  { name: 'wing_far', frames: onTwos, strokes: farWing },
  { name: 'body', frames: onTwos, strokes: body },
  { name: 'eyes', frames: onTwos, strokes: eyes },
  { name: 'wing_near', frames: onTwos, strokes: nearWing },
  { name: 'form_shade', frames: shaded, strokes: formShade },
  { name: 'bell', frames: onTwos, strokes: bell },
];

export const fileOf = ({ name, frames }: DrawnLayer, frame: number) =>
  frames === 'still' ? `${name}.png` : `${name}.${String(frame).padStart(4, '0')}.png`;

/** The name of all files of a layer, their numbers as marks. */
export const patternOf = ({ name, frames }: DrawnLayer) =>
  frames === 'still' ? `${name}.png` : `${name}.####.png`;

export const strokesOn = (layer: DrawnLayer, frame: number) => layer.strokes(poseOf(drawingOf(frame)));
