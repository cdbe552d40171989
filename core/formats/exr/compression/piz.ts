import { FileError } from '../../file-error';
import { type Block, planesFromRows, rowsFromPlanes } from '../blocks';
import { bytesPerSample } from '../types';
import { packHuffman, unpackHuffman } from './huffman';

/**
 * PIZ: values are numbered without gaps, each channel goes through a Haar wavelet in two dimensions, and the result through
 * Huffman coding ("Technical Introduction to OpenEXR", data compression; the published C++ of the format).
 */

/** Two neighbours to mean and difference and back, where values stay below 2^14 … */
const encode14 = (a: number, b: number) => {
  const [x, y] = [(a << 16) >> 16, (b << 16) >> 16];
  return [((x + y) >> 1) & 0xffff, (x - y) & 0xffff] as const;
};
/** … and modulo 2^16 where they do not. */
const encode16 = (a: number, b: number) => {
  const x = (a + 0x8000) & 0xffff;
  const d = x - b;
  const m = (x + b) >> 1;
  return [(d < 0 ? m + 0x8000 : m) & 0xffff, d & 0xffff] as const;
};

/** The steps of the wavelet, from fine to coarse or back, over a plane of `nx` by `ny` values `ox` apart, rows `oy` apart. */
function decode(v: Uint16Array, base: number, nx: number, ox: number, ny: number, oy: number, wide: boolean) {
  const pair = (i: number, j: number) => {
    const [l, h] = [v[i], v[j]];
    if (wide) {
      const b = (l - (h >> 1)) & 0xffff;
      v[j] = b;
      v[i] = (h + b - 0x8000) & 0xffff;
    } else {
      const d = (h << 16) >> 16;
      const a = ((l << 16) >> 16) + (d & 1) + (d >> 1);
      v[i] = a;
      v[j] = a - d;
    }
  };
  const n = Math.min(nx, ny);
  let p = 1;
  while (p <= n) p <<= 1;
  p >>= 1;
  let p2 = p;
  p >>= 1;
  for (; p >= 1; p2 = p, p >>= 1) {
    let y = base;
    for (const end = base + oy * (ny - p2); y <= end; y += oy * p2) {
      let x = y;
      for (const stop = y + ox * (nx - p2); x <= stop; x += ox * p2) {
        const [x1, y1] = [x + ox * p, x + oy * p];
        pair(x, y1);
        pair(x1, y1 + ox * p);
        pair(x, x1);
        pair(y1, y1 + ox * p);
      }
      if (nx & p) pair(x, x + oy * p);
    }
    if (ny & p) for (let x = y, stop = y + ox * (nx - p2); x <= stop; x += ox * p2) pair(x, x + ox * p);
  }
}

function encode(v: Uint16Array, base: number, nx: number, ox: number, ny: number, oy: number, wide: boolean) {
  const pair = (i: number, j: number) => {
    [v[i], v[j]] = wide ? encode16(v[i], v[j]) : encode14(v[i], v[j]);
  };
  const n = Math.min(nx, ny);
  for (let p = 1, p2 = 2; p2 <= n; p = p2, p2 <<= 1) {
    let y = base;
    for (const end = base + oy * (ny - p2); y <= end; y += oy * p2) {
      let x = y;
      for (const stop = y + ox * (nx - p2); x <= stop; x += ox * p2) {
        const [x1, y1] = [x + ox * p, x + oy * p];
        pair(x, x1);
        pair(y1, y1 + ox * p);
        pair(x, y1);
        pair(x1, y1 + ox * p);
      }
      if (nx & p) pair(x, x + oy * p);
    }
    if (ny & p) for (let x = y, stop = y + ox * (nx - p2); x <= stop; x += ox * p2) pair(x, x + ox * p);
  }
}

/** Does `work` for each 16-bit layer of each channel of a block laid out plane after plane. */
function eachLayer(
  block: Block,
  work: (base: number, nx: number, ox: number, ny: number, oy: number) => void,
) {
  let start = 0;
  for (const { type, width, height } of block.channels) {
    const size = bytesPerSample[type] / 2;
    for (let j = 0; j < size; j++) if (width * height > 0) work(start + j, width, size, height, width * size);
    start += width * height * size;
  }
}

const bitmapSize = 8192;

export function unpackPiz(packed: Uint8Array, block: Block, offset: number): Uint8Array {
  const wrong = (what: string) => new FileError(what, offset);
  if (packed.length < 8) throw wrong('A PIZ chunk ends too early');
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const [low, high] = [view.getUint16(0, true), view.getUint16(2, true)];
  let at = 4;
  const bitmap = new Uint8Array(bitmapSize);
  if (low <= high) {
    if (high >= bitmapSize || at + high - low + 1 + 4 > packed.length)
      throw wrong('The value table of a PIZ chunk is invalid');
    bitmap.set(packed.subarray(at, at + high - low + 1), low);
    at += high - low + 1;
  }
  const numbers = new Uint16Array(65536);
  let count = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3] & (1 << (i & 7))) numbers[count++] = i;
  const length = view.getInt32(at, true);
  at += 4;
  if (length < 0 || at + length > packed.length) throw wrong('A PIZ chunk ends too early');
  const values = new Uint16Array(block.size / 2);
  unpackHuffman(packed.subarray(at, at + length), values, offset + at);
  const wide = count - 1 >= 1 << 14;
  eachLayer(block, (base, nx, ox, ny, oy) => decode(values, base, nx, ox, ny, oy, wide));
  for (let i = 0; i < values.length; i++) values[i] = numbers[values[i]];
  return rowsFromPlanes(block, cut(block, new Uint8Array(values.buffer)));
}

/** The channels' planes inside one run of bytes. */
function cut(block: Block, bytes: Uint8Array): Uint8Array[] {
  let at = 0;
  return block.channels.map(({ type, width, height }) => {
    const from = at;
    at += width * height * bytesPerSample[type];
    return bytes.subarray(from, at);
  });
}

export function packPiz(raw: Uint8Array, block: Block): Uint8Array {
  const bytes = new Uint8Array(raw.length);
  let to = 0;
  for (const plane of planesFromRows(block, raw)) {
    bytes.set(plane, to);
    to += plane.length;
  }
  const values = new Uint16Array(bytes.buffer);
  const bitmap = new Uint8Array(bitmapSize);
  for (const v of values) bitmap[v >> 3] |= 1 << (v & 7);
  // Zero is in every table without being listed.
  bitmap[0] &= ~1;
  let [low, high] = [0, bitmapSize - 1];
  while (low < bitmapSize && bitmap[low] === 0) low++;
  while (high >= 0 && bitmap[high] === 0) high--;
  if (low >= bitmapSize) [low, high] = [bitmapSize - 1, 0];
  const numbers = new Uint16Array(65536);
  let count = 0;
  for (let i = 0; i < 65536; i++) if (i === 0 || bitmap[i >> 3] & (1 << (i & 7))) numbers[i] = count++;
  for (let i = 0; i < values.length; i++) values[i] = numbers[values[i]];
  const wide = count - 1 >= 1 << 14;
  eachLayer(block, (base, nx, ox, ny, oy) => encode(values, base, nx, ox, ny, oy, wide));
  const coded = packHuffman(values);
  const table = low <= high ? bitmap.subarray(low, high + 1) : new Uint8Array(0);
  const out = new Uint8Array(8 + table.length + coded.length);
  const view = new DataView(out.buffer);
  view.setUint16(0, low, true);
  view.setUint16(2, high, true);
  out.set(table, 4);
  view.setInt32(4 + table.length, coded.length, true);
  out.set(coded, 8 + table.length);
  return out;
}
