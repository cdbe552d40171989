import type { Picture } from '../picture/picture';
import type { Desk } from './desk';
import { pickChannels } from './join';
import type { KernelName } from './machine';
import { pixelPiece } from './point';

/** Mattes: planes of one float a pixel, 0 to 1. */

const onPixels = (desk: Desk, name: KernelName, out: Picture, ...args: number[]) => {
  desk.machine.run(name, out.width * out.height, pixelPiece, out.at, ...args);
  return out;
};
export const planeLike = (desk: Desk, p: Picture) => desk.picture(p.width, p.height, 1);

/** One colour, premultiplied by a matte, which becomes its alpha. */
export const colourWhere = (desk: Desk, matte: Picture, [r, g, b]: readonly number[]) =>
  onPixels(desk, 'ofPlane', desk.picture(matte.width, matte.height), matte.at, r, g, b, 1, 0);

/** Light of one colour, as bright as a matte says, without alpha. */
export const lightWhere = (desk: Desk, matte: Picture, [r, g, b]: readonly number[]) =>
  onPixels(desk, 'ofPlane', desk.picture(matte.width, matte.height), matte.at, r, g, b, 0, 0);

/** A matte as an opaque grey picture, to be looked at; a picture as it is. */
export const toLookAt = (desk: Desk, p: Picture) =>
  p.channels === 4 ? p : onPixels(desk, 'ofPlane', desk.picture(p.width, p.height), p.at, 1, 1, 1, 0, 1);

export const channelOf = (desk: Desk, picture: Picture, channel: 0 | 1 | 2 | 3) =>
  onPixels(desk, 'toPlane', planeLike(desk, picture), picture.at, channel);

/** A picture's colour with a matte as its alpha, neither multiplied by it. */
export function withAlpha(desk: Desk, picture: Picture, matte: Picture): Picture {
  const white = colourWhere(desk, matte, [0, 0, 0]);
  const out = pickChannels(desk, picture, white, ['red', 'green', 'blue', 'other-alpha']);
  desk.drop(white);
  return out;
}

/** Work on pictures, done on a picture, or on a matte as white under its alpha. */
export function asPicture(desk: Desk, matte: Picture, work: (picture: Picture) => Picture): Picture {
  if (matte.channels === 4) return work(matte);
  const white = colourWhere(desk, matte, [1, 1, 1]);
  const done = work(white);
  const out = channelOf(desk, done, 3);
  desk.drop(white);
  desk.drop(done);
  return out;
}

/** As `mix`, of mattes. */
export const mixPlanes = (
  desk: Desk,
  before: Picture,
  after: Picture,
  { where, invert }: { where?: Picture; invert: boolean },
) =>
  where
    ? onPixels(desk, 'mixPlanes', planeLike(desk, before), before.at, after.at, where.at, 1, invert ? 1 : 0)
    : after;

export type Levels = { black: number; white: number; gamma: number; invert: boolean };

/** ((m − black)/(white − black))^(1/gamma), held to 0…1; its complement if `invert`. */
export const levels = (desk: Desk, matte: Picture, { black, white, gamma, invert }: Levels) =>
  onPixels(desk, 'levels', planeLike(desk, matte), matte.at, black, white, gamma, invert ? 1 : 0);

export const complement = (desk: Desk, matte: Picture) =>
  levels(desk, matte, { black: 0, white: 1, gamma: 1, invert: true });

export const combineModes = {
  union: 'Union',
  intersect: 'Intersection',
  multiply: 'Product',
  subtract: 'Without the other',
  either: 'Just one of both',
  less: 'Difference',
} as const;
export type CombineMode = keyof typeof combineModes;

/** Union max(a, b), intersection min(a, b), product a·b, without the other min(a, 1 − b), the union of both of those, and the difference max(0, a − b). */
export const combine = (desk: Desk, a: Picture, b: Picture, mode: CombineMode) =>
  onPixels(desk, 'combine', planeLike(desk, a), a.at, b.at, Object.keys(combineModes).indexOf(mode));

/** The median or the mean of mattes, pixel by pixel. */
export function steadyOf(desk: Desk, planes: readonly Picture[], by: 'median' | 'mean'): Picture {
  const table = desk.ints(planes.map((p) => p.at));
  const out = onPixels(
    desk,
    'steady',
    planeLike(desk, planes[0]),
    table,
    planes.length,
    by === 'mean' ? 1 : 0,
  );
  desk.drop(table);
  return out;
}

/**
 * A matte without specks (`holes` false) or without holes: what hangs together by sides and corners, where it, or its complement, is above 1/255,
 * and covers less than `size` pixels in sum.
 */
export function clean(desk: Desk, matte: Picture, size: number, holes: boolean): Picture {
  const { width, height } = matte;
  const out = planeLike(desk, matte);
  const labels = desk.bytes(width * height * 8);
  desk.machine.run('clean', 1, 1, out.at, matte.at, width, height, size, holes ? 1 : 0, labels);
  desk.drop(labels);
  return out;
}

/** Adds the coverage that two ranks (id, coverage, id, coverage) give to chosen ids, which are bit patterns of floats. */
export function addRanked(desk: Desk, onto: Picture, ranks: Picture, ids: readonly number[]) {
  const table = desk.ints(ids.map((id) => id | 0));
  onPixels(desk, 'rankedIds', onto, ranks.at, table, ids.length);
  desk.drop(table);
}

/** 1 where the first channels of a pixel are, each within `near`, one of the values. */
export function flatIds(
  desk: Desk,
  from: Picture,
  values: readonly (readonly number[])[],
  near: number,
): Picture {
  const table = desk.floats(values.flat());
  const channels = values[0]?.length ?? 1;
  const out = onPixels(desk, 'flatIds', planeLike(desk, from), from.at, table, values.length, channels, near);
  desk.drop(table);
  return out;
}
