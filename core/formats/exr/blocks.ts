import {
  type Box,
  boxHeight,
  boxWidth,
  bytesPerSample,
  type Channel,
  type Compression,
  type Header,
  type Part,
  type PixelType,
  type Tiles,
} from './types';

/** Rows in one chunk of a scanline part ("OpenEXR File Layout", compression). */
export const rowsPerChunk: Record<Compression, number> = {
  none: 1,
  rle: 1,
  zips: 1,
  zip: 16,
  piz: 32,
  pxr24: 16,
  b44: 32,
  b44a: 32,
  dwaa: 32,
  dwab: 256,
};

const floorDiv = (a: number, b: number) => Math.floor(a / b);
/** How many of `from` … `to` are multiples of `step`: a channel has samples only there. */
const multiples = (from: number, to: number, step: number) => floorDiv(to, step) - floorDiv(from - 1, step);

/** Columns and rows of a channel's own samples inside a box. */
export const channelSize = (c: Pick<Channel, 'xSampling' | 'ySampling'>, box: Box) => ({
  width: multiples(box.xMin, box.xMax, c.xSampling),
  height: multiples(box.yMin, box.yMax, c.ySampling),
});

const across = (box: Box, tiles: Tiles) => Math.ceil(boxWidth(box) / tiles.xSize);
const downwards = (box: Box, tiles: Tiles) => Math.ceil(boxHeight(box) / tiles.ySize);

/** Entries in the table of chunks; of level 0 alone if `lowest`. */
export function chunkCount(
  { dataWindow, compression }: Pick<Header, 'dataWindow' | 'compression'>,
  tiles: Tiles | undefined,
  lowest = false,
): number {
  if (!tiles) return Math.ceil(boxHeight(dataWindow) / rowsPerChunk[compression]);
  if (lowest || tiles.levels === 'one') return across(dataWindow, tiles) * downwards(dataWindow, tiles);
  const [w, h] = [boxWidth(dataWindow), boxHeight(dataWindow)];
  const round = tiles.roundsUp ? Math.ceil : Math.floor;
  const levelsOf = (size: number) => round(Math.log2(size)) + 1;
  const at = (size: number, level: number) => Math.max(1, round(size / 2 ** level));
  const tilesOf = (size: number, level: number, tile: number) => Math.ceil(at(size, level) / tile);
  let sum = 0;
  if (tiles.levels === 'mip') {
    for (let l = 0; l < levelsOf(Math.max(w, h)); l++)
      sum += tilesOf(w, l, tiles.xSize) * tilesOf(h, l, tiles.ySize);
    return sum;
  }
  for (let ly = 0; ly < levelsOf(h); ly++)
    for (let lx = 0; lx < levelsOf(w); lx++) sum += tilesOf(w, lx, tiles.xSize) * tilesOf(h, ly, tiles.ySize);
  return sum;
}

/** The box of a chunk of level 0, by its number in reading order. */
export function chunkBox(part: Part, chunk: number): Box {
  const { dataWindow: box, tiles } = part;
  if (!tiles) {
    const rows = rowsPerChunk[part.compression];
    const yMin = box.yMin + chunk * rows;
    return { xMin: box.xMin, xMax: box.xMax, yMin, yMax: Math.min(box.yMax, yMin + rows - 1) };
  }
  const n = across(box, tiles);
  const [xMin, yMin] = [box.xMin + (chunk % n) * tiles.xSize, box.yMin + Math.floor(chunk / n) * tiles.ySize];
  return {
    xMin,
    yMin,
    xMax: Math.min(box.xMax, xMin + tiles.xSize - 1),
    yMax: Math.min(box.yMax, yMin + tiles.ySize - 1),
  };
}

/** Number of the chunk of row `y`, or of tile (`x`, `y`); -1 if there is none. */
export function chunkAt(part: Part, x: number, y: number): number {
  const { dataWindow: box, tiles } = part;
  if (!tiles) {
    const rows = rowsPerChunk[part.compression];
    const row = y - box.yMin;
    return row < 0 || y > box.yMax || row % rows !== 0 ? -1 : row / rows;
  }
  const [nx, ny] = [across(box, tiles), downwards(box, tiles)];
  return x < 0 || y < 0 || x >= nx || y >= ny ? -1 : y * nx + x;
}

/** A channel inside one chunk: its samples there. */
export type BlockChannel = {
  name: string;
  type: PixelType;
  linear: boolean;
  ySampling: number;
  width: number;
  height: number;
};

/**
 * What a chunk holds: for each row from `yMin` to `yMax` the samples of each channel that has that row, channel after
 * channel. `size` are its raw bytes.
 */
export type Block = { channels: BlockChannel[]; yMin: number; yMax: number; size: number };

export function blockOf(channels: Channel[], box: Box): Block {
  const inside = channels.map(({ name, type, linear, xSampling, ySampling }) => ({
    name,
    type,
    linear,
    ySampling,
    ...channelSize({ xSampling, ySampling }, box),
  }));
  const size = inside.reduce((sum, c) => sum + bytesPerSample[c.type] * c.width * c.height, 0);
  return { channels: inside, yMin: box.yMin, yMax: box.yMax, size };
}

/** True where a channel has samples in row `y`. */
export const hasRow = (c: { ySampling: number }, y: number) => y % c.ySampling === 0;

/** Visits each channel's piece of each row, in the order of the raw bytes: the channel, and the offsets of the piece in the raw bytes and in its plane. */
function eachPiece(
  block: Block,
  visit: (channel: number, inRaw: number, inPlane: number, length: number) => void,
) {
  const next = block.channels.map(() => 0);
  let at = 0;
  for (let y = block.yMin; y <= block.yMax; y++) {
    block.channels.forEach((c, i) => {
      if (!hasRow(c, y)) return;
      const length = c.width * bytesPerSample[c.type];
      visit(i, at, next[i], length);
      next[i] += length;
      at += length;
    });
  }
}

/** Raw bytes of a chunk from planes: for each channel its bytes row by row. */
export function rowsFromPlanes(block: Block, planes: Uint8Array[]): Uint8Array {
  const out = new Uint8Array(block.size);
  eachPiece(block, (i, at, from, length) => out.set(planes[i].subarray(from, from + length), at));
  return out;
}

/** The other way: a plane for each channel from the raw bytes of a chunk. */
export function planesFromRows(block: Block, raw: Uint8Array): Uint8Array[] {
  const planes = block.channels.map((c) => new Uint8Array(c.width * c.height * bytesPerSample[c.type]));
  eachPiece(block, (i, at, to, length) => planes[i].set(raw.subarray(at, at + length), to));
  return planes;
}
