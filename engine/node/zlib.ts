import { deflateSync, inflateSync } from 'node:zlib';
import type { Zlib } from '../../core/formats/exr/types';

/** Deflate by the library that Node brings. */
export const nodeZlib: Zlib = {
  inflate: (bytes, limit) => inflateSync(bytes, { maxOutputLength: limit }),
  deflate: (bytes) => deflateSync(bytes, { level: 4 }),
};
