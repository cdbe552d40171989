import { ByteReader, readAttribute, readBox, readChannelList, stillWriting } from './attributes';
import { copyBytes, rowsPerChunk, unpackChunk } from './compress';
import { ExrError } from './error';
import {
  type Attributes,
  type Box,
  boxHeight,
  boxWidth,
  bytesPerSample,
  type Channel,
  type Compression,
  compressions,
  type Header,
  type Samples,
  type Zlib,
} from './types';

const magic = 20000630;
const flags = { tiled: 0x200, longNames: 0x400, deep: 0x800, multiPart: 0x1000 };
const lineOrders = ['increasing', 'decreasing', 'random'] as const;
/** A side longer than this is a broken header rather than a picture. */
const longestSide = 1 << 17;

/** True where `bytes` begin like an OpenEXR file. */
export const looksLikeExr = (bytes: Uint8Array) =>
  bytes[0] === 0x76 && bytes[1] === 0x2f && bytes[2] === 0x31 && bytes[3] === 0x01;

/**
 * Header of a single-part scanline file, by "OpenEXR File Layout". Works on the first bytes of a file too, as
 * long as they hold the header.
 * @throws {ExrError} for files that are not EXR, cut short, or of a sort not read (tiled, deep, multi-part).
 */
export function readHeader(bytes: Uint8Array): Header & { chunksAt: number } {
  const r = new ByteReader(bytes);
  if (r.int('the magic number') !== magic) {
    throw new ExrError('This is not an OpenEXR file', 0, 'Choose a file that a renderer wrote as EXR.');
  }
  const version = r.uint('the version');
  if ((version & 0xff) !== 2) throw new ExrError(`EXR version ${version & 0xff} is not known`, 4);
  const again = 'Write flat, single-part scanline EXR files.';
  if (version & flags.deep)
    throw new ExrError('Deep EXR files hold many samples a pixel and are not read', 4, again);
  if (version & flags.multiPart) throw new ExrError('Multi-part EXR files are not read yet', 4, again);
  if (version & flags.tiled) throw new ExrError('Tiled EXR files are not read yet', 4, again);

  const attributes: Attributes = {};
  let channels: Channel[] | undefined;
  let compression: Compression | undefined;
  let dataWindow: Box | undefined;
  let displayWindow: Box | undefined;
  let lineOrder: Header['lineOrder'] = 'increasing';
  for (;;) {
    const at = r.at;
    const name = r.name('an attribute name');
    if (name === '') break;
    const type = r.name('an attribute type');
    const size = r.int(`attribute ${name}`);
    if (size < 0) throw new ExrError(`Attribute ${name} has a negative size`, at);
    if (name === 'channels') channels = readChannelList(r, size);
    else if (name === 'compression') compression = compressions[r.byte('compression')];
    else if (name === 'dataWindow') dataWindow = readBox(r, name);
    else if (name === 'displayWindow') displayWindow = readBox(r, name);
    else if (name === 'lineOrder') lineOrder = lineOrders[r.byte(name)] ?? 'random';
    else attributes[name] = readAttribute(r, name, type, size);
  }
  if (!channels?.length) throw new ExrError('The header lists no channels', r.at);
  if (!compression) throw new ExrError('The header names no known compression', r.at);
  if (!dataWindow || !displayWindow) throw new ExrError('The header lacks a data or display window', r.at);
  for (const [name, box] of Object.entries({ data: dataWindow, display: displayWindow })) {
    const [w, h] = [boxWidth(box), boxHeight(box)];
    if (w < 1 || h < 1 || w > longestSide || h > longestSide) {
      throw new ExrError(`The ${name} window of ${w} by ${h} pixels makes no sense`, r.at);
    }
  }
  const number = (name: string, otherwise: number) => {
    const a = attributes[name];
    delete attributes[name];
    return a?.type === 'float' ? a.value : otherwise;
  };
  const centre = attributes.screenWindowCenter;
  delete attributes.screenWindowCenter;
  return {
    channels,
    compression,
    dataWindow,
    displayWindow,
    lineOrder,
    pixelAspectRatio: number('pixelAspectRatio', 1),
    screenWindowCenter: centre?.type === 'v2f' ? [centre.value[0], centre.value[1]] : [0, 0],
    screenWindowWidth: number('screenWindowWidth', 1),
    attributes,
    chunksAt: r.at,
  };
}

const samplesOf = { uint: Uint32Array, half: Uint16Array, float: Float32Array } as const;

/** Where one row of a channel lies, as bytes (little-endian, as every host of this engine is). */
const rowBytesOf = (samples: Samples, row: number, length: number) =>
  new Uint8Array(samples.buffer, samples.byteOffset + row * length, length);

/**
 * Samples of the channels `wanted` (all, if not given) over the data window, bit for bit as stored.
 * Compression none, RLE, ZIPS and ZIP; line order of any sort.
 * @throws {ExrError} naming the byte where the file stops making sense.
 */
export function readExr(
  bytes: Uint8Array,
  zlib: Zlib,
  wanted?: Iterable<string>,
): { header: Header; samples: Map<string, Samples> } {
  const { chunksAt, ...header } = readHeader(bytes);
  const rows = rowsPerChunk[header.compression];
  if (!rows) {
    const mend = 'Write it with ZIP, ZIPS, RLE or no compression.';
    throw new ExrError(`${header.compression.toUpperCase()} compression is not read yet`, chunksAt, mend);
  }
  const odd = header.channels.find((c) => c.xSampling !== 1 || c.ySampling !== 1);
  if (odd)
    throw new ExrError(
      `Channel ${odd.name} is subsampled, which is not read yet`,
      chunksAt,
      'Write full channels.',
    );

  const box = header.dataWindow;
  const [width, height] = [boxWidth(box), boxHeight(box)];
  const rowBytes = header.channels.reduce((sum, c) => sum + bytesPerSample[c.type] * width, 0);
  const chunks = Math.ceil(height / rows);
  // Before anything is reserved: a chunk cannot be smaller than its 8-byte head and its 8-byte table entry.
  if (bytes.length < chunksAt + chunks * 16) {
    throw new ExrError('The file ends inside the table of chunks', bytes.length, stillWriting);
  }
  const names = wanted ? new Set(wanted) : new Set(header.channels.map((c) => c.name));
  const samples = new Map<string, Samples>();
  for (const c of header.channels)
    if (names.has(c.name)) samples.set(c.name, new samplesOf[c.type](width * height));

  const table = new ByteReader(bytes, chunksAt);
  const seen = new Set<number>();
  for (let chunk = 0; chunk < chunks; chunk++) {
    const at = table.offset('the table of chunks');
    if (at === 0)
      throw new ExrError(`Chunk ${chunk} of ${chunks} was never written`, table.at - 8, stillWriting);
    if (at < chunksAt || at >= bytes.length) {
      throw new ExrError(`Chunk ${chunk} of ${chunks} lies outside the file`, table.at - 8, stillWriting);
    }
    const r = new ByteReader(bytes, at);
    const y = r.int('a chunk') - box.yMin;
    const size = r.int('a chunk');
    if (y < 0 || y >= height || y % rows !== 0 || seen.has(y)) {
      throw new ExrError(`Chunk ${chunk} says it begins at row ${y + box.yMin}, which cannot be`, at);
    }
    seen.add(y);
    const here = Math.min(rows, height - y);
    const from = r.take(size, `chunk ${chunk} of ${chunks}`);
    const packed = bytes.subarray(from, from + size);
    const raw = unpackChunk(packed, here * rowBytes, header.compression, zlib, from);
    let p = 0;
    for (let row = y; row < y + here; row++) {
      for (const c of header.channels) {
        const length = bytesPerSample[c.type] * width;
        const to = samples.get(c.name);
        if (to) copyBytes(raw, p, rowBytesOf(to, row, length));
        p += length;
      }
    }
  }
  return { header, samples };
}
