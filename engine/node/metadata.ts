import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { encodeSrgb } from '../../core/colour/srgb';
import type { FrameMetadata } from '../../core/evaluate/run';
import { cameraPosition, projectionOf } from '../../core/formats/camera';
import { looksLikeExr, readParts } from '../../core/formats/exr/header';
import { boxHeight, boxWidth } from '../../core/formats/exr/types';
import type { FilePart } from '../../core/formats/file-info';
import { type IdMatte, idMattesOf } from '../../core/formats/id-mattes';
import type { Plane } from '../../core/formats/samples';
import { idName } from '../../core/mattes/ids';
import type { PassFrame } from './media-file';

const mostManifest = 64 * 2 ** 20;

/** The text of a file beside a picture, by a plain name. */
function beside(path: string, name: string): string {
  if (/[\\/]/.test(name) || name.startsWith('.')) throw new Error('its name leads elsewhere');
  const at = join(dirname(path), name);
  if (!existsSync(at)) throw new Error('it is not there');
  if (statSync(at).size > mostManifest) throw new Error('it is too large');
  return readFileSync(at, 'utf8');
}

/** Id-mattes of a part of a file, with names from its header or from the manifest beside it. */
export const idMattesIn = (part: FilePart, path: string): IdMatte[] =>
  idMattesOf(part.attributes, (name) => beside(path, name));

/** Names of the files beside a picture that list its objects; none where it is no EXR, or damaged. */
export function listsBeside(bytes: Uint8Array): string[] {
  const names: string[] = [];
  try {
    if (!looksLikeExr(bytes)) return [];
    for (const { attributes } of readParts(bytes))
      idMattesOf(attributes, (name) => {
        names.push(name);
        throw new Error('It is asked for.');
      });
  } catch {
    // Whoever renders it says what is wrong with it.
  }
  return names.filter((name) => !/[\\/]/.test(name) && !name.startsWith('.'));
}

/** Metadata of a frame's file. */
export function metadataOf(parts: readonly FilePart[], path: string): FrameMetadata {
  const objects: FrameMetadata['objects'] = {};
  const unreadable: Record<string, string> = {};
  for (const part of parts)
    for (const { layer, names, problem } of idMattesIn(part, path)) {
      objects[layer] = [...(names?.values() ?? [])];
      if (problem !== undefined) unreadable[layer] = problem;
    }
  const camera = parts.map((p) => cameraPosition(p.attributes)).find((c) => c !== undefined);
  const [{ displayWindow }] = parts;
  const aspect = boxWidth(displayWindow) / boxHeight(displayWindow);
  const projection = parts.map((p) => projectionOf(p.attributes, aspect)).find((m) => m !== undefined);
  return {
    objects,
    ...(Object.keys(unreadable).length > 0 ? { unreadable } : {}),
    camera,
    projection,
  };
}

/** An object of a frame and the share of the frame it covers, 0 where it is known but not in sight. */
export type ObjectShare = { name: string; share: number };

/** The most objects that are listed of a frame. */
const most = 5000;

const shares = (sums: Map<string, number>, pixels: number): ObjectShare[] =>
  [...sums]
    .map(([name, sum]) => ({ name, share: sum / pixels }))
    .sort((a, b) => b.share - a.share || a.name.localeCompare(b.name))
    .slice(0, most);

/** Objects of a ranked id-matte: the coverage of each over all its layers. */
export function rankedShares(layers: readonly PassFrame[], matte: IdMatte | undefined): ObjectShare[] {
  const sums = new Map<number, number>();
  for (const { planes } of layers) {
    for (let rank = 0; rank + 1 < planes.length; rank += 2) {
      const ids = planes[rank] as Float32Array;
      const bits = new Uint32Array(ids.buffer, ids.byteOffset, ids.length);
      const coverage = planes[rank + 1];
      for (let i = 0; i < bits.length; i++)
        if (bits[i] !== 0 && coverage[i] > 0) sums.set(bits[i], (sums.get(bits[i]) ?? 0) + coverage[i]);
    }
  }
  const display = layers[0].displayWindow;
  const named = new Map<string, number>();
  for (const [bits, sum] of sums) named.set(matte?.names?.get(bits) ?? idName(bits), sum);
  for (const name of matte?.names?.values() ?? []) if (!named.has(name)) named.set(name, 0);
  return shares(named, boxWidth(display) * boxHeight(display));
}

/** Ids of a pass with one number or one flat colour a pixel. */
export function flatShares(
  { planes, displayWindow }: PassFrame,
  of: (planes: readonly Plane[], at: number) => string,
): ObjectShare[] {
  const sums = new Map<string, number>();
  for (let i = 0; i < planes[0].length; i++) {
    const name = of(planes, i);
    if (sums.size < 100_000 || sums.has(name)) sums.set(name, (sums.get(name) ?? 0) + 1);
  }
  return shares(sums, boxWidth(displayWindow) * boxHeight(displayWindow));
}

export const numberName = ([v]: number[]) => String(Math.round(v));
export const colourName = (rgb: number[]) =>
  `#${rgb
    .map((v) =>
      Math.round(Math.min(1, Math.max(0, encodeSrgb(v))) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
