import { convolve, keptSpectrum, squareSpectrum } from '../kernels/fourier';
import { convolvedSmall } from '../kernels/lens';
import { copy } from '../kernels/point';
import type { Workspace } from '../kernels/workspace';
import { kept } from '../math/kept';
import type { Picture } from '../picture/picture';
import { type BlurShape, blurKernel } from './blur-shape';

/** Light that is evenly out of focus: every point becomes the shape of the aperture. */

type Kernel = ReturnType<typeof blurKernel>;
/** Shapes that were made lately: the next frame asks for the same ones. */
const made = kept(32, (key): Kernel => blurKernel(...(JSON.parse(key) as [BlurShape, number])));
const keptKernel = (shape: BlurShape, radius: number): Kernel => made(JSON.stringify([shape, radius]));

/** A smaller radius blurs nothing: half a pixel, as near as single precision knows it. */
export const sharpBelow = 0.499;

/** Up to this radius a sum over the shape is faster than transforms. */
const smallRadius = 4.2;

/** What of a shape lies inside the picture where it is cut off at the borders, as a factor that makes up for it: as if the picture went on as it is there. */
function continueBorders({ width, height, data }: Picture, { side, weights }: Kernel) {
  // Sums over the upper left parts of the shape.
  const sums = new Float64Array((side + 1) * (side + 1));
  for (let y = 0; y < side; y++)
    for (let x = 0, row = 0; x < side; x++) {
      row += weights[y * side + x];
      sums[(y + 1) * (side + 1) + x + 1] = sums[y * (side + 1) + x + 1] + row;
    }
  const half = side >> 1;
  for (let y = 0; y < height; y++) {
    const isEdge = y < half || y >= height - half;
    for (let x = 0; x < width; x++) {
      if (!isEdge && x === half && width > 2 * half) x = width - half;
      // A light to the right of a pixel comes to it by what lies left in the shape.
      const x0 = Math.max(0, half - (width - 1 - x));
      const x1 = Math.min(side, half + x + 1);
      const top = Math.max(0, half - (height - 1 - y)) * (side + 1);
      const low = Math.min(side, half + y + 1) * (side + 1);
      const inside = sums[low + x1] - sums[top + x1] - sums[low + x0] + sums[top + x0];
      if (inside < 1e-3) continue;
      const i = (y * width + x) * 4;
      for (let c = 0; c < 4; c++) data[i + c] /= inside;
      data[i + 3] = Math.min(1, data[i + 3]);
    }
  }
}

/** A picture of which every point is the shape of an aperture of a radius in pixels; beyond the borders it goes on as it is there. Alpha goes along. */
export function defocused(workspace: Workspace, picture: Picture, shape: BlurShape, radius: number): Picture {
  const { width, height } = picture;
  if (radius < sharpBelow) return copy(workspace, picture);
  if (radius <= smallRadius) {
    const kernel = keptKernel(shape, radius);
    const out = convolvedSmall(workspace, picture, kernel.weights, kernel.side);
    continueBorders(out, kernel);
    return out;
  }
  const key = JSON.stringify(['defocus', shape, radius, width, height]);
  const spectrum = keptSpectrum(workspace.runtime, key, () =>
    squareSpectrum(workspace, keptKernel(shape, radius).weights, width, height),
  );
  const out = convolve(workspace, picture, spectrum);
  continueBorders(out, keptKernel(shape, radius));
  return out;
}
