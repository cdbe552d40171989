import { FileError } from '../../file-error';
import { floatOfHalf, halfOf } from '../../half';
import { type Block, rowsFromPlanes } from '../blocks';
import { bytesPerSample } from '../types';

/**
 * B44 and B44A: half channels in blocks of 4 by 4 samples, 14 bytes each (in B44A 3 bytes where all are alike); other channels
 * are stored as they are ("Technical Introduction to OpenEXR"; the published C++ of the format).
 */

/** Halves as ordered numbers and back: the sign bit turned. */
const unordered = (v: number) => (v & 0x8000 ? v & 0x7fff : ~v & 0xffff);

function unpackBlock(b: Uint8Array, at: number, s: Uint16Array) {
  s[0] = (b[at] << 8) | b[at + 1];
  const shift = b[at + 2] >> 2;
  const bias = 0x20 << shift;
  // Fifteen differences of 6 bits each follow, down the first column, then from column to column.
  let bit = at * 8 + 22;
  const difference = () => {
    const word = (b[bit >> 3] << 8) | (b[(bit >> 3) + 1] ?? 0);
    const d = (word >> (10 - (bit & 7))) & 63;
    bit += 6;
    return (d << shift) - bias;
  };
  for (let row = 1; row < 4; row++) s[row * 4] = s[row * 4 - 4] + difference();
  for (let column = 1; column < 4; column++)
    for (let row = 0; row < 4; row++) s[row * 4 + column] = s[row * 4 + column - 1] + difference();
  for (let i = 0; i < 16; i++) s[i] = unordered(s[i]);
}

/** Channels marked as linear to the eye were stored as exp(x / 8): the way back is 8 ln x, for each half. */
const logarithm = (() => {
  let table: Uint16Array | undefined;
  return () => {
    table ??= Uint16Array.from({ length: 65536 }, (_, h) => {
      const x = floatOfHalf(h);
      return Number.isFinite(x) && x >= 0 ? halfOf(8 * Math.log(x)) : 0;
    });
    return table;
  };
})();

export function unpackB44(packed: Uint8Array, block: Block, offset: number): Uint8Array {
  let at = 0;
  const need = (count: number) => {
    if (at + count > packed.length) throw new FileError('A B44 chunk ends too early', offset + at);
  };
  const s = new Uint16Array(16);
  const planes = block.channels.map(({ type, linear, width, height }) => {
    if (type !== 'half') {
      const length = width * height * bytesPerSample[type];
      need(length);
      at += length;
      return packed.subarray(at - length, at);
    }
    const plane = new Uint16Array(width * height);
    const table = linear ? logarithm() : undefined;
    for (let y = 0; y < height; y += 4) {
      for (let x = 0; x < width; x += 4) {
        need(3);
        if (packed[at + 2] === 0xfc) {
          s.fill(unordered((packed[at] << 8) | packed[at + 1]));
          at += 3;
        } else {
          need(14);
          unpackBlock(packed, at, s);
          at += 14;
        }
        if (table) for (let i = 0; i < 16; i++) s[i] = table[s[i]];
        const [w, h] = [Math.min(4, width - x), Math.min(4, height - y)];
        for (let row = 0; row < h; row++) plane.set(s.subarray(row * 4, row * 4 + w), (y + row) * width + x);
      }
    }
    return new Uint8Array(plane.buffer);
  });
  return rowsFromPlanes(block, planes);
}
