import { type ColourRange, colourKey } from '../../kernels/key';
import type { Workspace } from '../../kernels/workspace';
import type { Rgb } from '../../math/rgb';
import type { Picture } from '../../picture/picture';
import type { NumberSpec, ValueSpec } from '../shared/define';
import { number } from '../shared/numbers';

type OnlyIf = { onlyIf?: readonly [string, ...string[]] };
const away = (name: string, description: string, initial: number, range: Pick<NumberSpec, 'to' | 'soft'>) =>
  number('ratio', 'take', name, description, initial, { from: 0, ...range });

/** Values of steps that work on the parts of a drawing that have certain colours; `only` is the condition under which they are relevant. */
export const regionValues = (samples: readonly Rgb[], only: OnlyIf = {}) =>
  ({
    samples: {
      type: 'colours',
      section: 'take',
      name: 'Colours',
      description: 'Sampled from the drawing. Several colours are combined.',
      default: samples,
      most: 12,
      ...only,
    },
    near: {
      ...away('Distance', 'OKLab distance from a sample within which a pixel counts fully.', 0.06, {
        to: 10,
        soft: [0, 0.5],
      }),
      ...only,
    },
    soft: {
      ...away('Softness', 'Further OKLab distance over which it falls to 0.', 0.06, {
        to: 10,
        soft: [0, 0.5],
      }),
      ...only,
    },
    lightness: {
      ...away('Lightness weight', 'Weight of lightness in the distance. At 0 only hue and chroma count.', 1, {
        to: 4,
        soft: [0, 1],
      }),
      ...only,
    },
  }) as const satisfies Record<string, ValueSpec>;

/** The matte of those parts, not thinned where the drawing's edge is: what is done to a colour is done to all of it. */
export const regionMatte = (workspace: Workspace, picture: Picture, v: ColourRange): Picture =>
  colourKey(workspace, picture, v, true);
