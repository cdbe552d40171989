import { cosTurns, sinTurns } from '../math/elementary';
import type { Picture } from '../picture/picture';
import { gaussian } from './gaussian';
import { type Affine, type Filter, resample } from './sample';
import type { Workspace } from './workspace';

/** Moved by pixels to the right and upwards, turned by degrees counter-clockwise and scaled, about a pivot that lies as far from the middle. */
export type Transform = {
  moveX: number;
  moveY: number;
  rotate: number;
  scale: number;
  pivotX: number;
  pivotY: number;
};

export const isIdentity = ({ moveX, moveY, rotate, scale }: Transform) =>
  moveX === 0 && moveY === 0 && rotate === 0 && scale === 1;

/** The affine map of a transform. Rows count downwards; `moveY` and `pivotY` count upwards, as seen. */
export function affineOf(width: number, height: number, v: Transform): Affine {
  const [px, py] = [(width - 1) / 2 + v.pivotX, (height - 1) / 2 - v.pivotY];
  const [cos, sin] = [cosTurns(v.rotate / 360) / v.scale, sinTurns(v.rotate / 360) / v.scale];
  const [dx, dy] = [px + v.moveX, py - v.moveY];
  return { a: cos, b: -sin, c: px - cos * dx + sin * dy, d: sin, e: cos, f: py - sin * dx - cos * dy };
}

/** Blur that takes what a smaller picture cannot show: the variance that a box of its pixels has beyond one of ours. */
const smoothing = (scale: number) => Math.sqrt((1 / (scale * scale) - 1) / 12) * 1.4;

/** A picture in its place, nothing beyond its own border; one made smaller is blurred as far as that takes. */
export function transformed(workspace: Workspace, picture: Picture, v: Transform, filter: Filter): Picture {
  const { width, height } = picture;
  const source = v.scale < 1 ? gaussian(workspace, picture, smoothing(v.scale)) : picture;
  const out = resample(workspace, source, width, height, affineOf(width, height, v), filter);
  if (source !== picture) workspace.drop(source);
  return out;
}
