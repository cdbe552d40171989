import { power } from '../math/elementary';
import type { Rgb } from '../math/rgb';

/** The same bits on every host. */
const root = (x: number) => (x > 0 ? power(x, 1 / 3) : x < 0 ? -power(-x, 1 / 3) : 0);

/**
 * Linear Rec. 709 to OKLab: lightness, green to red, blue to yellow (Björn Ottosson 2020, *A perceptual color space for image
 * processing*, matrices of his 2021-01-25 revision).
 */
export function oklab([r, g, b]: Rgb): [number, number, number] {
  const l = root(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = root(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = root(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}
