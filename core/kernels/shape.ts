import type { Picture } from '../picture/picture';
import type { Desk } from './desk';
import { complement } from './plane';

const rowPiece = 32;
/** The largest disc that the running maxima hold. */
export const largestDisc = 120;

/** A plane whose rows are padded to a multiple of four, so that columns can be worked in fours; itself if they are. */
function padded(desk: Desk, from: Picture): { plane: Picture; stride: number } {
  const stride = (from.width + 3) & ~3;
  if (stride === from.width) return { plane: from, stride };
  const plane = desk.blank(stride, from.height, 1);
  for (let y = 0; y < from.height; y++) {
    plane.data.set(from.data.subarray(y * from.width, (y + 1) * from.width), y * stride);
  }
  return { plane, stride };
}

function unpadded(desk: Desk, from: Picture, width: number): Picture {
  const out = desk.picture(width, from.height, 1);
  for (let y = 0; y < from.height; y++) {
    out.data.set(from.data.subarray(y * from.width, y * from.width + width), y * width);
  }
  return out;
}

/**
 * For each pixel of a matte the exact Euclidean distance, in pixels between centres, to the nearest pixel above 0.5
 * (Felzenszwalb & Huttenlocher 2012, *Distance Transforms of Sampled Functions*). A million or more where there is none.
 */
export function distance(desk: Desk, matte: Picture): Picture {
  const { width, height } = matte;
  const { plane, stride } = padded(desk, matte);
  const out = desk.picture(stride, height, 1);
  desk.machine.run('distanceColumns', stride, rowPiece, out.at, plane.at, stride, height);
  desk.machine.run('distanceRows', height, rowPiece, out.at, stride, width);
  if (stride === width) return out;
  desk.drop(plane);
  const result = unpadded(desk, out, width);
  desk.drop(out);
  return result;
}

/**
 * A matte grown by `radius` pixels (0 or more, any fraction): the exact distance (Felzenszwalb & Huttenlocher 2012) to its edge, which
 * runs through the pixels as their coverage says.
 */
export function grow(desk: Desk, matte: Picture, radius: number): Picture {
  const { width, height } = matte;
  const { plane, stride } = padded(desk, matte);
  const columns = desk.picture(stride, height, 1);
  desk.machine.run('distanceColumns', stride, rowPiece, columns.at, plane.at, stride, height);
  const out = desk.picture(stride, height, 1);
  desk.machine.run('growRows', height, rowPiece, out.at, columns.at, plane.at, stride, width, height, radius);
  desk.drop(columns);
  if (stride === width) return out;
  desk.drop(plane);
  const result = unpadded(desk, out, width);
  desk.drop(out);
  return result;
}

/** A matte made smaller by `radius` pixels: what is outside it grown. */
export function shrinkMatte(desk: Desk, matte: Picture, radius: number): Picture {
  const outside = complement(desk, matte);
  const wide = grow(desk, outside, radius);
  const out = complement(desk, wide);
  desk.drop(outside);
  desk.drop(wide);
  return out;
}

function wholeDisc(desk: Desk, matte: Picture, radius: number): Picture {
  const half = desk.ints(
    Array.from({ length: radius + 1 }, (_, d) => Math.floor(Math.sqrt(radius * radius - d * d))),
  );
  const { width, height } = matte;
  const out = desk.picture(width, height, 1);
  // Strips overlap by the radius: larger pieces waste less.
  desk.machine.run(
    'dilate',
    height,
    Math.max(64, 2 * radius),
    out.at,
    matte.at,
    width,
    width,
    height,
    radius,
    half,
  );
  desk.drop(half);
  return out;
}

/**
 * A matte grown by a disc: each pixel the largest value within `radius` pixels (0 to 120). Between whole radii the
 * results for the two next to it are blended, so the edge moves evenly.
 */
export function dilate(desk: Desk, matte: Picture, radius: number): Picture {
  if (!(radius >= 0 && radius <= largestDisc))
    throw new RangeError(`A disc of ${radius} pixels is not between 0 and ${largestDisc}.`);
  const low = Math.floor(radius);
  const small = wholeDisc(desk, matte, low);
  if (low === radius) return small;
  const large = wholeDisc(desk, matte, low + 1);
  const count = (matte.width * matte.height + 3) & ~3;
  desk.machine.run('blendPlanes', count, 16384, small.at, small.at, large.at, radius - low);
  desk.drop(large);
  return small;
}
