import type { Desk } from '../kernels/desk';
import { type Rgba, ramp } from '../kernels/join';
import { fill } from '../kernels/point';
import type { Picture } from '../picture/picture';
import type { Rgb } from '../steps/define';
import type { PlainHead } from './plan';

const multiplied = ([r, g, b]: Rgb, a: number): Rgba => [r * a, g * a, b * a, a];

/** The picture of a head that is a colour or a gradient. */
export const plainPicture = (desk: Desk, width: number, height: number, head: PlainHead): Picture =>
  head.type === 'colour'
    ? fill(desk, width, height, multiplied(head.colour, head.alpha))
    : ramp(
        desk,
        width,
        height,
        multiplied(head.from, head.fromAlpha),
        multiplied(head.to, head.toAlpha),
        head.angle,
      );
