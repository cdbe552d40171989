import { murmur3 } from '../math/murmur3';
import type { Attributes } from './exr/types';

/**
 * Id-mattes by the open specification 1.2 (EXR metadata, ranked id and coverage pairs): an id is the
 * MurmurHash3_32 of an object's name, its bits read as a float; layer `name00` holds the ranks 0 and 1 as R, G, B, A
 * = id, coverage, id, coverage; `name01` the next two.
 */
const bits = new Uint32Array(1);
const real = new Float32Array(bits.buffer);

/** The bit pattern of an object's id; exponents of all zeros or ones are avoided, as the specification asks. */
export function idBits(name: string): number {
  const hash = murmur3(name);
  const exponent = (hash >>> 23) & 255;
  return (exponent === 0 || exponent === 255 ? hash ^ (1 << 23) : hash) >>> 0;
}

/** The id as the float a file holds. */
export function idFloat(name: string): number {
  bits[0] = idBits(name);
  return real[0];
}

const hex = (word: number) => word.toString(16).padStart(8, '0');

/** Metadata of id-matte layers called `layer`, with the manifest of object names. */
export function idMatteAttributes(layer: string, objects: readonly string[]): Attributes {
  const prefix = `cryptomatte/${hex(murmur3(layer)).slice(0, 7)}/`;
  const manifest = Object.fromEntries(objects.map((name) => [name, hex(idBits(name))]));
  const text = (value: string) => ({ type: 'string', value }) as const;
  return {
    [`${prefix}name`]: text(layer),
    [`${prefix}hash`]: text('MurmurHash3_32'),
    [`${prefix}conversion`]: text('uint32_to_float32'),
    [`${prefix}manifest`]: text(JSON.stringify(manifest)),
  };
}

/** Layer names of the id-mattes that a file's metadata announces. */
export const idMatteLayers = (attributes: Attributes): string[] =>
  Object.entries(attributes).flatMap(([key, a]) =>
    /^cryptomatte\/[^/]+\/name$/.test(key) && a.type === 'string' ? [a.value] : [],
  );

/** Metadata of one set of id-matte layers. */
export type IdMatte = {
  /** Its layers are called so, with two digits behind. */
  layer: string;
  /** Names by id bits; undefined where there is no manifest, or none that can be read. */
  names?: Map<number, string>;
  /** Location of the manifest: the header, a file beside it, or missing. */
  manifest: 'header' | 'file' | 'missing';
  /** Why a manifest that is announced cannot be had. */
  problem?: string;
};

function namesIn(text: string): Map<number, string> {
  const json: unknown = JSON.parse(text);
  if (json === null || typeof json !== 'object') throw new Error('it is no list of names');
  const names = new Map<number, string>();
  for (const [name, id] of Object.entries(json)) {
    const value = Number.parseInt(String(id), 16);
    if (/^[0-9a-f]{1,8}$/i.test(String(id))) names.set(value >>> 0, name);
  }
  return names;
}

/**
 * Id-mattes that the metadata announce (open specification 1.2: keys `name`, `manifest` or `manif_file` under one prefix each).
 * `sideFile` gives the text of a file beside the picture; it throws where there is none.
 */
export function idMattesOf(attributes: Attributes, sideFile: (name: string) => string): IdMatte[] {
  const text = (key: string) => {
    const a = attributes[key];
    return a?.type === 'string' ? a.value : undefined;
  };
  return Object.keys(attributes).flatMap((key): IdMatte[] => {
    const prefix = /^(cryptomatte\/[^/]+\/)name$/.exec(key)?.[1];
    const layer = prefix && text(key);
    if (!prefix || !layer) return [];
    const [inside, beside] = [text(`${prefix}manifest`), text(`${prefix}manif_file`)];
    const manifest = inside !== undefined ? 'header' : beside !== undefined ? 'file' : 'missing';
    if (manifest === 'missing') return [{ layer, manifest }];
    try {
      return [{ layer, manifest, names: namesIn(inside ?? sideFile(beside!)) }];
    } catch (error) {
      const where = manifest === 'header' ? 'The manifest in the header' : `The manifest ${beside}`;
      return [{ layer, manifest, problem: `${where} cannot be read: ${(error as Error).message}` }];
    }
  });
}

/** True where `pass` is a layer of the id-matte called `layer`: the name, or the name and two digits. */
export const isLayerOf = (layer: string, pass: string) =>
  pass === layer || (pass.startsWith(layer) && /^\d\d$/.test(pass.slice(layer.length)));
