import { halvesToFloats } from './half';

/** Types of samples in files: integers of 8 and 16 bits encode 0 … 1, uint encodes ids and counts. */
export type SampleType = 'uint8' | 'uint16' | 'half' | 'float' | 'uint';
export type Plane = Uint8Array | Uint16Array | Float32Array | Uint32Array;

export const planeArrays = {
  uint8: Uint8Array,
  uint16: Uint16Array,
  half: Uint16Array,
  float: Float32Array,
  uint: Uint32Array,
} as const;
export const sampleSize = { uint8: 1, uint16: 2, half: 2, float: 4, uint: 4 } as const;

/** Floats of samples: integers of 8 and 16 bits as 0 … 1, uints as the nearest float (exact up to 2^24). */
export function floatsOf(plane: Plane, type: SampleType): Float32Array {
  if (plane instanceof Float32Array) return plane;
  if (type === 'half') return halvesToFloats(plane as Uint16Array);
  const scale = type === 'uint8' ? 255 : type === 'uint16' ? 65535 : 1;
  return mapped(plane, (v) => v / scale);
}

/** A float for each number, by a plain loop: `from` with a function is twenty times slower. */
export function mapped(plane: ArrayLike<number>, to: (v: number) => number): Float32Array {
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = to(plane[i]);
  return out;
}
