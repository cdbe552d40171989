import type { ValueHistogram } from '../../scopes/values';
import type { Values } from './define';
import type { StartFacts } from './start-facts';

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
