import { ByteWriter, writeAttribute, writeBox, writeChannelList, writeRaw } from './attributes';
import { blockOf, rowsPerChunk } from './blocks';
import { isLossy, packChunk, type Written } from './compression/chunk';
import {
  type Attributes,
  type Box,
  boxHeight,
  boxWidth,
  bytesPerSample,
  type Channel,
  compressions,
  type PixelType,
  type Samples,
  type Zlib,
} from './types';

export type ChannelToWrite = { name: string; type: PixelType; samples: Samples };

export type ExrToWrite = {
  channels: ChannelToWrite[];
  dataWindow: Box;
  displayWindow?: Box;
  compression?: Written;
  /** How coarse DWA is; 45 is usual. */
  level?: number;
  pixelAspectRatio?: number;
  screenWindowCenter?: [number, number];
  screenWindowWidth?: number;
  attributes?: Attributes;
};

function bodyOf(write: (w: ByteWriter) => void): Uint8Array {
  const w = new ByteWriter();
  write(w);
  return w.done();
}

/** Channels are stored in the order of their names' bytes ("OpenEXR File Layout", channel list). */
const byName = (a: { name: string }, b: { name: string }) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);

/** What the chunks of a part are made of. */
type Prepared = ExrToWrite & { compression: Written; level: number; list: Channel[]; chunks: number };

function prepared(part: ExrToWrite): Prepared {
  const { dataWindow, compression = 'zip', level = 45 } = part;
  const [width, height] = [boxWidth(dataWindow), boxHeight(dataWindow)];
  const channels = [...part.channels].sort(byName);
  for (const c of channels) {
    if (c.samples.length !== width * height) {
      throw new RangeError(
        `Channel ${c.name} has ${c.samples.length} samples for ${width} by ${height} pixels`,
      );
    }
  }
  const list = channels.map(({ name, type }) => ({ name, type, linear: false, xSampling: 1, ySampling: 1 }));
  return {
    ...part,
    channels,
    compression,
    level,
    list,
    chunks: Math.ceil(height / rowsPerChunk[compression]),
  };
}

function writeHeader(w: ByteWriter, part: Prepared, name?: string) {
  const { compression, dataWindow } = part;
  writeRaw(
    w,
    'channels',
    'chlist',
    bodyOf((b) => writeChannelList(b, part.list)),
  );
  writeRaw(w, 'compression', 'compression', Uint8Array.of(compressions.indexOf(compression)));
  writeRaw(
    w,
    'dataWindow',
    'box2i',
    bodyOf((b) => writeBox(b, dataWindow)),
  );
  writeRaw(
    w,
    'displayWindow',
    'box2i',
    bodyOf((b) => writeBox(b, part.displayWindow ?? dataWindow)),
  );
  writeRaw(w, 'lineOrder', 'lineOrder', Uint8Array.of(0));
  writeAttribute(w, 'pixelAspectRatio', { type: 'float', value: part.pixelAspectRatio ?? 1 });
  writeAttribute(w, 'screenWindowCenter', { type: 'v2f', value: part.screenWindowCenter ?? [0, 0] });
  writeAttribute(w, 'screenWindowWidth', { type: 'float', value: part.screenWindowWidth ?? 1 });
  if (isLossy(compression)) writeAttribute(w, 'dwaCompressionLevel', { type: 'float', value: part.level });
  if (name !== undefined) {
    writeAttribute(w, 'name', { type: 'string', value: name });
    writeAttribute(w, 'type', { type: 'string', value: 'scanlineimage' });
    writeAttribute(w, 'chunkCount', { type: 'int', value: part.chunks });
  }
  for (const [key, attribute] of Object.entries(part.attributes ?? {})) writeAttribute(w, key, attribute);
  w.byte(0);
}

/** The chunks of a part, each with its number before it if `numbered`; their offsets go into the table at `tableAt`. */
function writeChunks(
  w: ByteWriter,
  part: Prepared,
  tableAt: number,
  numbered: number | undefined,
  zlib: Zlib,
) {
  const { dataWindow, compression, channels } = part;
  const [width, height] = [boxWidth(dataWindow), boxHeight(dataWindow)];
  const rows = rowsPerChunk[compression];
  const bytes = channels.map(
    (c) => new Uint8Array(c.samples.buffer, c.samples.byteOffset, c.samples.byteLength),
  );
  const rowBytes = channels.reduce((sum, c) => sum + bytesPerSample[c.type] * width, 0);
  for (let chunk = 0; chunk < part.chunks; chunk++) {
    const y = chunk * rows;
    const here = Math.min(rows, height - y);
    const raw = new Uint8Array(here * rowBytes);
    let p = 0;
    for (let row = y; row < y + here; row++) {
      channels.forEach((c, i) => {
        const length = bytesPerSample[c.type] * width;
        raw.set(bytes[i].subarray(row * length, (row + 1) * length), p);
        p += length;
      });
    }
    const block = blockOf(part.list, {
      ...dataWindow,
      yMin: y + dataWindow.yMin,
      yMax: y + here - 1 + dataWindow.yMin,
    });
    const packed = packChunk(raw, block, compression, zlib, part.level);
    w.setOffset(tableAt + chunk * 8, w.length);
    if (numbered !== undefined) w.int(numbered);
    w.int(y + dataWindow.yMin);
    w.int(packed.length);
    w.raw(packed);
  }
}

const magic = 20000630;
const [isLong, isMultiPart] = [0x400, 0x1000];
const hasLongNames = ({ channels, attributes = {} }: ExrToWrite) =>
  [...channels.map((c) => c.name), ...Object.keys(attributes)].some((n) => n.length > 31);

/**
 * A single-part scanline file with channels of any names and types; half samples are given as their bits.
 * @throws {RangeError} if samples do not cover the data window.
 */
export function writeExr(picture: ExrToWrite, zlib: Zlib): Uint8Array {
  const part = prepared(picture);
  const w = new ByteWriter();
  w.int(magic);
  w.uint(2 | (hasLongNames(picture) ? isLong : 0));
  writeHeader(w, part);
  const tableAt = w.length;
  w.raw(new Uint8Array(part.chunks * 8));
  writeChunks(w, part, tableAt, undefined, zlib);
  return w.done();
}

/** A file of several scanline parts, each with a name of its own. @throws {RangeError} as `writeExr` does. */
export function writeExrParts(parts: readonly (ExrToWrite & { name: string })[], zlib: Zlib): Uint8Array {
  const ready = parts.map(prepared);
  const w = new ByteWriter();
  w.int(magic);
  w.uint(2 | isMultiPart | (parts.some(hasLongNames) ? isLong : 0));
  for (const [i, part] of ready.entries()) writeHeader(w, part, parts[i].name);
  w.byte(0);
  const tables = ready.map((part) => {
    const at = w.length;
    w.raw(new Uint8Array(part.chunks * 8));
    return at;
  });
  for (const [i, part] of ready.entries()) writeChunks(w, part, tables[i], i, zlib);
  return w.done();
}
