import type { Desk } from '../kernels/desk';
import type { Picture } from '../picture/picture';
import { type Box, boxWidth, type Channel, type Header, type PixelType, type Samples } from './exr/types';
import { halvesToFloats } from './half';
import { idMatteLayers } from './id-mattes';

export type PassKind = 'picture' | 'depth' | 'normal' | 'position' | 'id' | 'id-matte' | 'alpha' | 'data';

/** A named group of channels. `channels` lists full channel names in the order R, G, B, A (or X, Y, Z; or one). */
export type Pass = {
  /** The layer name; '' for the unnamed layer. */
  name: string;
  label: string;
  kind: PassKind;
  channels: string[];
  types: PixelType[];
};

const split = (channel: string) => {
  const dot = channel.lastIndexOf('.');
  return { layer: dot < 0 ? '' : channel.slice(0, dot), part: dot < 0 ? channel : channel.slice(dot + 1) };
};

const orders = [
  ['R', 'G', 'B', 'A'],
  ['R', 'G', 'B'],
  ['X', 'Y', 'Z'],
  ['x', 'y', 'z'],
  ['r', 'g', 'b', 'a'],
  ['r', 'g', 'b'],
];

const words: [RegExp, PassKind][] = [
  [/^(depth|z|zdepth)\b/i, 'depth'],
  [/^(n|normals?|worldnormal)\b/i, 'normal'],
  [/^(p|pos|position|worldposition|worldpoint)\b/i, 'position'],
  [/(^|[^a-z])ids?$|^(object|material).?(id|index)/i, 'id'],
];

const partOrder = ['R', 'G', 'B', 'A', 'X', 'Y', 'Z', 'r', 'g', 'b', 'a', 'x', 'y', 'z'];

/** The sensible order of channels of one layer: colour or axes first, the rest by name. */
function ordered(parts: string[]): string[] {
  const known = orders.find((o) => o.length === parts.length && o.every((p) => parts.includes(p)));
  if (known) return known;
  const rank = (p: string) => (partOrder.includes(p) ? partOrder.indexOf(p) : partOrder.length);
  return [...parts].sort((a, b) => rank(a) - rank(b) || (a < b ? -1 : 1));
}

function kindOf(layer: string, parts: string[], types: PixelType[]): PassKind {
  if (layer === '' && parts.length === 1 && /^Z$/i.test(parts[0])) return 'depth';
  if (types.every((t) => t === 'uint')) return 'id';
  const last = layer.split('.').pop() ?? layer;
  const byWord = words.find(([pattern]) => pattern.test(last))?.[1];
  if (byWord) return byWord;
  if (parts.length === 1 && /^a$/i.test(parts[0])) return 'alpha';
  return /^[rgb]$/i.test(parts[0]) ? 'picture' : 'data';
}

/** Groups the channels of a file into passes, the unnamed layer first, then pictures, then data. */
export function passesOf(header: Pick<Header, 'channels' | 'attributes'>): Pass[] {
  const layers = new Map<string, Channel[]>();
  for (const channel of header.channels) {
    const { layer, part } = split(channel.name);
    // A lone Z, id or the like beside R, G, B, A in the unnamed layer is a pass of its own.
    const key = layer === '' && !/^[RGBA]$/i.test(part) ? `\0${part}` : layer;
    layers.set(key, [...(layers.get(key) ?? []), channel]);
  }
  const idMattes = idMatteLayers(header.attributes);
  const passes = [...layers].map(([key, channels]): Pass => {
    const lone = key.startsWith('\0');
    const layer = lone ? key.slice(1) : key;
    const parts = ordered(channels.map((c) => split(c.name).part));
    const sorted = parts.map((p) => channels.find((c) => split(c.name).part === p)!);
    const types = sorted.map((c) => c.type);
    const isIdMatte = idMattes.some(
      (name) => layer === name || (/^\d\d$/.test(layer.slice(name.length)) && layer.startsWith(name)),
    );
    const kind = isIdMatte ? 'id-matte' : kindOf(lone ? '' : layer, parts, types);
    const label = layer === '' ? 'beauty' : layer;
    return { name: layer, label, kind, channels: sorted.map((c) => c.name), types };
  });
  const rank = (p: Pass) => (p.name === '' ? 0 : p.kind === 'picture' ? 1 : p.kind === 'id-matte' ? 3 : 2);
  return passes.sort((a, b) => rank(a) - rank(b));
}

/** Strands that begin at this pass carry a picture, or data that must not be filtered as colour. */
export const strandKind = (pass: Pass): 'picture' | 'data' =>
  pass.kind === 'picture' || pass.kind === 'alpha' ? 'picture' : 'data';

/** Floats of samples; uint ids become the nearest float (exact up to 2^24). */
function floats(samples: Samples): Float32Array {
  if (samples instanceof Float32Array) return samples;
  return samples instanceof Uint16Array ? halvesToFloats(samples) : Float32Array.from(samples);
}

/**
 * The picture of a pass in its display window, outside the data window transparent black. Three channels get alpha 1 inside
 * the data window; one channel is grey with alpha 1, or white under alpha where it is an alpha pass.
 */
export function passPicture(desk: Desk, pass: Pass, planes: Samples[], data: Box, display: Box): Picture {
  const [width, height] = [boxWidth(display), display.yMax - display.yMin + 1];
  const picture = desk.blank(width, height);
  const values = planes.slice(0, 4).map(floats);
  const source = boxWidth(data);
  const x0 = Math.max(data.xMin, display.xMin);
  const x1 = Math.min(data.xMax, display.xMax);
  for (let y = Math.max(data.yMin, display.yMin); y <= Math.min(data.yMax, display.yMax); y++) {
    let from = (y - data.yMin) * source + x0 - data.xMin;
    let to = ((y - display.yMin) * width + x0 - display.xMin) * 4;
    for (let x = x0; x <= x1; x++, from++, to += 4) {
      const first = values[0][from];
      picture.data[to] = first;
      picture.data[to + 1] = values.length > 1 ? values[1][from] : values.length === 1 ? first : 0;
      picture.data[to + 2] = values.length > 2 ? values[2][from] : values.length === 1 ? first : 0;
      picture.data[to + 3] = values.length > 3 ? values[3][from] : pass.kind === 'alpha' ? first : 1;
    }
  }
  return picture;
}
