import { power } from '../math/elementary';

/** Transfer functions: how the numbers of a file encode light. */
export const encodings = {
  linear: 'Linear',
  srgb: 'sRGB',
  rec709: 'Rec. 709',
  gamma22: 'Gamma 2.2',
} as const;
export type Encoding = keyof typeof encodings;

/** Linear light of an encoded value; below 0 it mirrors, so that nothing is lost. Same bits on every host. */
export function decodeValue(encoding: Encoding, v: number): number {
  if (v < 0) return -decodeValue(encoding, -v);
  switch (encoding) {
    case 'linear':
      return v;
    case 'srgb':
      // IEC 61966-2-1.
      return v <= 0.04045 ? v / 12.92 : power((v + 0.055) / 1.055, 2.4);
    case 'rec709':
      // ITU-R BT.709-6, 1.2, solved for light.
      return v < 0.081 ? v / 4.5 : power((v + 0.099) / 1.099, 1 / 0.45);
    case 'gamma22':
      return v === 0 ? 0 : power(v, 2.2);
  }
}

const tables = new Map<string, Float32Array>();

/** Linear light for each code 0 … `steps` of an integer file. */
export function decodeTable(encoding: Encoding, steps: number): Float32Array {
  const key = `${encoding}:${steps}`;
  let table = tables.get(key);
  if (!table) {
    table = Float32Array.from({ length: steps + 1 }, (_, i) => decodeValue(encoding, i / steps));
    tables.set(key, table);
  }
  return table;
}
