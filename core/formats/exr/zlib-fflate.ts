import { unzlibSync, zlibSync } from 'fflate';
import type { Zlib } from './types';

/** Deflate in plain JavaScript, for hosts without one of their own. */
export const fflateZlib: Zlib = {
  inflate: (bytes, limit) => unzlibSync(bytes, { out: new Uint8Array(limit) }),
  deflate: (bytes) => zlibSync(bytes, { level: 4 }),
};
