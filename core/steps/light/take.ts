import { luminance } from '../../colour/luminance';
import type { Picture } from '../../picture/picture';
import type { ColourSpec, Editor, NumberSpec, SlotSpec } from '../shared/define';
import { number } from '../shared/numbers';

/** Slots and values of the band Take, shared by the light steps. */
export const takeSlots = {
  light: {
    kind: 'picture',
    section: 'take',
    name: 'Light',
    description: 'The strand whose light is taken. Without one it is this strand.',
  },
  lightMask: {
    kind: 'matte',
    section: 'take',
    name: 'Light mask',
    description: 'Limits which light is taken. Use it to let one lamp shine and not the next.',
  },
} as const satisfies Record<string, SlotSpec>;

export const take = {
  threshold: number('light', 'take', 'Threshold', 'Luminance above which light is taken.', 1, {
    from: 0,
    to: 65504,
    soft: [0, 16],
  }),
  knee: number(
    'light',
    'take',
    'Knee',
    'Half width of the soft transition at the threshold, in luminance.',
    0.5,
    { from: 0, to: 65504, soft: [0, 4] },
  ),
  limit: number(
    'light',
    'take',
    'Limit',
    'Clamps the luminance of stray bright pixels before the light is spread.',
    0,
    {
      from: 0,
      to: 65504,
      soft: [0, 64],
      zeroLabel: 'none',
    },
  ),
} as const satisfies Record<string, NumberSpec>;

/** The light that comes in, with the threshold on it. */
export const takeEditor = {
  kind: 'light',
  section: 'take',
  threshold: 'threshold',
  knee: 'knee',
} as const satisfies Editor;

/** The tint in the section Spread, shared by most light steps. */
export const tint = {
  type: 'colour',
  section: 'spread',
  name: 'Tint',
  description: 'Multiplies the colour of the light.',
  default: [1, 1, 1],
} as const satisfies ColourSpec;

/** The middle of light, weighted by the square of its luminance, in pixels; undefined where there is none. */
export function middleOfLight({ width, height, data }: Picture): [number, number] | undefined {
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const l = luminance(data[p], data[p + 1], data[p + 2]);
      if (!(l > 0)) continue;
      const weight = l * l;
      sum += weight;
      sx += weight * x;
      sy += weight * y;
    }
  }
  return sum > 0 ? [sx / sum, sy / sum] : undefined;
}
