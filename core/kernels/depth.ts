import type { Picture } from '../picture/picture';
import type { Box } from '../picture/region';
import { onPixels } from './point';
import type { Workspace } from './workspace';

/** Layers of a picture by how far its pixels are out of focus: typed faces of `assembly/depth.ts`. */

const rowPiece = 8;

/** Signed radii of the circle of confusion, `scale` · (1 − focus/depth), held to ± `most`: near ones below 0. */
export const confusion = (
  workspace: Workspace,
  depth: Picture,
  { focus, scale, most }: { focus: number; scale: number; most: number },
) =>
  onPixels(workspace, 'confusion', workspace.picture(depth.width, depth.height, 1), {
    depth: depth.at,
    focus,
    scale,
    most,
  });

/**
 * A layer of signed radii: the farthest that is wholly in it, the nearest of what lies behind it, the farthest of what hides it, and the part of the frame
 * that it is worked on in.
 */
export type Layer = { farther?: number; here: number; nearer?: number; box: Box };

/** A layer's light times its share, and the share as a plane; of an opaque picture that is the part's own alpha. */
export type Part = { light: Picture; share?: Picture };

/** The part of an opaque or other picture that belongs to a layer; what nearer layers hide of it is empty. */
export function layerPart(
  workspace: Workspace,
  picture: Picture,
  radii: Picture,
  { farther, here, nearer, box }: Layer,
  opaque: boolean,
): Part {
  const light = workspace.picture(box.width, box.height);
  const share = opaque ? undefined : workspace.picture(box.width, box.height, 1);
  workspace.runtime.run('layerPart', box.height, rowPiece, {
    out: light.at,
    cover: share?.at ?? 0,
    from: picture.at,
    radii: radii.at,
    width: picture.width,
    x0: box.x,
    y0: box.y,
    wide: box.width,
    farther: farther ?? 0,
    here,
    nearer: nearer ?? 0,
    first: farther === undefined ? 1 : 0,
    last: nearer === undefined ? 1 : 0,
  });
  return { light, share };
}

const bytesOfPlace = 32;

/**
 * Fills, in place, what nearer layers hide of a part with what is seen around it (pull and push over halved sizes, after S. J. Gortler, R. Grzeszczuk,
 * R. Szeliski and M. F. Cohen 1996, *The Lumigraph*), bright places held down.
 */
export function fillHidden(
  workspace: Workspace,
  { light, share }: Part,
  radii: Picture,
  { nearer, box }: Layer,
): void {
  if (nearer === undefined) return;
  const { runtime } = workspace;
  const { width: wide, height: high } = box;
  const of = {
    radii: radii.at,
    width: radii.width,
    x0: box.x,
    y0: box.y,
    wide,
    nearer,
  };
  const both = { part: light.at, cover: share?.at ?? 0 };
  const fields = [];
  for (let [w, h] = [wide, high]; fields.length === 0 || w > 1 || h > 1; ) {
    const [half, low] = [(w + 1) >> 1, (h + 1) >> 1];
    const at = workspace.bytes(half * low * bytesOfPlace);
    if (fields.length === 0)
      runtime.run('holesBegin', low, rowPiece, { out: at, half, ...both, ...of, high });
    else
      runtime.run('holesDown', low, rowPiece, {
        out: at,
        half,
        from: fields[fields.length - 1].at,
        wide: w,
        high: h,
      });
    fields.push({ at, half, low });
    [w, h] = [half, low];
  }
  for (let i = fields.length - 1; i >= 0; i--) {
    const coarse = fields[i + 1];
    const { at, half, low } = fields[i];
    runtime.run('holesUp', low, rowPiece, {
      field: at,
      wide: half,
      coarse: coarse?.at ?? 0,
      half: coarse?.half ?? 0,
      low: coarse?.low ?? 0,
    });
  }
  const [{ at: field, half, low }] = fields;
  runtime.run('holesFill', high, rowPiece, { ...both, ...of, field, half, low });
  for (const { at } of fields) workspace.drop(at);
}

/** Lays a part over what lies behind it, in place; alpha becomes 1 where `opaque`. */
export function layOver(
  workspace: Workspace,
  onto: Picture,
  { light, share }: Part,
  box: Box,
  opaque: boolean,
): void {
  workspace.runtime.run('layOver', box.height, rowPiece, {
    sum: onto.at,
    width: onto.width,
    x0: box.x,
    y0: box.y,
    part: light.at,
    cover: share?.at ?? 0,
    wide: box.width,
    opaque: opaque ? 1 : 0,
  });
}

/** Bands begin at multiples of this, so that halving them twice finds the same pixels as in the whole. */
const bandGrid = 4;

/**
 * What `work` makes of a plane: done on a picture whose channels are four bands of the plane, in a third of the time. `margin`: how many rows away a
 * pixel may count.
 */
export function inBands(
  workspace: Workspace,
  plane: Picture,
  margin: number,
  work: (bands: Picture) => Picture,
): Picture {
  const { width, height } = plane;
  // Four bands that overlap by the margin on both sides: all as high, the first at the top, the last at the bottom.
  const least = Math.ceil((height + 6 * margin) / 4);
  const step = bandGrid * Math.max(0, Math.floor((height - least) / (3 * bandGrid)));
  const bands = workspace.picture(width, height - 3 * step);
  workspace.runtime.run('intoBands', bands.height, rowPiece, {
    out: bands.at,
    plane: plane.at,
    width,
    step,
  });
  const worked = work(bands);
  const out = workspace.picture(width, height, 1);
  workspace.runtime.run('outOfBands', height, rowPiece, {
    out: out.at,
    bands: worked.at,
    width,
    step,
    margin,
  });
  for (const taken of new Set([bands, worked])) workspace.drop(taken);
  return out;
}

/** Variance each way, in pixels² of the larger size, that `halved` and `doubled` add together. */
export const varianceOfHalving = 1.5;

/** Half of the size, by weights that keep the light and the centre of whatever moves by fractions of a pixel. */
export function halved(workspace: Workspace, from: Picture): Picture {
  const out = workspace.picture((from.width + 1) >> 1, (from.height + 1) >> 1);
  workspace.runtime.run('halve', out.height, rowPiece, {
    out: out.at,
    half: out.width,
    from: from.at,
    width: from.width,
    height: from.height,
  });
  return out;
}

/** Twice the size of what `halved` made of a picture of `width` by `height`. */
export function doubled(workspace: Workspace, from: Picture, width: number, height: number): Picture {
  const out = workspace.picture(width, height);
  workspace.runtime.run('double', height, rowPiece, {
    out: out.at,
    width,
    from: from.at,
    half: from.width,
    low: from.height,
  });
  return out;
}
