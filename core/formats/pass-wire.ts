import { type Box, boxHeight, boxWidth } from './exr/types';
import type { Colour } from './pass-picture';
import type { Pass } from './passes';
import { type Plane, planeArrays, sampleSize } from './samples';

/**
 * The header that goes beside the bytes of a pass on their way to the browser: planes over its data window, one after another in the
 * type of the file, little-endian; RGBA floats of a draft; or nothing, of a size. `partial` says what the file lacks.
 */
export type PassInfo =
  | { type: 'planes'; pass: Pass; dataWindow: Box; displayWindow: Box; colour: Colour; partial?: string }
  | { type: 'draft'; width: number; height: number; partial?: string }
  | { type: 'empty'; width: number; height: number };

/** Planes one after another, as they go beside a header. */
export function joinedPlanes(planes: readonly Plane[]): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(planes.reduce((sum, p) => sum + p.byteLength, 0));
  let at = 0;
  for (const p of planes) {
    bytes.set(new Uint8Array(p.buffer, p.byteOffset, p.byteLength), at);
    at += p.byteLength;
  }
  return bytes;
}

/** The planes that a header describes, out of the bytes beside it. */
export function planesOf(
  { pass, dataWindow }: Extract<PassInfo, { type: 'planes' }>,
  bytes: Uint8Array,
): Plane[] {
  const count = boxWidth(dataWindow) * boxHeight(dataWindow);
  let at = bytes.byteOffset;
  return pass.types.map((type): Plane => {
    const from = at;
    const size = sampleSize[type];
    at += count * size;
    // A float plane behind a half plane may begin at an odd place: then it is copied.
    return from % size === 0
      ? new planeArrays[type](bytes.buffer as ArrayBuffer, from, count)
      : new planeArrays[type](bytes.buffer.slice(from, at) as ArrayBuffer);
  });
}
