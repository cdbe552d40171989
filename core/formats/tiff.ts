import type { Zlib } from './exr/types';

/** A TIFF file of R, G, B and A, of R, G and B, or of one sample a pixel. */
export type TiffToWrite = {
  width: number;
  height: number;
  /** Rows from the top; integers of 16 bits, or floats of 32. */
  samples: Uint16Array | Float32Array;
  /** Samples a pixel. */
  channels?: 1 | 3 | 4;
  /** True if colour is multiplied by alpha. */
  premultiplied: boolean;
  software: string;
};

/** Types of fields, and their bytes. */
const [ascii, short, long, rational] = [2, 3, 4, 5];
const sizes: Record<number, number> = { [ascii]: 1, [short]: 2, [long]: 4, [rational]: 8 };

/** Bytes of a strip before it is packed: a few rows, as the specification advises to keep them small. */
const stripBytes = 256 * 1024;

/**
 * A baseline file of one image in strips, little-endian, packed by Deflate (TIFF 6.0, Adobe 1992; Deflate and its code 8 by TIFF Technical
 * Note 2, 2002). @throws {RangeError} where it would pass 4 GiB, the most that its offsets can say.
 */
export function writeTiff(
  { width, height, samples, channels = 4, premultiplied, software }: TiffToWrite,
  zlib: Zlib,
): Uint8Array {
  const floats = samples instanceof Float32Array;
  const rowBytes = width * channels * samples.BYTES_PER_ELEMENT;
  const rows = Math.max(1, Math.floor(stripBytes / rowBytes));
  const raw = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
  const strips: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows)
    strips.push(zlib.deflate(raw.subarray(y * rowBytes, Math.min(height, y + rows) * rowBytes)));
  const header = 8;
  const counts = strips.map((s) => s.length);
  const offsets: number[] = [];
  let at = header;
  for (const count of counts) {
    offsets.push(at);
    // Fields begin at even bytes, and so do strips.
    at += count + (count & 1);
  }
  const text = [...new TextEncoder().encode(software), 0];
  const bits = samples.BYTES_PER_ELEMENT * 8;
  const fields: [tag: number, type: number, values: readonly number[]][] = [
    [256, long, [width]],
    [257, long, [height]],
    [258, short, new Array(channels).fill(bits)],
    // Deflate.
    [259, short, [8]],
    // Black is 0, or RGB.
    [262, short, [channels === 1 ? 1 : 2]],
    [273, long, offsets],
    // The first row is the top one.
    [274, short, [1]],
    [277, short, [channels]],
    [278, long, [rows]],
    [279, long, counts],
    [282, rational, [72, 1]],
    [283, rational, [72, 1]],
    // Samples of a pixel side by side.
    [284, short, [1]],
    [296, short, [2]],
    [305, ascii, text],
    // The fourth sample is alpha that colour is multiplied by, or not.
    ...(channels === 4 ? [[338, short, [premultiplied ? 1 : 2]] as [number, number, number[]]] : []),
    // Unsigned integers, or IEEE floats.
    [339, short, new Array(channels).fill(floats ? 3 : 1)],
  ];
  const directory = at;
  let room = directory + 2 + fields.length * 12 + 4;
  const placed = fields.map(([tag, type, values]) => {
    const count = type === rational ? values.length / 2 : values.length;
    const bytes = sizes[type] * count;
    const place = bytes > 4 ? room : 0;
    if (place) room += bytes + (bytes & 1);
    return { tag, type, values, count, place };
  });
  if (room > 0xffffffff) throw new RangeError('A TIFF file ends at 4 GiB. Write EXR, or a smaller picture.');
  const out = new Uint8Array(room);
  const view = new DataView(out.buffer);
  view.setUint16(0, 0x4949);
  view.setUint16(2, 42, true);
  view.setUint32(4, directory, true);
  for (const [i, strip] of strips.entries()) out.set(strip, offsets[i]);
  view.setUint16(directory, fields.length, true);
  placed.forEach(({ tag, type, values, count, place }, i) => {
    const entry = directory + 2 + i * 12;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setUint32(entry + 4, count, true);
    if (place) view.setUint32(entry + 8, place, true);
    const size = type === rational ? 4 : sizes[type];
    values.forEach((value, k) => {
      const where = (place || entry + 8) + k * size;
      if (size === 1) view.setUint8(where, value);
      else if (size === 2) view.setUint16(where, value, true);
      else view.setUint32(where, value, true);
    });
  });
  return out;
}
