import { FileError } from '../../file-error';
import type { Zlib } from '../types';

/** The bytewise coding of RLE, ZIPS and ZIP chunks ("OpenEXR File Layout"; the published C++ of the format). */

/** Even bytes to the first half, odd bytes to the second, then each byte as difference to the one before. */
export function interleaveAndPredict(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0, o = 0; i < bytes.length; i += 2, o++) out[o] = bytes[i];
  for (let i = 1, o = half; i < bytes.length; i += 2, o++) out[o] = bytes[i];
  for (let i = 1, last = out[0]; i < out.length; i++) {
    const now = out[i];
    out[i] = now - last + 128;
    last = now;
  }
  return out;
}

/** Undoes the differences of `interleaveAndPredict`, in place; even and odd bytes still stand apart. */
export function undoPrediction(bytes: Uint8Array): Uint8Array {
  let last = bytes.length > 0 ? bytes[0] : 0;
  for (let i = 1; i < bytes.length; i++) {
    last = (last + bytes[i] - 128) & 255;
    bytes[i] = last;
  }
  return bytes;
}

/** The inverse of `interleaveAndPredict`; changes `bytes`. */
export function undoPredictAndInterleave(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  copyBytes({ bytes: undoPrediction(bytes), apart: true }, 0, out);
  return out;
}

/** Bytes of a deflated chunk, exactly `size` of them. @throws {FileError} */
export function inflated(packed: Uint8Array, size: number, zlib: Zlib, offset: number): Uint8Array {
  let raw: Uint8Array;
  try {
    raw = zlib.inflate(packed, size);
  } catch {
    throw new FileError('A compressed chunk is damaged', offset);
  }
  if (raw.length !== size)
    throw new FileError(`A chunk unpacks to ${raw.length} bytes in place of ${size}`, offset);
  return raw;
}

/** Raw bytes of a chunk; `apart` where its even bytes stand before its odd ones. */
export type RawChunk = { bytes: Uint8Array; apart: boolean };

/** Copies bytes of a chunk, from the `from`-th on, into `to`: only what is wanted is put together. */
export function copyBytes({ bytes, apart }: RawChunk, from: number, to: Uint8Array) {
  if (!apart) {
    to.set(bytes.subarray(from, from + to.length));
    return;
  }
  const half = (bytes.length + 1) >> 1;
  let even = (from + 1) >> 1;
  let odd = half + (from >> 1);
  let i = 0;
  if (from & 1) to[i++] = bytes[odd++];
  for (; i + 1 < to.length; i += 2) {
    to[i] = bytes[even++];
    to[i + 1] = bytes[odd++];
  }
  if (i < to.length) to[i] = bytes[even];
}

/** Run lengths: a count n ≥ 0 repeats the next byte n+1 times, n < 0 copies −n bytes. */
export function unpackRuns(packed: Uint8Array, size: number, offset: number): Uint8Array {
  const out = new Uint8Array(size);
  let to = 0;
  for (let i = 0; i < packed.length; ) {
    const n = (packed[i++] << 24) >> 24;
    const count = n < 0 ? -n : n + 1;
    if (to + count > size || i + (n < 0 ? count : 1) > packed.length) {
      throw new FileError('A run of an RLE chunk does not fit', offset + i);
    }
    if (n < 0) out.set(packed.subarray(i, i + count), to);
    else out.fill(packed[i], to, to + count);
    i += n < 0 ? count : 1;
    to += count;
  }
  if (to !== size) throw new FileError(`An RLE chunk holds ${to} bytes in place of ${size}`, offset);
  return out;
}

export function packRuns(bytes: Uint8Array): Uint8Array {
  const out: number[] = [];
  for (let i = 0; i < bytes.length; ) {
    let run = 1;
    while (run < 128 && i + run < bytes.length && bytes[i + run] === bytes[i]) run++;
    if (run >= 3) {
      out.push(run - 1, bytes[i]);
      i += run;
      continue;
    }
    const from = i;
    while (i < bytes.length && i - from < 127) {
      if (bytes[i] === bytes[i + 1] && bytes[i] === bytes[i + 2] && i + 2 < bytes.length) break;
      i++;
    }
    out.push(256 - (i - from), ...bytes.subarray(from, i));
  }
  return Uint8Array.from(out);
}
