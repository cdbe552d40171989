import type { Attributes, Channel } from './exr/types';
import { idMatteLayers, isLayerOf } from './id-mattes';
import { kindOf, type PassKind, strandKindOf, wordsOf } from './pass-kinds';
import type { SampleType } from './samples';

/** A named group of channels. `channels` lists full channel names in the order R, G, B, A (or X, Y, Z; or one). */
export type Pass = {
  /** The layer name; '' for the unnamed layer. One of its own in the file. */
  name: string;
  label: string;
  kind: PassKind;
  /** Which part of the file holds it. */
  part: number;
  channels: string[];
  types: SampleType[];
};

/** The channels of one part of a file. */
export type PartChannels = {
  name: string;
  channels: Pick<Channel, 'name' | 'type'>[] | { name: string; type: SampleType }[];
  attributes: Attributes;
};

const split = (channel: string) => {
  const dot = channel.lastIndexOf('.');
  return { layer: dot < 0 ? '' : channel.slice(0, dot), last: dot < 0 ? channel : channel.slice(dot + 1) };
};

const orders = [
  ['R', 'G', 'B', 'A'],
  ['X', 'Y', 'Z', 'A'],
  ['U', 'V', 'W', 'A'],
  ['RED', 'GREEN', 'BLUE', 'ALPHA'],
  ['Y', 'A'],
];

/** The sensible order of channels of one layer: colour or axes first, the rest by name. */
function ordered(parts: string[]): string[] {
  if (['Y', 'RY', 'BY'].every((p) => parts.includes(p)))
    return ['Y', 'RY', 'BY', ...parts.filter((p) => p === 'A')];
  const order = orders.find((o) => parts.every((p) => o.includes(p.toUpperCase())));
  if (!order) return [...parts].sort();
  return [...parts].sort((a, b) => order.indexOf(a.toUpperCase()) - order.indexOf(b.toUpperCase()));
}

const isBeauty = (name: string) =>
  name === '' ||
  wordsOf(name.split('.').pop()!).some((w) => /^(beauty|combined|rgba|composite|color|colour)$/.test(w));

/** Groups the channels of a file's parts into passes: the beauty first, then pictures, then data. */
export function passesOf(parts: readonly PartChannels[]): Pass[] {
  const passes: Pass[] = [];
  const taken = new Set<string>();
  for (const [part, { name: partName, channels, attributes }] of parts.entries()) {
    const layers = new Map<string, { name: string; type: SampleType; last: string }[]>();
    // Axes without a layer's name are one vector: its Y is no luminance, its Z no depth.
    const axes = ['X', 'Y', 'Z'];
    const isVector = axes.every((axis) => channels.some((c) => c.name.toUpperCase() === axis));
    for (const { name, type } of channels) {
      const { layer, last } = split(name);
      // A lone Z, id or the like beside R, G, B, A in the unnamed layer is a pass of its own.
      const key =
        layer !== ''
          ? layer
          : isVector && axes.includes(last.toUpperCase())
            ? '\0XYZ'
            : /^([RGBAY]|RY|BY)$/i.test(last)
              ? ''
              : `\0${last}`;
      layers.set(key, [...(layers.get(key) ?? []), { name, type, last }]);
    }
    const idMattes = idMatteLayers(attributes);
    for (const [key, group] of layers) {
      const lone = key.startsWith('\0');
      const own = lone ? key.slice(1) : key;
      const sorted = ordered(group.map((c) => c.last)).map((last) => group.find((c) => c.last === last)!);
      const types = sorted.map((c) => c.type);
      const isIdMatte = idMattes.some((name) => isLayerOf(name, own));
      // In a file of several parts, a layer without a name is called as its part.
      const layer = own === '' && part > 0 ? partName : own;
      let name = layer;
      for (let n = 2; taken.has(name); n++) {
        name = partName && !layer.startsWith(partName) ? `${partName}.${layer}` : `${layer} ${n}`;
        if (taken.has(name)) name = `${layer} ${n}`;
      }
      taken.add(name);
      const kind = isIdMatte
        ? 'id-matte'
        : kindOf(
            lone ? '' : layer,
            sorted.map((c) => c.last),
            types,
          );
      passes.push({ name, label: name || 'beauty', kind, part, channels: sorted.map((c) => c.name), types });
    }
  }
  const rank = (p: Pass) =>
    p.kind === 'picture'
      ? isBeauty(p.name)
        ? 0
        : 1
      : strandKindOf(p.kind) === 'picture'
        ? 2
        : p.kind === 'id-matte'
          ? 4
          : 3;
  return passes.sort((a, b) => rank(a) - rank(b));
}

/** Name of a strand that begins at a pass; the media's name if the media has only a picture. */
export const passTitle = (media: string, { label }: Pick<Pass, 'label'>): string =>
  label === 'picture' ? media : label;

export const strandKind = (pass: Pass): 'picture' | 'data' => strandKindOf(pass.kind);
