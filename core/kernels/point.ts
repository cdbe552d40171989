import type { Picture } from '../picture/picture';
import type { KernelArguments, KernelName } from './runtime';
import type { Workspace } from './workspace';

/** Pieces of pixelwise work: small enough to share, large enough that claiming one costs nothing. */
export const pixelPiece = 16384;

/** Runs a kernel that makes each pixel of `out` by itself. */
export function onPixels<Name extends KernelName>(
  workspace: Workspace,
  name: Name,
  out: Picture,
  args: Omit<KernelArguments<Name>, 'out'>,
): Picture {
  const all = { ...args, out: out.at } as KernelArguments<Name>;
  workspace.runtime.run(name, out.width * out.height, pixelPiece, all);
  return out;
}
/** Room for a picture of the same size. */
export const like = (workspace: Workspace, p: Picture) => workspace.picture(p.width, p.height);

/** The same pixels, bit for bit. */
export const copy = (workspace: Workspace, from: Picture) =>
  onPixels(workspace, 'copy', like(workspace, from), { from: from.at });

/** One colour everywhere. */
export const fill = (workspace: Workspace, width: number, height: number, [r, g, b, a]: readonly number[]) =>
  onPixels(workspace, 'fill', workspace.picture(width, height), { red: r, green: g, blue: b, alpha: a });

/** a over b, premultiplied: a + b (1 − αa) (Porter & Duff 1984). */
export const over = (workspace: Workspace, a: Picture, b: Picture) =>
  onPixels(workspace, 'over', like(workspace, a), { a: a.at, b: b.at });

/** a plus b; alpha is held to 1, colour is not (Porter & Duff 1984). */
export const plus = (workspace: Workspace, a: Picture, b: Picture) =>
  onPixels(workspace, 'plus', like(workspace, a), { a: a.at, b: b.at });

/** a · wa + b · wb, in all four channels. */
export const weightedSum = (workspace: Workspace, a: Picture, wa: number, b: Picture, wb: number) =>
  onPixels(workspace, 'weightedSum', like(workspace, a), { a: a.at, weightA: wa, b: b.at, weightB: wb });

export const premultiply = (workspace: Workspace, from: Picture) =>
  onPixels(workspace, 'premultiply', like(workspace, from), { from: from.at });

/** Colour divided by alpha; where alpha is 0 the colour is light without coverage and stays. */
export const unpremultiply = (workspace: Workspace, from: Picture) =>
  onPixels(workspace, 'unpremultiply', like(workspace, from), { from: from.at });

export type MatteFrom = 'alpha' | 'luminance';

/** A matte from a picture: its alpha or its luminance, held to 0…1; what is not finite counts as 0 or 1 by its sign, NaN as 0. */
export const matteOf = (workspace: Workspace, from: Picture, by: MatteFrom) =>
  onPixels(workspace, 'matte', workspace.picture(from.width, from.height, 1), {
    from: from.at,
    channel: by === 'alpha' ? 3 : 4,
  });

export type TakeOptions = {
  threshold: number;
  knee: number;
  limit: number;
  tint: readonly [number, number, number];
  /** Light is taken only where this matte is. */
  lightMask?: Picture;
};

/**
 * The light taken from a picture, alpha 0, times `tint`. Share of light by its luminance y: 0 below t − k, quadratic
 * between t − k and t + k, (y − t)/y above; continuous with continuous slope; one share for all channels keeps the hue.
 * `limit` > 0 caps the luminance of stray pixels first. What is not finite is taken as 0; so is light negative in sum.
 */
export function takeLight(workspace: Workspace, from: Picture, options: TakeOptions): Picture {
  const { threshold, knee, limit, tint, lightMask } = options;
  return onPixels(workspace, 'take', like(workspace, from), {
    from: from.at,
    threshold,
    knee: Math.min(knee, threshold),
    limit,
    red: tint[0],
    green: tint[1],
    blue: tint[2],
    mask: lightMask?.at ?? 0,
  });
}

/** Light by its luminance y, the colour kept: ((y − black)/(white − black))^(1/gamma), unbounded above, in place of y. */
export const lightStrength = (
  workspace: Workspace,
  light: Picture,
  { black, white, gamma }: { black: number; white: number; gamma: number },
) =>
  black === 0 && white === 1 && gamma === 1
    ? light
    : onPixels(workspace, 'strength', like(workspace, light), {
        from: light.at,
        black,
        scale: 1 / Math.max(1e-4, white - black),
        power: 1 / gamma,
      });

/** Colour times a tint. */
export const tinted = (workspace: Workspace, light: Picture, tint: readonly [number, number, number]) =>
  takeLight(workspace, light, { threshold: 0, knee: 0, limit: 0, tint });

/** One colour in place of the light's own, by its luminance. */
export const inOneColour = (
  workspace: Workspace,
  light: Picture,
  [r, g, b]: readonly [number, number, number],
) => onPixels(workspace, 'oneColour', like(workspace, light), { from: light.at, red: r, green: g, blue: b });

const layModes = ['add', 'screen', 'lighten', 'over', 'under'] as const;
export type LayMode = (typeof layModes)[number];
export type LayOptions = {
  mode: LayMode;
  amount: number;
  alphaGrows: boolean;
  show: 'result' | 'light';
  /** Mask of the light, 0…1; its complement if `invert`, which has no effect without a mask. */
  mask?: Picture;
  invert: boolean;
};

/**
 * Lays light back on a picture. Screen is a + b − a·b of the W3C *Compositing and Blending Level 1*, with a held to [0, 1] in the
 * product so that it goes on continuously above 1; over and under are Porter & Duff 1984 on premultiplied colour.
 * Colour is never clamped; alpha stays in [0, 1]: it grows to 1 − (1 − a)(1 − clamp01(max(R, G, B) of the light)) where
 * `alphaGrows`. Outside `mask` no bit changes; at 0.5 the result is half-way. With `show: 'light'` the light alone, over opaque black.
 */
export function layLight(workspace: Workspace, picture: Picture, light: Picture, o: LayOptions): Picture {
  return onPixels(workspace, 'lay', like(workspace, picture), {
    picture: picture.at,
    light: light.at,
    mask: o.mask?.at ?? 0,
    mode: layModes.indexOf(o.mode),
    amount: o.amount,
    alphaGrows: o.alphaGrows ? 1 : 0,
    lightAlone: o.show === 'light' ? 1 : 0,
    invert: o.mask && o.invert ? 1 : 0,
  });
}
