import { type Rgba, ramp } from '../kernels/join';
import { fill } from '../kernels/point';
import type { Workspace } from '../kernels/workspace';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import type { PlainHead } from './plan/node';

const multiplied = ([r, g, b]: Rgb, a: number): Rgba => [r * a, g * a, b * a, a];

/** The picture of a head that is a colour or a gradient. */
export const plainPicture = (
  workspace: Workspace,
  width: number,
  height: number,
  head: PlainHead,
): Picture =>
  head.type === 'colour'
    ? fill(workspace, width, height, multiplied(head.colour, head.alpha))
    : ramp(
        workspace,
        width,
        height,
        multiplied(head.from, head.fromAlpha),
        multiplied(head.to, head.toAlpha),
        head.angle,
      );
