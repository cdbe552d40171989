import type { Attributes } from './exr/types';
import { murmur3 } from './murmur3';

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
