import type { ValueHistogram } from '../scopes/values';
import type { Values } from './define';

/**
 * What is known of the picture when a step is added, on the frame that is looked at. A step says in `start` which of its values it takes from
 * there, so that what has just been added changes what one sees.
 */
export type StartFacts = {
  /** The luminance above which a good part of the light lies that the step takes from; none where it is black. */
  threshold?: number;
  /** The middle of that light, in pixels from the middle of the frame, to the right and upwards. */
  middle?: readonly [number, number];
  /** How the values lie that come to the step, or, of a step with a slot for depth, those of the depth linked there. */
  values?: ValueHistogram;
  /** Of the covered pixels of what comes to the step the share that are as their neighbour: drawings have many. */
  flat?: number;
};

const short = (v: number, digits = 3) => Number(v.toPrecision(digits));

/** Light steps: the threshold that takes a good part of the light, with a knee half as wide. */
export const lightStart = ({ threshold }: StartFacts): Values =>
  threshold === undefined ? {} : { threshold, knee: short(threshold / 2) };

/** Steps that are centred on a light. */
export const centreStart = ({ middle }: StartFacts): Values =>
  middle ? { centreX: Math.round(middle[0]), centreY: Math.round(middle[1]) } : {};

/**
 * Near, far and visibility from how depth lies: from the 5th percentile, where a twentieth of the picture stays clear, to the 95th, where it
 * is nearly closed.
 */
export function mistStart({ low, high }: Pick<ValueHistogram, 'low' | 'high'>): Record<string, number> {
  const far = Math.max(high, low + 1e-3);
  return { near: short(low), far: short(far), visibility: short(Math.max(1e-3, (far - low) * 2)) };
}

/**
 * A key's interval: of light what is bright, or all that shines where most is black, as in a pass of lamps alone; of other values the nearer half.
 * `most` stands for no end. Black alone starts nothing.
 */
export function rangeStart(
  { scale, low, middle, high, black }: ValueHistogram,
  most: number,
): Record<string, number> {
  if (scale === 'linear')
    return {
      low: short(low, 4),
      lowSoft: 0,
      high: short(middle, 4),
      highSoft: short(Math.max(0, high - middle) / 2, 4),
    };
  if (high <= 0) return {};
  const light =
    black > 0.5 ? { low: middle / 4, lowSoft: middle / 4 } : { low: high, lowSoft: (high - middle) / 2 };
  return { low: short(light.low, 4), lowSoft: short(light.lowSoft, 4), high: most, highSoft: 0 };
}
