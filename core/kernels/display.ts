import { decodeSrgb, encodeSrgb } from '../colour/srgb';
import type { Picture } from '../picture/picture';
import { pixelPiece } from './point';
import type { Workspace } from './workspace';

export const looks = ['colour', 'red', 'green', 'blue', 'alpha', 'luminance'] as const;
export type Look = (typeof looks)[number];

/** How a picture is looked at; changes nothing in it. `range` maps data passes to 0…1. */
export type View = { look: Look; stops: number; range?: [number, number] };

const starts = 4096;
/** Light at which code c ends and c + 1 begins. */
const edges = Float32Array.from({ length: 255 }, (_, c) => decodeSrgb((c + 0.5) / 255));
/** The lowest code within each 1/4096 of light. */
const lowest = Uint8Array.from({ length: starts }, (_, i) => Math.floor(encodeSrgb(i / starts) * 255 + 0.5));

/**
 * 8-bit sRGB (IEC 61966-2-1, rounded exactly) over black, opaque, ready for a canvas. Alpha is shown as even grey (not
 * as light); channels and luminance as grey light.
 */
export function toDisplay(
  workspace: Workspace,
  picture: Picture,
  view: View,
): Uint8ClampedArray<ArrayBuffer> {
  const { memory } = workspace.runtime.arena;
  const count = picture.width * picture.height;
  const out = workspace.bytes(count * 4);
  const table = workspace.bytes(starts + 4);
  new Uint8Array(memory.buffer, table, starts).set(lowest);
  const [low, high] = view.range ?? [0, 1];
  const gain = 2 ** view.stops / (view.range ? high - low || 1 : 1);
  const shift = view.range ? -low * gain : 0;
  const look = looks.indexOf(view.look);
  workspace.runtime.run('display', count, pixelPiece, {
    out,
    from: picture.at,
    codes: table,
    edges: workspace.floats(edges),
    gain,
    shift,
    look,
  });
  return new Uint8ClampedArray(new Uint8ClampedArray(memory.buffer, out, count * 4));
}
