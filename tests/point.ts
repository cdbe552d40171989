import type { Picture } from '../core/picture/picture';
import { pictureOf } from './runtime';

/** A picture that is black but for the light of one pixel. */
export const point = (width: number, height: number, x: number, y: number, light = 1) =>
  pictureOf(width, height, (i) => {
    const p = i >> 2;
    return (i & 3) < 3 && p % width === x && Math.floor(p / width) === y ? light : 0;
  });

/** A channel of one pixel, and the sum of a channel over all pixels; green unless another is named. */
export const at = (p: Picture, x: number, y: number, c = 1) => p.data[(y * p.width + x) * 4 + c];
export const sum = (p: Picture, c = 1) => p.data.reduce((s, v, i) => s + ((i & 3) === c ? v : 0), 0);
