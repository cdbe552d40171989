import { type Block, hasRow } from '../blocks';
import { bytesPerSample, type Zlib } from '../types';
import { inflated } from './bytes';

/** Bytes that PXR24 keeps of a sample: floats lose the last 8 bits of their mantissa. */
const kept = { uint: 4, half: 2, float: 3 } as const;

/**
 * PXR24: differences along each row, their bytes apart, highest first, then deflate ("Technical Introduction to
 * OpenEXR"). Lossless for half and uint; floats are what was left of them when the file was written.
 */
export function unpackPxr24(packed: Uint8Array, block: Block, zlib: Zlib, offset: number): Uint8Array {
  const size = block.channels.reduce((sum, c) => sum + kept[c.type] * c.width * c.height, 0);
  const bytes = inflated(packed, size, zlib, offset);
  const out = new Uint8Array(block.size);
  const view = new DataView(out.buffer);
  let [from, to] = [0, 0];
  for (let y = block.yMin; y <= block.yMax; y++) {
    for (const c of block.channels) {
      if (!hasRow(c, y)) continue;
      const [n, count, shift] = [c.width, kept[c.type], c.type === 'float' ? 8 : 0];
      let value = 0;
      for (let i = 0; i < n; i++) {
        let difference = 0;
        for (let b = 0; b < count; b++) difference = (difference << 8) | bytes[from + b * n + i];
        value = (value + (difference << shift)) | 0;
        if (c.type === 'half') view.setUint16(to, value & 0xffff, true);
        else view.setUint32(to, value >>> 0, true);
        to += bytesPerSample[c.type];
      }
      from += n * count;
    }
  }
  return out;
}
