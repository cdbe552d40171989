import { luminance } from '../colour/luminance';
import type { Picture } from '../picture/picture';

/**
 * The middle of what a matte covers, or of a picture's light, in pixels from the middle of the picture, x to the right and y upwards: the mean of the
 * pixels' middles, weighted by coverage or by luminance. What is below 0 or not finite has no weight. None where nothing has any.
 */
export function middleOf({ width, height, channels, data }: Picture): { x: number; y: number } | undefined {
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = 0, i = 0; y < height; y++) {
    let [row, along] = [0, 0];
    for (let x = 0; x < width; x++, i += channels) {
      const w = channels === 1 ? data[i] : luminance(data[i], data[i + 1], data[i + 2]);
      if (!(w > 0) || w - w !== 0) continue;
      row += w;
      along += w * (x + 0.5);
    }
    sum += row;
    sx += along;
    sy += row * (y + 0.5);
  }
  return sum > 0 ? { x: sx / sum - width / 2, y: height / 2 - sy / sum } : undefined;
}
