import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX } from 'd3-shape';

/**
 * The outline of a histogram as the path of an SVG, from `floor` up to `top`. Heights go by the logarithm of the counts, so that a few lamps are seen
 * beside a million pixels of wall. `x` gives the place of a bin by its number.
 */
export function logArea(
  counts: ArrayLike<number>,
  x: (bin: number) => number,
  floor: number,
  top: number,
): string {
  const all = Array.from(counts);
  const y = scaleLinear([0, Math.log1p(Math.max(1, ...all))], [floor, top]);
  const outline = area<number>()
    .x((_, bin) => x(bin))
    .y0(floor)
    .y1((count) => y(Math.log1p(count)))
    .curve(curveMonotoneX);
  return outline(all) ?? '';
}
