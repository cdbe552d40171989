import type { Picture } from '../picture/picture';
import { pickChannels } from './join';
import { onPixels } from './point';
import type { Workspace } from './workspace';

/** Mattes: planes of one float a pixel, 0 to 1. */

export const planeLike = (workspace: Workspace, p: Picture) => workspace.picture(p.width, p.height, 1);

/** One colour, premultiplied by a matte, which becomes its alpha. */
export const colourWhere = (workspace: Workspace, matte: Picture, [r, g, b]: readonly number[]) =>
  onPixels(workspace, 'ofPlane', workspace.picture(matte.width, matte.height), {
    plane: matte.at,
    red: r,
    green: g,
    blue: b,
    premultiplied: 1,
    opaque: 0,
  });

/** Light of one colour times a matte, without alpha. */
export const lightWhere = (workspace: Workspace, matte: Picture, [r, g, b]: readonly number[]) =>
  onPixels(workspace, 'ofPlane', workspace.picture(matte.width, matte.height), {
    plane: matte.at,
    red: r,
    green: g,
    blue: b,
    premultiplied: 0,
    opaque: 0,
  });

/** A matte as an opaque grey picture, to be looked at; a picture as it is. */
export const toLookAt = (workspace: Workspace, p: Picture) =>
  p.channels === 4
    ? p
    : onPixels(workspace, 'ofPlane', workspace.picture(p.width, p.height), {
        plane: p.at,
        red: 1,
        green: 1,
        blue: 1,
        premultiplied: 0,
        opaque: 1,
      });

export const channelOf = (workspace: Workspace, picture: Picture, channel: 0 | 1 | 2 | 3) =>
  onPixels(workspace, 'toPlane', planeLike(workspace, picture), { from: picture.at, channel });

/** A picture's colour with a matte as its alpha, neither multiplied by it. */
export function withAlpha(workspace: Workspace, picture: Picture, matte: Picture): Picture {
  const white = colourWhere(workspace, matte, [0, 0, 0]);
  const out = pickChannels(workspace, picture, white, ['red', 'green', 'blue', 'other-alpha']);
  workspace.drop(white);
  return out;
}

/** Work on pictures, done on a picture, or on a matte as white under its alpha. */
export function asPicture(
  workspace: Workspace,
  matte: Picture,
  work: (picture: Picture) => Picture,
): Picture {
  if (matte.channels === 4) return work(matte);
  const white = colourWhere(workspace, matte, [1, 1, 1]);
  const done = work(white);
  const out = channelOf(workspace, done, 3);
  workspace.drop(white);
  workspace.drop(done);
  return out;
}

/** As `mix`, of mattes. */
export const mixPlanes = (
  workspace: Workspace,
  before: Picture,
  after: Picture,
  { mask, invert, amount }: { mask?: Picture; invert: boolean; amount: number },
) =>
  onPixels(workspace, 'mixPlanes', planeLike(workspace, before), {
    before: before.at,
    after: after.at,
    mask: mask?.at ?? 0,
    amount,
    invert: invert ? 1 : 0,
  });

export type Levels = { black: number; white: number; gamma: number; invert: boolean };

/** ((m − black)/(white − black))^(1/gamma), held to 0…1; its complement if `invert`. */
export const levels = (workspace: Workspace, matte: Picture, { black, white, gamma, invert }: Levels) =>
  onPixels(workspace, 'levels', planeLike(workspace, matte), {
    from: matte.at,
    black,
    white,
    gamma,
    invert: invert ? 1 : 0,
  });

export const complement = (workspace: Workspace, matte: Picture) =>
  levels(workspace, matte, { black: 0, white: 1, gamma: 1, invert: true });

export const combineModes = {
  union: 'Union',
  intersect: 'Intersection',
  multiply: 'Product',
  subtract: 'Subtract',
  either: 'Exclusive or',
  less: 'Difference',
} as const;
export type CombineMode = keyof typeof combineModes;

/** Union max(a, b), intersection min(a, b), product a·b, subtraction min(a, 1 − b), the union of both subtractions, and the difference max(0, a − b). */
export const combine = (workspace: Workspace, a: Picture, b: Picture, mode: CombineMode) =>
  onPixels(workspace, 'combine', planeLike(workspace, a), {
    a: a.at,
    b: b.at,
    mode: Object.keys(combineModes).indexOf(mode),
  });

/** The median or the mean of mattes, pixel by pixel. */
export function steadyOf(workspace: Workspace, planes: readonly Picture[], by: 'median' | 'mean'): Picture {
  const table = workspace.ints(planes.map((p) => p.at));
  const out = onPixels(workspace, 'temporalFilter', planeLike(workspace, planes[0]), {
    planes: table,
    count: planes.length,
    mean: by === 'mean' ? 1 : 0,
  });
  workspace.drop(table);
  return out;
}

/**
 * A matte without specks (`holes` false) or without holes: what hangs together by sides and corners, where it, or its complement, is above 1/255,
 * and covers less than `size` pixels in sum.
 */
export function clean(workspace: Workspace, matte: Picture, size: number, holes: boolean): Picture {
  const { width, height } = matte;
  const out = planeLike(workspace, matte);
  const labels = workspace.bytes(width * height * 8);
  workspace.runtime.run('clean', 1, 1, {
    out: out.at,
    from: matte.at,
    width,
    height,
    size,
    holes: holes ? 1 : 0,
    labels,
  });
  workspace.drop(labels);
  return out;
}

/** Adds the coverage that two ranks (id, coverage, id, coverage) give to chosen ids, which are bit patterns of floats. */
export function addRanked(workspace: Workspace, onto: Picture, ranks: Picture, ids: readonly number[]) {
  const table = workspace.ints(ids.map((id) => id | 0));
  onPixels(workspace, 'rankedIds', onto, { ranks: ranks.at, ids: table, count: ids.length });
  workspace.drop(table);
}

/** 1 where the first channels of a pixel are, each within `near`, one of the values. */
export function flatIds(
  workspace: Workspace,
  from: Picture,
  values: readonly (readonly number[])[],
  near: number,
): Picture {
  const table = workspace.floats(values.flat());
  const channels = values[0]?.length ?? 1;
  const out = onPixels(workspace, 'flatIds', planeLike(workspace, from), {
    from: from.at,
    values: table,
    count: values.length,
    channels,
    near,
  });
  workspace.drop(table);
  return out;
}
