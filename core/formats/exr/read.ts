import { CutShort, FileError } from '../file-error';
import { type Limits, limits } from '../limits';
import { ByteReader } from './attributes';
import { blockOf, channelSize, chunkAt, chunkBox, chunkCount, hasRow } from './blocks';
import { copyBytes } from './compression/bytes';
import { unpackChunk } from './compression/chunk';
import { readParts } from './header';
import {
  boxHeight,
  boxWidth,
  bytesPerSample,
  type Channel,
  type Part,
  type PixelType,
  type Samples,
  type Zlib,
} from './types';

const arrays = { uint: Uint32Array, half: Uint16Array, float: Float32Array } as const;

/** Samples of `type` in a memory that others may share. */
export const samplesIn = (type: PixelType, memory: ArrayBufferLike): Samples =>
  new arrays[type](memory as ArrayBuffer);

/** Bytes of a channel's samples over the data window. */
export function sampleBytes(c: Channel, part: Part): number {
  const { width, height } = channelSize(c, part.dataWindow);
  return width * height * bytesPerSample[c.type];
}

/**
 * Before memory is taken: a small file may say that its channels unpack to more than any machine has.
 * @throws {FileError} naming the limit.
 */
export function checkRoom(part: Part, wanted: Iterable<string>, most: Limits) {
  const names = new Set(wanted);
  const samples = part.channels
    .filter((c) => names.has(c.name))
    .reduce((sum, c) => sum + sampleBytes(c, part) / bytesPerSample[c.type], 0);
  const allowed = most.pixels * limits.channelsAtOnce;
  if (samples <= allowed) return;
  throw new FileError(
    `Its ${names.size} channels have ${Math.round(samples / 1e6)} million samples, and ${Math.round(allowed / 1e6)} million are unpacked at once`,
    part.tableAt,
    'Take fewer channels, or raise ZAFIRO_MOST_PIXELS if the file is sound.',
    'too-large',
  );
}

/** Zeros for each of the channels `wanted` (all, if not given), in memory that `make` provides. */
export function roomFor(
  part: Part,
  wanted?: Iterable<string>,
  make: (bytes: number) => ArrayBufferLike = (bytes) => new ArrayBuffer(bytes),
): Map<string, Samples> {
  const names = wanted ? new Set(wanted) : undefined;
  const room = new Map<string, Samples>();
  for (const c of part.channels) {
    if (!names || names.has(c.name)) room.set(c.name, samplesIn(c.type, make(sampleBytes(c, part))));
  }
  return room;
}

/** Chunks of a part that are read: how many there are, where each begins (0 where that is not known). */
export type ChunkList = { count: number; at: Float64Array };

/**
 * Where the chunks begin. Entries that cannot be, as in a file whose writer has not come to its table yet, are looked for by
 * walking from chunk to chunk.
 */
export function listChunks(bytes: Uint8Array, part: Part): ChunkList {
  const count = chunkCount(part, part.tiles, true);
  const at = new Float64Array(count);
  const table = new ByteReader(bytes, part.tableAt);
  for (let chunk = 0; chunk < count; chunk++) {
    const begins = table.offset('the table of chunks');
    if (begins >= part.chunksAt && begins < bytes.length) at[chunk] = begins;
  }
  forgetShared(bytes, part, at);
  if (!at.includes(0)) return { count, at };
  const found = new Float64Array(count);
  try {
    const r = new ByteReader(bytes, part.chunksAt);
    while (r.at < bytes.length) {
      const begins = r.at;
      const { chunk, size } = readHead(r, part);
      r.take(size, 'a chunk');
      if (chunk !== undefined && found[chunk] === 0) found[chunk] = begins;
    }
  } catch {
    // Here the file ends, or stops making sense.
  }
  return { count, at: at.map((known, chunk) => known || found[chunk]) };
}

/**
 * Bytes belong to one chunk: an entry that begins where an earlier one does, or inside it, is not believed. Else a small file whose entries share
 * their bytes would be unpacked over and over.
 */
function forgetShared(bytes: Uint8Array, part: Part, at: Float64Array) {
  const order = Array.from(at.keys())
    .filter((chunk) => at[chunk] > 0)
    .sort((a, b) => at[a] - at[b]);
  let end = 0;
  for (const chunk of order) {
    if (at[chunk] < end) {
      at[chunk] = 0;
      continue;
    }
    // Its number of a part, place and size, by "OpenEXR File Layout".
    const head = (part.number === undefined ? 0 : 4) + (part.tiles ? 16 : 4);
    const r = new ByteReader(bytes, at[chunk] + head);
    end = at[chunk] + head + 4;
    if (end <= bytes.length) end += r.uint('a chunk');
  }
}

/** Head of a chunk; `chunk` is undefined where it belongs to another part or a smaller level. */
function readHead(r: ByteReader, part: Part): { chunk: number | undefined; size: number } {
  const what = 'a chunk';
  const begins = r.at;
  const mine = part.number === undefined || r.int(what) === part.number;
  if (!mine) {
    // Another part's chunk: its head may be of the other sort, which its size cannot tell; the table is to be trusted then.
    const rest = part.tiles ? 16 : 4;
    r.take(rest, what);
    return { chunk: undefined, size: r.uint(what) };
  }
  let level = 0;
  let [x, y] = [0, 0];
  if (part.tiles) {
    [x, y] = [r.int(what), r.int(what)];
    level = r.int(what) | r.int(what);
  } else y = r.int(what);
  const size = r.uint(what);
  if (level !== 0) return { chunk: undefined, size };
  const chunk = chunkAt(part, x, y);
  if (chunk < 0) {
    const what = part.tiles ? `tile ${x}, ${y}` : `row ${y}`;
    throw new FileError(`A chunk says it begins at ${what}, which cannot be`, begins);
  }
  return { chunk, size };
}

/** Chunks that are missing in a file that is damaged or still being written. */
export type Missing = { chunks: number; of: number; first: FileError };

export type Reading = {
  bytes: Uint8Array;
  part: Part;
  list: ChunkList;
  room: Map<string, Samples>;
  /** 1 for each chunk that was read. */
  done: Uint8Array;
};

/**
 * Unpacks chunks of a part into the samples of `room`, as long as `next` gives entries of the list: several threads
 * may share them. A chunk that cannot be read leaves its samples as they are; the first reason is returned.
 */
export function readChunks(
  { bytes, part, list, room, done }: Reading,
  zlib: Zlib,
  next: () => number,
): FileError | undefined {
  const { dataWindow: box } = part;
  const targets = part.channels.map((c) => {
    const samples = room.get(c.name);
    if (!samples) return undefined;
    const to = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
    return { to, rowBytes: channelSize(c, box).width * bytesPerSample[c.type] };
  });
  let first: FileError | undefined;
  for (let entry = next(); entry < list.count; entry = next()) {
    try {
      const begins = list.at[entry];
      if (begins === 0) {
        const where = part.tableAt + entry * 8;
        throw new CutShort(`Chunk ${entry} of ${list.count} is not in the file`, where);
      }
      const r = new ByteReader(bytes, begins);
      const { chunk, size } = readHead(r, part);
      if (chunk === undefined)
        throw new FileError('The table of chunks names a chunk of another part', begins);
      const from = r.take(size, `chunk ${chunk} of ${list.count}`);
      const inside = chunkBox(part, chunk);
      const block = blockOf(part.channels, inside);
      const raw = unpackChunk(bytes.subarray(from, from + size), block, part.compression, zlib, from);
      let at = 0;
      for (let y = inside.yMin; y <= inside.yMax; y++) {
        for (let i = 0; i < part.channels.length; i++) {
          const c = block.channels[i];
          if (!hasRow(c, y)) continue;
          const length = c.width * bytesPerSample[c.type];
          const target = targets[i];
          if (target) {
            const { xSampling, ySampling } = part.channels[i];
            const row = Math.floor(y / ySampling) - Math.floor((box.yMin - 1) / ySampling) - 1;
            const column = Math.floor((inside.xMin - 1) / xSampling) - Math.floor((box.xMin - 1) / xSampling);
            const to = row * target.rowBytes + column * bytesPerSample[c.type];
            copyBytes(raw, at, target.to.subarray(to, to + length));
          }
          at += length;
        }
      }
      done[chunk] = 1;
    } catch (error) {
      if (!(error instanceof FileError)) throw error;
      first ??= error;
    }
  }
  return first;
}

/** Missing chunks after all of `entries` were tried; undefined if none are. */
function missingOf(done: Uint8Array, entries: number, first: FileError | undefined): Missing | undefined {
  const chunks = entries - done.reduce((sum, d) => sum + d, 0);
  if (chunks <= 0) return;
  return {
    chunks,
    of: entries,
    first: first ?? new FileError('The table of chunks names one chunk twice', 0),
  };
}

/**
 * The samples after all `entries` were tried, and what is missing of them.
 * @throws {FileError} if nothing at all could be read.
 */
export function readingOutcome(
  { part, list, room, done }: Reading,
  entries: number,
  first: FileError | undefined,
): { samples: Map<string, Samples>; missing?: Missing } {
  if (list.at.every((at) => at === 0)) {
    throw new CutShort('No chunk of this part is in the file', part.tableAt);
  }
  const missing = missingOf(done, entries, first);
  if (missing && missing.chunks === entries && entries > 0) throw missing.first;
  return missing ? { samples: room, missing } : { samples: room };
}

/** Entries of the list that hold any of the rows `from` … `to`. */
function entriesFor(part: Part, count: number, rows: readonly [number, number] | undefined): number[] {
  const all = Array.from({ length: count }, (_, i) => i);
  if (!rows) return all;
  return all.filter((chunk) => {
    const { yMin, yMax } = chunkBox(part, chunk);
    return yMax >= rows[0] && yMin <= rows[1];
  });
}

/**
 * Samples of the channels `wanted` (all, if not given) over the data window, bit for bit as stored; rows outside `rows`
 * stay zero. All compressions of the format, tiles (level 0), any line order.
 * What a damaged or unfinished file lacks is zero and listed in `missing`.
 * @throws {FileError} naming the byte where the file stops making sense, if nothing at all can be read.
 */
export function readPart(
  bytes: Uint8Array,
  part: Part,
  zlib: Zlib,
  wanted?: Iterable<string>,
  rows?: readonly [number, number],
): { samples: Map<string, Samples>; missing?: Missing } {
  const list = listChunks(bytes, part);
  const entries = entriesFor(part, list.count, rows);
  const room = roomFor(part, wanted);
  const done = new Uint8Array(list.count);
  let i = 0;
  const reading = { bytes, part, list, room, done };
  const first = readChunks(reading, zlib, () => entries[i++] ?? list.count);
  return readingOutcome(reading, entries.length, first);
}

/**
 * Samples of a subsampled channel brought to one a pixel of the data window, each repeated over the pixels it stands for.
 */
export function fullSize(samples: Samples, c: Channel, part: Pick<Part, 'dataWindow'>): Samples {
  const { xSampling, ySampling } = c;
  if (xSampling === 1 && ySampling === 1) return samples;
  const { dataWindow: box } = part;
  const [width, height] = [boxWidth(box), boxHeight(box)];
  const own = channelSize(c, box);
  const out = new arrays[c.type](width * height);
  if (own.width === 0 || own.height === 0) return out;
  const place = (v: number, min: number, step: number, last: number) =>
    Math.max(0, Math.min(last, Math.floor(v / step) - Math.ceil(min / step)));
  for (let y = 0; y < height; y++) {
    const row = place(y + box.yMin, box.yMin, ySampling, own.height - 1) * own.width;
    for (let x = 0; x < width; x++)
      out[y * width + x] = samples[row + place(x + box.xMin, box.xMin, xSampling, own.width - 1)];
  }
  return out;
}

/**
 * The first part of a file, whole: what is missing is an error.
 * @throws {FileError} naming the byte where the file stops making sense.
 */
export function readExr(
  bytes: Uint8Array,
  zlib: Zlib,
  wanted?: Iterable<string>,
): { header: Part; samples: Map<string, Samples> } {
  const [header] = readParts(bytes);
  const { samples, missing } = readPart(bytes, header, zlib, wanted);
  if (missing) throw missing.first;
  return { header, samples };
}
