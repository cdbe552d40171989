import type { Picture } from '../picture/picture';
import type { Desk } from './desk';
import type { KernelName } from './machine';

/** Pieces of pixelwise work: small enough to share, large enough that claiming one costs nothing. */
export const pixelPiece = 16384;

const onPixels = (desk: Desk, name: KernelName, out: Picture, ...args: number[]) => {
  desk.machine.run(name, out.width * out.height, pixelPiece, out.at, ...args);
  return out;
};
const like = (desk: Desk, p: Picture) => desk.picture(p.width, p.height);

/** The same pixels, bit for bit. */
export const copy = (desk: Desk, from: Picture) => onPixels(desk, 'copy', like(desk, from), from.at);

/** One colour everywhere. */
export const fill = (desk: Desk, width: number, height: number, [r, g, b, a]: readonly number[]) =>
  onPixels(desk, 'fill', desk.picture(width, height), r, g, b, a);

/** a over b, premultiplied: a + b (1 − αa) (Porter & Duff 1984). */
export const over = (desk: Desk, a: Picture, b: Picture) => onPixels(desk, 'over', like(desk, a), a.at, b.at);

/** a plus b; alpha is held to 1, colour is not (Porter & Duff 1984). */
export const plus = (desk: Desk, a: Picture, b: Picture) => onPixels(desk, 'plus', like(desk, a), a.at, b.at);

/** a · wa + b · wb, in all four channels. */
export const weightedSum = (desk: Desk, a: Picture, wa: number, b: Picture, wb: number) =>
  onPixels(desk, 'weightedSum', like(desk, a), a.at, wa, b.at, wb);

export const premultiply = (desk: Desk, from: Picture) =>
  onPixels(desk, 'premultiply', like(desk, from), from.at);

/** Colour divided by alpha; where alpha is 0 the colour is light without coverage and stays. */
export const unpremultiply = (desk: Desk, from: Picture) =>
  onPixels(desk, 'unpremultiply', like(desk, from), from.at);

export type MatteFrom = 'alpha' | 'luminance';

/** A matte from a picture: its alpha or its luminance, held to 0…1; what is not finite counts as 0 or 1 by its sign, NaN as 0. */
export const matteOf = (desk: Desk, from: Picture, by: MatteFrom) =>
  onPixels(desk, 'matte', desk.picture(from.width, from.height, 1), from.at, by === 'alpha' ? 3 : 4);

export type TakeOptions = {
  threshold: number;
  knee: number;
  limit: number;
  tint: readonly [number, number, number];
  /** Light is taken only where this matte is. */
  within?: Picture;
};

/**
 * The light taken from a picture, alpha 0, times `tint`. Share of light by its luminance y: 0 below t − k, quadratic
 * between t − k and t + k, (y − t)/y above; continuous with continuous slope; one share for all channels keeps the hue.
 * `limit` > 0 caps the luminance of stray pixels first. What is not finite is taken as 0; so is light negative in sum.
 */
export function takeLight(desk: Desk, from: Picture, options: TakeOptions): Picture {
  const { threshold, knee, limit, tint, within } = options;
  return onPixels(
    desk,
    'take',
    like(desk, from),
    from.at,
    threshold,
    Math.min(knee, threshold),
    limit,
    ...tint,
    within?.at ?? 0,
  );
}

/** Light by its luminance y, the colour kept: ((y − black)/(white − black))^(1/gamma), unbounded above, in place of y. */
export const lightStrength = (
  desk: Desk,
  light: Picture,
  { black, white, gamma }: { black: number; white: number; gamma: number },
) =>
  black === 0 && white === 1 && gamma === 1
    ? light
    : onPixels(
        desk,
        'strength',
        like(desk, light),
        light.at,
        black,
        1 / Math.max(1e-4, white - black),
        1 / gamma,
      );

/** Colour times a tint. */
export const tinted = (desk: Desk, light: Picture, tint: readonly [number, number, number]) =>
  takeLight(desk, light, { threshold: 0, knee: 0, limit: 0, tint });

/** One colour in place of the light's own, by its luminance. */
export const inOneColour = (desk: Desk, light: Picture, [r, g, b]: readonly [number, number, number]) =>
  onPixels(desk, 'oneColour', like(desk, light), light.at, r, g, b);

const layModes = ['add', 'screen', 'lighten', 'over', 'under'] as const;
export type LayMode = (typeof layModes)[number];
export type LayOptions = {
  mode: LayMode;
  amount: number;
  alphaGrows: boolean;
  show: 'result' | 'light';
  /** Where the light may land, 0…1; its complement if `invert`, which without one means nothing. */
  where?: Picture;
  invert: boolean;
};

/**
 * Lays light back on a picture. Screen is a + b − a·b of the W3C *Compositing and Blending Level 1*, with a held to [0, 1] in the
 * product so that it goes on continuously above 1; over and under are Porter & Duff 1984 on premultiplied colour.
 * Colour is never clamped; alpha stays in [0, 1]: it grows to 1 − (1 − a)(1 − clamp01(max(R, G, B) of the light)) where
 * `alphaGrows`. Outside `where` no bit changes; at 0.5 the result is half-way. With `show: 'light'` the light alone, over opaque black.
 */
export function layLight(desk: Desk, picture: Picture, light: Picture, o: LayOptions): Picture {
  const flags = (o.alphaGrows ? 1 : 0) | (o.show === 'light' ? 2 : 0) | (o.where && o.invert ? 4 : 0);
  const where = o.where?.at ?? 0;
  return onPixels(
    desk,
    'lay',
    like(desk, picture),
    picture.at,
    light.at,
    where,
    layModes.indexOf(o.mode),
    o.amount,
    flags,
  );
}
