import type { Zlib } from './exr/types';
import { CutShort, FileError } from './file-error';
import { halvesToFloats } from './half';
import { limits } from './limits';
import type { FloatLayout, RasterHead } from './raster-head';

/**
 * The planes of a TIFF whose floats have 16 or 64 bits; those of 64 as the nearest of 32, the ones that Zafiro computes with.
 * @throws {FileError} naming the piece that does not fit its head.
 */
export function readFloatTiff(
  bytes: Uint8Array,
  { width, height }: RasterHead,
  layout: FloatLayout,
  zlib: Zlib,
): Float32Array[] {
  const { bits, samples, planes: apart, piece, offsets, counts } = layout;
  checkLayout(width, height, layout);
  const planes = Array.from({ length: samples }, () => new Float32Array(width * height));
  const inPiece = apart ? 1 : samples;
  const rows = Math.ceil(height / piece.height);
  const perPlane = piece.across * rows;
  for (let i = 0; i < perPlane * (apart ? samples : 1); i++) {
    const [column, row] = [(i % perPlane) % piece.across, Math.floor((i % perPlane) / piece.across)];
    const [x0, y0] = [column * piece.width, row * piece.height];
    const high = piece.tiled ? piece.height : Math.min(piece.height, height - y0);
    const size = (piece.width * high * inPiece * bits) / 8;
    const raw = unpacked(bytes.subarray(offsets[i], offsets[i] + counts[i]), layout, size, zlib, offsets[i]);
    if (raw.length < size)
      throw new CutShort(
        `Piece ${i + 1} of ${offsets.length} has ${raw.length} bytes in place of ${size}`,
        offsets[i],
      );
    const values = valuesOf(raw.subarray(0, size), layout, piece.width * inPiece, inPiece);
    for (let y = 0; y < Math.min(high, height - y0); y++)
      for (let x = 0; x < Math.min(piece.width, width - x0); x++)
        for (let c = 0; c < inPiece; c++)
          planes[apart ? Math.floor(i / perPlane) : c][(y0 + y) * width + x0 + x] =
            values[(y * piece.width + x) * inPiece + c];
  }
  return planes;
}

/** @throws {FileError} for a head whose numbers do not belong together, before memory is taken. */
function checkLayout(
  width: number,
  height: number,
  { samples, planes, piece, offsets, counts }: FloatLayout,
) {
  const wanted = piece.across * Math.ceil(height / piece.height) * (planes ? samples : 1);
  const isSound =
    samples >= 1 &&
    samples <= limits.channelsAtOnce &&
    piece.width >= 1 &&
    piece.height >= 1 &&
    // Tiles reach beyond the picture, but no tile lies outside.
    piece.width <= Math.max(width + 15, 2 * width) &&
    piece.height <= Math.max(height + 15, 2 * height) &&
    offsets.length >= wanted &&
    counts.length >= wanted;
  if (!isSound) throw new FileError('The file is damaged: its strips or tiles do not make up the picture', 0);
}

function unpacked(
  packed: Uint8Array,
  { packed: isPacked }: FloatLayout,
  size: number,
  zlib: Zlib,
  at: number,
): Uint8Array {
  if (!isPacked) return packed;
  try {
    return zlib.inflate(packed, size);
  } catch {
    throw new FileError('The file is damaged: a piece cannot be unpacked', at);
  }
}

/** Values of a piece of rows of so many samples. */
function valuesOf(
  raw: Uint8Array,
  { bits, little, predicted }: FloatLayout,
  across: number,
  samples: number,
): ArrayLike<number> {
  const wide = bits / 8;
  const whole = predicted ? unpredicted(raw, across, wide, samples) : raw;
  const view = new DataView(whole.buffer, whole.byteOffset, whole.byteLength);
  // The predictor leaves the most significant byte first.
  const isLittle = little && !predicted;
  if (bits === 64)
    return Float32Array.from({ length: raw.length / 8 }, (_, i) => view.getFloat64(i * 8, isLittle));
  return halvesToFloats(
    Uint16Array.from({ length: raw.length / 2 }, (_, i) => view.getUint16(i * 2, isLittle)),
  );
}

/** Adobe's TIFF Technical Note 3: of each row the differences of bytes from those of the pixel before, those of one significance together, the most significant first. */
function unpredicted(raw: Uint8Array, across: number, wide: number, samples: number): Uint8Array {
  const out = new Uint8Array(raw.length);
  const rowBytes = across * wide;
  for (let row = 0; row + rowBytes <= raw.length; row += rowBytes) {
    const sums = new Uint8Array(samples);
    for (let i = 0; i < rowBytes; i++) {
      sums[i % samples] += raw[row + i];
      out[row + (i % across) * wide + Math.floor(i / across)] = sums[i % samples];
    }
  }
  return out;
}
