import { CutShort, FileError } from '../file-error';
import { formatByBytes } from '../file-formats';
import { checkSize, defaultLimits, type Limits } from '../limits';
import { ByteReader, readAttribute, readBox, readChannelList } from './attributes';
import { chunkCount } from './blocks';
import {
  type Attributes,
  type Box,
  boxHeight,
  boxWidth,
  type Channel,
  type Compression,
  compressions,
  type Header,
  type Part,
  type Tiles,
} from './types';

const magic = 20000630;
const flags = { tiled: 0x200, longNames: 0x400, deep: 0x800, multiPart: 0x1000 };
const knownFlags = Object.values(flags).reduce((all, f) => all | f);
const lineOrders = ['increasing', 'decreasing', 'random'] as const;
const levels = ['one', 'mip', 'rip'] as const;
/** More parts, or attributes of one, are a broken header rather than a picture. */
const mostParts = 4096;
const mostAttributes = 16384;

const deepRemedy = 'Write flat EXR files: one sample a pixel.';

/** True where `bytes` begin like an OpenEXR file. */
export const looksLikeExr = (bytes: Uint8Array) => formatByBytes(bytes) === 'exr';

type Described = { header: Header; name: string; type?: string; tiles?: Tiles; chunkCount?: number };

function readTiles(r: ByteReader, at: number): Tiles {
  const [xSize, ySize, mode] = [r.uint('tiles'), r.uint('tiles'), r.byte('tiles')];
  const kind = levels[mode & 15];
  if (!kind || xSize < 1 || ySize < 1 || xSize > 1 << 20 || ySize > 1 << 20)
    throw new FileError(`Tiles of ${xSize} by ${ySize} pixels are invalid`, at);
  return { xSize, ySize, levels: kind, roundsUp: mode >> 4 !== 0 };
}

/** One header, up to its closing zero; undefined where only that zero is left (the end of a row of headers). */
function readOne(r: ByteReader, limits: Limits): Described | undefined {
  const attributes: Attributes = {};
  let channels: Channel[] | undefined;
  let compression: Compression | undefined;
  let dataWindow: Box | undefined;
  let displayWindow: Box | undefined;
  let lineOrder: Header['lineOrder'] = 'increasing';
  let tiles: Tiles | undefined;
  for (let count = 0; ; count++) {
    const at = r.at;
    const name = r.name('an attribute name');
    if (name === '') {
      if (count === 0) return;
      break;
    }
    if (count > mostAttributes) throw new FileError('The header has too many attributes', at);
    const type = r.name('an attribute type');
    const size = r.int(`attribute ${name}`);
    if (size < 0) throw new FileError(`Attribute ${name} has a negative size`, at);
    const from = r.at;
    r.take(size, `attribute ${name}`);
    const inside = new ByteReader(r.bytes, from, from + size);
    if (name === 'channels') channels = readChannelList(inside, size);
    else if (name === 'compression') compression = compressions[inside.byte(name)];
    else if (name === 'dataWindow') dataWindow = readBox(inside, name);
    else if (name === 'displayWindow') displayWindow = readBox(inside, name);
    else if (name === 'lineOrder') lineOrder = lineOrders[inside.byte(name)] ?? 'random';
    else if (name === 'tiles') tiles = readTiles(inside, at);
    else attributes[name] = readAttribute(inside, name, type, size);
  }
  if (!channels?.length) throw new FileError('The header lists no channels', r.at);
  if (!compression) throw new FileError('The header names no known compression', r.at);
  if (!dataWindow || !displayWindow) throw new FileError('The header lacks a data or display window', r.at);
  for (const [name, box] of Object.entries({ data: dataWindow, display: displayWindow }))
    checkSize(`${name} window`, boxWidth(box), boxHeight(box), limits, r.at);

  const taken = <T>(name: string, fits: (a: Attributes[string]) => T | undefined, otherwise: T): T => {
    const a = attributes[name];
    delete attributes[name];
    return (a && fits(a)) ?? otherwise;
  };
  const number = (name: string, otherwise: number) =>
    taken(name, (a) => (a.type === 'float' ? a.value : undefined), otherwise);
  const text = (name: string) => taken(name, (a) => (a.type === 'string' ? a.value : undefined), '');
  const whole = (name: string) => taken(name, (a) => (a.type === 'int' ? a.value : undefined), -1);
  const header: Header = {
    channels,
    compression,
    dataWindow,
    displayWindow,
    lineOrder,
    pixelAspectRatio: number('pixelAspectRatio', 1),
    screenWindowCenter: taken(
      'screenWindowCenter',
      (a): [number, number] | undefined => (a.type === 'v2f' ? [a.value[0], a.value[1]] : undefined),
      [0, 0],
    ),
    screenWindowWidth: number('screenWindowWidth', 1),
    attributes,
  };
  return { header, name: text('name'), type: text('type'), tiles, chunkCount: whole('chunkCount') };
}

/**
 * The flat parts of a file, by "OpenEXR File Layout". Works on the first bytes of a file too, as long as they hold
 * the headers.
 * @throws {FileError} for files that are not EXR, cut short in a header, past `limits`, or without a flat part.
 */
export function readParts(bytes: Uint8Array, limits: Limits = defaultLimits): Part[] {
  const r = new ByteReader(bytes);
  if (r.int('the magic number') !== magic) {
    throw new FileError(
      'This is not an OpenEXR file',
      0,
      'Choose a file that a renderer wrote as EXR.',
      'unknown-format',
    );
  }
  const version = r.uint('the version');
  if ((version & 0xff) !== 2) throw new FileError(`EXR version ${version & 0xff} is not known`, 4);
  const unknown = ((version >>> 8) << 8) & ~knownFlags;
  // What they would change is not known, so nothing that follows is either.
  if (unknown !== 0)
    throw new FileError(
      `EXR version flags 0x${(unknown >>> 0).toString(16)} are not known`,
      4,
      'Write it as OpenEXR 2, flat.',
    );
  const many = (version & flags.multiPart) !== 0;
  if (version & flags.deep && !many)
    throw new FileError('Deep EXR files hold many samples a pixel and are not read', 4, deepRemedy, 'deep');

  const headers: Described[] = [];
  for (;;) {
    const one = readOne(r, limits);
    if (!one) {
      if (!many) throw new FileError('The header is empty', r.at);
      break;
    }
    headers.push(one);
    if (!many) break;
    if (headers.length > mostParts) throw new FileError('The file lists too many parts', r.at);
  }

  const parts: Part[] = [];
  let tableAt = r.at;
  for (const [i, { header, name, type, tiles, chunkCount: what }] of headers.entries()) {
    const isTiled = many ? type === 'tiledimage' : (version & flags.tiled) !== 0;
    const isFlat = !many || isTiled || type === 'scanlineimage';
    if (isTiled && !tiles) throw new FileError(`Part ${i} is tiled but says no tile size`, r.at);
    const own = isTiled ? tiles : undefined;
    const tableLength = many ? (what ?? -1) : chunkCount(header, own);
    if (tableLength < 1) throw new FileError(`Part ${i} does not say how many chunks it has`, r.at);
    // A chunk cannot be smaller than its head and its entry in the table.
    if (tableLength * 8 > bytes.length)
      throw new CutShort('The file ends inside the table of chunks', bytes.length);
    if (isFlat) {
      if (many && tableLength < chunkCount(header, own, true))
        throw new FileError(`Part ${i} lists too few chunks: ${tableLength}`, r.at);
      const number = many ? i : undefined;
      parts.push({ ...header, name, tiles: own, number, tableAt, tableLength, chunksAt: 0 });
    }
    tableAt += tableLength * 8;
  }
  if (parts.length === 0)
    throw new FileError('All parts of this EXR file are deep, which is not read', 4, deepRemedy, 'deep');
  if (tableAt > bytes.length) throw new CutShort('The file ends inside the table of chunks', bytes.length);
  return parts.map((p) => ({ ...p, chunksAt: tableAt }));
}
