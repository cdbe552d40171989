import type { Picture } from '../picture/picture';
import { complement } from './plane';
import type { Workspace } from './workspace';

const rowPiece = 32;
/** The largest disc that the running maxima hold. */
export const largestDisc = 120;

/** A plane whose rows are padded to a multiple of four, so that columns can be worked in fours; itself if they are. */
function padded(workspace: Workspace, from: Picture): { plane: Picture; stride: number } {
  const stride = (from.width + 3) & ~3;
  if (stride === from.width) return { plane: from, stride };
  const plane = workspace.blank(stride, from.height, 1);
  for (let y = 0; y < from.height; y++) {
    plane.data.set(from.data.subarray(y * from.width, (y + 1) * from.width), y * stride);
  }
  return { plane, stride };
}

function unpadded(workspace: Workspace, from: Picture, width: number): Picture {
  const out = workspace.picture(width, from.height, 1);
  for (let y = 0; y < from.height; y++) {
    out.data.set(from.data.subarray(y * from.width, y * from.width + width), y * width);
  }
  return out;
}

/**
 * For each pixel of a matte the exact Euclidean distance, in pixels between centres, to the nearest pixel above 0.5
 * (Felzenszwalb & Huttenlocher 2012, *Distance Transforms of Sampled Functions*). A million or more where there is none.
 */
export function distance(workspace: Workspace, matte: Picture): Picture {
  const { width, height } = matte;
  const { plane, stride } = padded(workspace, matte);
  const out = workspace.picture(stride, height, 1);
  workspace.runtime.run('distanceColumns', stride, rowPiece, { out: out.at, from: plane.at, stride, height });
  workspace.runtime.run('distanceRows', height, rowPiece, { out: out.at, stride, width });
  if (stride === width) return out;
  workspace.drop(plane);
  const result = unpadded(workspace, out, width);
  workspace.drop(out);
  return result;
}

/**
 * A matte grown by `radius` pixels (0 or more, any fraction): the exact distance (Felzenszwalb & Huttenlocher 2012) to its edge, which
 * runs through the pixels as their coverage says.
 */
export function grow(workspace: Workspace, matte: Picture, radius: number): Picture {
  const { width, height } = matte;
  const { plane, stride } = padded(workspace, matte);
  const columns = workspace.picture(stride, height, 1);
  workspace.runtime.run('distanceColumns', stride, rowPiece, {
    out: columns.at,
    from: plane.at,
    stride,
    height,
  });
  const out = workspace.picture(stride, height, 1);
  workspace.runtime.run('growRows', height, rowPiece, {
    out: out.at,
    columns: columns.at,
    matte: plane.at,
    stride,
    width,
    height,
    radius,
  });
  workspace.drop(columns);
  if (stride === width) return out;
  workspace.drop(plane);
  const result = unpadded(workspace, out, width);
  workspace.drop(out);
  return result;
}

/** A matte made smaller by `radius` pixels: what is outside it grown. */
export function shrinkMatte(workspace: Workspace, matte: Picture, radius: number): Picture {
  const outside = complement(workspace, matte);
  const wide = grow(workspace, outside, radius);
  const out = complement(workspace, wide);
  workspace.drop(outside);
  workspace.drop(wide);
  return out;
}

function wholeDisc(workspace: Workspace, matte: Picture, radius: number): Picture {
  const half = workspace.ints(
    Array.from({ length: radius + 1 }, (_, d) => Math.floor(Math.sqrt(radius * radius - d * d))),
  );
  const { width, height } = matte;
  const out = workspace.picture(width, height, 1);
  // Strips overlap by the radius: larger pieces waste less.
  workspace.runtime.run('dilate', height, Math.max(64, 2 * radius), {
    out: out.at,
    from: matte.at,
    stride: width,
    width,
    height,
    radius,
    half,
  });
  workspace.drop(half);
  return out;
}

/**
 * A matte grown by a disc: each pixel the largest value within `radius` pixels (0 to 120). Between whole radii the
 * results for the two next to it are blended, so the edge moves evenly.
 */
export function dilate(workspace: Workspace, matte: Picture, radius: number): Picture {
  if (!(radius >= 0 && radius <= largestDisc))
    throw new RangeError(`A disc of ${radius} pixels is not between 0 and ${largestDisc}.`);
  const low = Math.floor(radius);
  const small = wholeDisc(workspace, matte, low);
  if (low === radius) return small;
  const large = wholeDisc(workspace, matte, low + 1);
  const count = (matte.width * matte.height + 3) & ~3;
  workspace.runtime.run('blendPlanes', count, 16384, {
    out: small.at,
    a: small.at,
    b: large.at,
    share: radius - low,
  });
  workspace.drop(large);
  return small;
}
