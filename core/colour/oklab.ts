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

const cube = (x: number) => x * x * x;

/** Back from OKLab to linear Rec. 709; the matrices of the same source, inverted. */
export function fromOklab([lightness, a, b]: readonly [number, number, number]): [number, number, number] {
  const l = cube(lightness + 0.3963377774 * a + 0.2158037573 * b);
  const m = cube(lightness - 0.1055613458 * a - 0.0638541728 * b);
  const s = cube(lightness - 0.0894841775 * a - 1.291485548 * b);
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ];
}
