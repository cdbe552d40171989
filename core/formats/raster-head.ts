import { CutShort, FileError } from './file-error';
import type { FileFormat } from './file-formats';
import { limits } from './limits';

/** Header data of a raster file, read before decoding, so that too large, unknown and truncated files get precise errors. */
export type RasterHead = {
  width: number;
  height: number;
  /** TIFF only: colour is stored multiplied by alpha; the place of the byte that says so (1; as 2 it says that it is not). */
  associated?: number;
  /** TIFF only: floats that the decoder does not read. */
  floats?: FloatLayout;
  /** JPEG only: walks over the whole picture. */
  scans?: number;
  /** Bytes that a file of this size has at least, however flat the picture is. */
  least?: number;
};

/** How floats of 16 or 64 bits lie in a TIFF ("TIFF 6.0", sections 8, 14 and 15; Adobe's TIFF Technical Note 3 for their predictor). */
export type FloatLayout = {
  bits: 16 | 64;
  little: boolean;
  /** Deflate, or nothing. */
  packed: boolean;
  /** Differences of bytes by significance. */
  predicted: boolean;
  /** Samples of a pixel, side by side or each in a plane. */
  samples: number;
  planes: boolean;
  /** Size of a strip or tile, how many lie side by side, and where each is; tiles are all of one size, the last strip may be lower. */
  piece: { width: number; height: number; across: number; tiled: boolean };
  offsets: readonly number[];
  counts: readonly number[];
};

/** Pictures so small are read as far as they go. */
const small = 2 ** 24;

/** @throws {FileError} for a picture that cannot be there, or would take too long; checked before a decoder runs. */
export function checkHead({ width, height, scans = 1, least = 0 }: RasterHead, bytes: number) {
  if (scans * width * height > limits.jpegScanPixels)
    throw new FileError(
      `The file has ${scans} scans of ${width} by ${height} pixels, which would take too long to read`,
      0,
      'Save it again.',
      'too-large',
    );
  if (width * height > small && bytes < least)
    throw new CutShort(`The file is too short for ${width} by ${height} pixels`, bytes);
}

/** PNG, "Portable Network Graphics Specification (Third Edition)", 11.2.1: IHDR comes first. */
function pngHead(view: DataView): RasterHead {
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  const samples = [1, 0, 3, 1, 2, 0, 4][view.getUint8(25)] ?? 1;
  // Deflate makes at most 258 bytes of two bits (RFC 1951, 3.2.5).
  return { width, height, least: (width * height * samples * view.getUint8(24)) / 8 / 1032 };
}

/** JPEG, ITU-T T.81, B.2.2: the frame header, SOF0 to SOF15 without DHT, JPG and DAC. @throws {FileError} */
function jpegHead(view: DataView): RasterHead | undefined {
  // In what is coded 0xff is followed by 0, so that SOS stands at the head of a scan alone (B.1.1.2).
  const bytes = new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
  let scans = 0;
  for (let at = bytes.indexOf(0xff); at >= 0; at = bytes.indexOf(0xff, at + 1))
    if (bytes[at + 1] === 0xda) scans++;
  if (scans > limits.jpegScans)
    throw new FileError(
      `The file has ${scans} scans, at most ${limits.jpegScans} are read`,
      0,
      'Save it again.',
      'too-large',
    );
  for (let at = 2; at + 9 < view.byteLength; ) {
    if (view.getUint8(at) !== 0xff) return;
    const marker = view.getUint8(at + 1);
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      const [height, width] = [view.getUint16(at + 5), view.getUint16(at + 7)];
      // A block of 8 by 8 luminances takes at least the one bit that says that it is like the one before (F.1.2.1).
      return { height, width, scans, least: (width * height) / 64 / 8 };
    }
    at += 2 + view.getUint16(at + 2);
  }
}

/** TIFF 6.0, section 8, and the tags that later notes registered. */
const compressions = new Map([
  [1, 'none'],
  [5, 'LZW'],
  [7, 'JPEG'],
  [8, 'deflate'],
  [32773, 'PackBits'],
  [32946, 'deflate'],
  [50000, 'Zstandard'],
  [50001, 'WebP'],
]);
const sizes: Record<number, number> = { 1: 1, 3: 2, 4: 4, 16: 8 };
/** More entries of one table than these are a broken head. */
const mostStrips = 1 << 20;

/** The first directory of a TIFF. @throws {FileError} */
function tiffHead(view: DataView): RasterHead {
  const little = view.getUint8(0) === 0x49;
  const big = view.getUint16(2, little) === 43;
  const offset = (at: number) =>
    big
      ? view.getUint32(at + (little ? 0 : 4), little) +
        view.getUint32(at + (little ? 4 : 0), little) * 2 ** 32
      : view.getUint32(at, little);
  const directory = offset(big ? 8 : 4);
  const count = big ? offset(directory) : view.getUint16(directory, little);
  const [first, step, inline] = big ? [directory + 8, 20, 8] : [directory + 2, 12, 4];
  const tags = new Map<number, number[]>();
  let extraAt = 0;
  const wanted = [256, 257, 258, 259, 273, 277, 278, 279, 284, 317, 322, 323, 324, 325, 338, 339];
  for (let i = 0; i < Math.min(count, 65535); i++) {
    const entry = first + i * step;
    const tag = view.getUint16(entry, little);
    const type = view.getUint16(entry + 2, little);
    const size = sizes[type];
    if (!size || !wanted.includes(tag)) continue;
    const many = Math.min(offset(entry + 4), mostStrips);
    const valueAt = entry + (big ? 12 : 8);
    const from = many * size <= inline ? valueAt : offset(valueAt);
    if (tag === 338) extraAt = from + (little ? 0 : size - 1);
    const values: number[] = [];
    for (let k = 0; k < many; k++) {
      const at = from + k * size;
      values.push(
        size === 1
          ? view.getUint8(at)
          : size === 2
            ? view.getUint16(at, little)
            : size === 4
              ? view.getUint32(at, little)
              : offset(at),
      );
    }
    tags.set(tag, values);
  }
  const one = (tag: number, otherwise: number) => tags.get(tag)?.[0] ?? otherwise;
  const compression = one(259, 1);
  if (!compressions.has(compression))
    throw new FileError(
      `TIFF compression ${compression} is not read`,
      0,
      `Write it with ${[...new Set(compressions.values())].slice(0, 4).join(', ')} or PackBits.`,
    );
  const [bits, format] = [one(258, 1), one(339, 1)];
  if (format === 3 && ![16, 32, 64].includes(bits))
    throw new FileError(`Floats of ${bits} bits are not read in TIFF`, 0, 'Write floats of 32 bits.');
  const [offsets, counts] = [tags.get(273) ?? tags.get(324) ?? [], tags.get(279) ?? tags.get(325) ?? []];
  for (const [i, at] of offsets.entries())
    if (at + (counts[i] ?? 0) > view.byteLength)
      throw new CutShort(
        `Strip ${i + 1} of ${offsets.length} lies past the end of the file`,
        view.byteLength,
      );
  const associated = one(338, 0) === 1 ? extraAt : undefined;
  const [width, height] = [one(256, 0), one(257, 0)];
  return { width, height, associated, floats: format === 3 && bits !== 32 ? floats() : undefined };

  function floats(): FloatLayout {
    const code = compressions.get(compression);
    const predictor = one(317, 1);
    if ((code !== 'none' && code !== 'deflate') || ![1, 3].includes(predictor))
      throw new FileError(
        `Floats of ${bits} bits are read in TIFF without compression or with deflate only`,
        0,
        'Write it so, or floats of 32 bits.',
      );
    const pieceWidth = one(322, width);
    return {
      bits: bits as 16 | 64,
      little,
      packed: code === 'deflate',
      predicted: predictor === 3,
      samples: one(277, 1),
      planes: one(284, 1) === 2,
      piece: {
        width: pieceWidth,
        height: one(323, Math.min(one(278, height), height)),
        across: Math.ceil(width / pieceWidth),
        tiled: tags.has(324),
      },
      offsets,
      counts,
    };
  }
}

/**
 * The head of a PNG, JPEG or TIFF; undefined where it cannot be found, which is for the decoder to say.
 * @throws {FileError} for what Zafiro does not read, and TIFF whose samples lie past its end.
 */
export function readRasterHead(bytes: Uint8Array, format: FileFormat): RasterHead | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    if (format === 'png') return pngHead(view);
    if (format === 'jpeg') return jpegHead(view);
    if (format === 'tiff') return tiffHead(view);
  } catch (error) {
    if (error instanceof FileError) throw error;
    // A table outside the file.
  }
}
