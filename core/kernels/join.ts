import { cosTurns, sinTurns } from '../math/elementary';
import type { Picture } from '../picture/picture';
import { like, onPixels } from './point';
import { frameOf, type Workspace } from './workspace';

/**
 * How a source goes onto a backdrop. On premultiplied colour s over b with coverage αs and αb (both held to [0, 1] here):
 *
 * The twelve operators of Porter & Duff 1984, *Compositing Digital Images*, s·Fs + b·Fb; plus, with alpha held to 1.
 *
 * The blend modes of W3C *Compositing and Blending Level 1* (https://www.w3.org/TR/compositing-1/), composited source-over:
 * s(1 − αb) + b(1 − αs) + αs αb B(Cb, Cs), in the working space. Multiply, darken, lighten, difference and exclusion need no
 * bounds and take light above 1 as it is; so does screen, with the backdrop held to [0, 1] in the product, so that it goes on
 * continuously above 1. Overlay, hard light, soft light, dodge, burn and the four modes of hue, saturation, colour and luminosity
 * have meaning on [0, 1] alone: there the colours of both are held to it where they overlap.
 */
export const joinModes = {
  clear: 'Clear',
  source: 'Source alone',
  backdrop: 'Backdrop alone',
  over: 'Over',
  under: 'Under',
  in: 'In: source where the backdrop is',
  'backdrop-in': 'Backdrop where the source is',
  out: 'Out: source where no backdrop is',
  'backdrop-out': 'Backdrop where no source is',
  atop: 'Atop',
  'backdrop-atop': 'Backdrop atop',
  xor: 'Either, not both',
  plus: 'Plus',
  multiply: 'Multiply',
  screen: 'Screen',
  darken: 'Darken',
  lighten: 'Lighten',
  difference: 'Difference',
  exclusion: 'Exclusion',
  overlay: 'Overlay',
  'hard-light': 'Hard light',
  'color-dodge': 'Dodge',
  'color-burn': 'Burn',
  'soft-light': 'Soft light',
  hue: 'Hue',
  saturation: 'Saturation',
  color: 'Colour',
  luminosity: 'Luminosity',
} as const;
export type JoinMode = keyof typeof joinModes;
const modes = Object.keys(joinModes) as JoinMode[];

/** The source onto the backdrop; see `joinModes` for the formulas. */
export const join = (workspace: Workspace, backdrop: Picture, source: Picture, mode: JoinMode): Picture =>
  onPixels(workspace, 'join', workspace.picture(backdrop.width, backdrop.height), {
    backdrop: backdrop.at,
    source: source.at,
    mode: modes.indexOf(mode),
  });

export type Kept = { mask?: Picture; invert: boolean; amount: number };

/**
 * From `before` to `after` by amount and matte: `before` bit for bit where that is 0, `after` where it is 1, half-way at 0.5.
 */
export const mix = (
  workspace: Workspace,
  before: Picture,
  after: Picture,
  { mask, invert, amount }: Kept,
): Picture =>
  onPixels(workspace, 'mix', workspace.picture(before.width, before.height), {
    before: before.at,
    after: after.at,
    mask: mask?.at ?? 0,
    amount,
    invert: invert ? 1 : 0,
  });

/** Source of a channel: the picture itself, another picture, or a constant. */
export const channelSources = {
  red: 'Red',
  green: 'Green',
  blue: 'Blue',
  alpha: 'Alpha',
  luminance: 'Luminance',
  zero: '0',
  one: '1',
  'other-red': 'Second picture: red',
  'other-green': 'Second picture: green',
  'other-blue': 'Second picture: blue',
  'other-alpha': 'Second picture: alpha',
  'other-luminance': 'Second picture: luminance',
} as const;
export type ChannelSource = keyof typeof channelSources;
const codes: Record<ChannelSource, number> = {
  red: 0,
  green: 1,
  blue: 2,
  alpha: 3,
  luminance: 4,
  zero: 5,
  one: 6,
  'other-red': 8,
  'other-green': 9,
  'other-blue': 10,
  'other-alpha': 11,
  'other-luminance': 12,
};

/** A picture of chosen channels, R, G, B, A in turn; alpha is held to [0, 1]. Without another picture its channels are those of the first. */
export const pickChannels = (
  workspace: Workspace,
  picture: Picture,
  other: Picture | undefined,
  from: readonly [ChannelSource, ChannelSource, ChannelSource, ChannelSource],
): Picture => {
  const [red, green, blue, alpha] = from.map((f) => codes[f]);
  const args = { from: picture.at, other: (other ?? picture).at, red, green, blue, alpha };
  return onPixels(workspace, 'pick', like(workspace, picture), args);
};

export type Rgba = readonly [number, number, number, number];
const rowPiece = 16;

/**
 * A ramp from one premultiplied colour to another along `angle` (degrees, counter-clockwise from +x as seen), reaching both at the
 * picture's corners.
 */
export function ramp(
  workspace: Workspace,
  width: number,
  height: number,
  from: Rgba,
  to: Rgba,
  angle: number,
): Picture {
  const out = workspace.picture(width, height);
  // Rows count downwards, angles upwards.
  const [x, y] = [cosTurns(angle / 360), -sinTurns(angle / 360)];
  const span = Math.abs(x) * width + Math.abs(y) * height;
  const [ux, uy] = [x / span, y / span];
  const u0 = 0.5 - (ux * (width - 1) + uy * (height - 1)) / 2;
  const stops = workspace.floats([...from, ...to]);
  workspace.runtime.run('ramp', height, rowPiece, {
    out: out.at,
    width,
    alongX: ux,
    alongY: uy,
    first: u0,
    stops,
  });
  workspace.drop(stops);
  return out;
}

/** Opaque squares of `size` pixels in two greys. */
export function checker(
  workspace: Workspace,
  width: number,
  height: number,
  size: number,
  dark: number,
  light: number,
): Picture {
  const out = workspace.picture(width, height);
  const { x, y } = frameOf(workspace, out);
  const side = Math.max(1, Math.round(size));
  workspace.runtime.run('checker', height, rowPiece, {
    out: out.at,
    width,
    size: side,
    x0: x,
    y0: y,
    dark,
    light,
  });
  return out;
}
