import { FileError } from '../../file-error';
import type { Block } from '../blocks';
import type { Compression, Zlib } from '../types';
import { unpackB44 } from './b44';
import { inflated, interleaveAndPredict, packRuns, type RawChunk, undoPrediction, unpackRuns } from './bytes';
import { unpackDwa } from './dwa';
import { packDwa } from './dwa-pack';
import { packPiz, unpackPiz } from './piz';
import { unpackPxr24 } from './pxr24';

const unpredicted = (bytes: Uint8Array, zlib: Zlib): RawChunk =>
  zlib.unpredict
    ? { bytes: zlib.unpredict(bytes), apart: false }
    : { bytes: undoPrediction(bytes), apart: true };

/** The raw bytes of a chunk whose packed ones begin at byte `offset` of the file. */
export function unpackChunk(
  packed: Uint8Array,
  block: Block,
  compression: Compression,
  zlib: Zlib,
  offset: number,
): RawChunk {
  const { size } = block;
  // A chunk that would not shrink is stored as it is.
  if (packed.length === size) return { bytes: packed, apart: false };
  if (compression === 'none' || packed.length > size) {
    throw new FileError(`A chunk holds ${packed.length} bytes in place of ${size}`, offset);
  }
  switch (compression) {
    case 'rle':
      return unpredicted(unpackRuns(packed, size, offset), zlib);
    case 'zips':
    case 'zip':
      return unpredicted(inflated(packed, size, zlib, offset), zlib);
    case 'piz':
      return { bytes: unpackPiz(packed, block, offset), apart: false };
    case 'pxr24':
      return { bytes: unpackPxr24(packed, block, zlib, offset), apart: false };
    case 'b44':
    case 'b44a':
      return { bytes: unpackB44(packed, block, offset), apart: false };
    case 'dwaa':
    case 'dwab':
      return { bytes: unpackDwa(packed, block, zlib, offset), apart: false };
  }
}

/** Compressions that are written. */
export const written = [
  'none',
  'rle',
  'zips',
  'zip',
  'piz',
  'dwaa',
  'dwab',
] as const satisfies readonly Compression[];
export type Written = (typeof written)[number];

/** Those that keep no bit as it was, and take a level. */
export const isLossy = (compression: Written): boolean => compression === 'dwaa' || compression === 'dwab';

/** `level` is how coarse a lossy compression is. */
export function packChunk(
  raw: Uint8Array,
  block: Block,
  compression: Written,
  zlib: Zlib,
  level: number,
): Uint8Array {
  const predicted = () => zlib.predict?.(raw) ?? interleaveAndPredict(raw);
  const packed = () => {
    switch (compression) {
      case 'none':
        return raw;
      case 'piz':
        return packPiz(raw, block);
      case 'rle':
        return packRuns(predicted());
      case 'zips':
      case 'zip':
        return zlib.deflate(predicted());
      case 'dwaa':
      case 'dwab':
        return packDwa(raw, block, zlib, level);
    }
  };
  const bytes = packed();
  return bytes.length < raw.length ? bytes : raw;
}
