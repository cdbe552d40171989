import { exp } from '../math/elementary';

/** A Gaussian that is wider on one side than on the other. */
const lobe = (x: number, middle: number, below: number, above: number) => {
  const away = (x - middle) * (x < middle ? 1 / below : 1 / above);
  return exp(-0.5 * away * away);
};

/**
 * Linear Rec. 709 of light of one wavelength (nm): the CIE 1931 colour matching functions by the sums of lobes of Wyman, Sloan &
 * Shirley 2013, *Simple Analytic Approximations to the CIE XYZ Color Matching Functions*, through the matrix of IEC 61966-2-1. May
 * be negative: no screen shows a pure colour.
 */
export function rgbOfWavelength(nm: number): [number, number, number] {
  const x =
    1.056 * lobe(nm, 599.8, 37.9, 31.0) +
    0.362 * lobe(nm, 442.0, 16.0, 26.7) -
    0.065 * lobe(nm, 501.1, 20.4, 26.2);
  const y = 0.821 * lobe(nm, 568.8, 46.9, 40.5) + 0.286 * lobe(nm, 530.9, 16.3, 31.1);
  const z = 1.217 * lobe(nm, 437.0, 11.8, 36.0) + 0.681 * lobe(nm, 459.0, 26.0, 13.8);
  return [
    3.2404542 * x - 1.5371385 * y - 0.4985314 * z,
    -0.969266 * x + 1.8760108 * y + 0.041556 * z,
    0.0556434 * x - 0.2040259 * y + 1.0572252 * z,
  ];
}
