import { FileError } from '../../file-error';
import { floatBitsOfHalf, floatOfHalf, floatsToHalves } from '../../half';
import { type Block, type BlockChannel, rowsFromPlanes } from '../blocks';
import { bytesPerSample, type Zlib } from '../types';
import { inflated, undoPredictAndInterleave, unpackRuns } from './bytes';
import { inverseDct, zigzag } from './dct';
import { type Rule, readRules, rulesBefore2, schemeOf } from './dwa-rules';
import { unpackHuffman } from './huffman';

/**
 * DWAA and DWAB: colour as quantised 8 by 8 cosine transforms of perceptual values, alpha as run lengths, the rest deflated
 * (the published C++ of the format; after Kainz & Bogart). Lossy: what is read agrees with other readers within rounding
 * of half floats.
 */
const headWords = [
  'version',
  'otherRaw',
  'otherPacked',
  'acPacked',
  'dcPacked',
  'runsPacked',
  'runsUnpacked',
  'runsRaw',
  'acCount',
  'dcCount',
  'acCoding',
] as const;
type Head = Record<(typeof headWords)[number], number>;

/**
 * Perceptual values back to linear light, for each half: x^2.2 up to 1, exponential beyond. The host's powers are near enough: what
 * they give is rounded to half, and files are read on one host.
 */
const toLinear = (() => {
  let table: Uint16Array | undefined;
  return () => {
    if (table) return table;
    const base = Math.exp(2.2);
    const floats = Float32Array.from({ length: 65536 }, (_, h) => {
      const x = floatOfHalf(h);
      if (!Number.isFinite(x)) return 0;
      const size = Math.abs(x);
      return Math.sign(x) * (size <= 1 ? size ** 2.2 : base ** (size - 1));
    });
    table = floatsToHalves(floats);
    return table;
  };
})();

type Source = { ac: Uint16Array; acAt: number; dc: Uint16Array; dcAt: number; offset: number };

/** One 8 by 8 block's coefficients: its mean from `dc`, the others from runs, then space. */
function readBlock(s: Source, dc: number, block: Float32Array) {
  block.fill(0);
  block[0] = floatOfHalf(dc);
  let plain = true;
  for (let k = 1; k < 64; ) {
    if (s.acAt >= s.ac.length) throw new FileError('The coefficients of a DWA chunk end too early', s.offset);
    const v = s.ac[s.acAt++];
    if (v === 0xff00) break;
    if (v >> 8 === 0xff) k += v & 255;
    else {
      block[zigzag[k++]] = floatOfHalf(v);
      plain = false;
    }
  }
  if (plain) block.fill(block[0] / 8);
  else inverseDct(block);
}

/** One channel, or three that were stored as luma and two differences of colour, as planes of half bits. */
function readTransformed(s: Source, channels: BlockChannel[]): Uint16Array[] {
  const { width, height } = channels[0];
  const [across, downwards] = [Math.ceil(width / 8), Math.ceil(height / 8)];
  const blocks = across * downwards;
  if (s.dcAt + blocks * channels.length > s.dc.length)
    throw new FileError('The means of a DWA chunk end too early', s.offset);
  const floats = channels.map(() => new Float32Array(width * height));
  const block = channels.map(() => new Float32Array(64));
  for (let by = 0, i = 0; by < downwards; by++) {
    for (let bx = 0; bx < across; bx++, i++) {
      for (let c = 0; c < channels.length; c++) readBlock(s, s.dc[s.dcAt + c * blocks + i], block[c]);
      if (channels.length === 3) {
        const [luma, blue, red] = block;
        for (let k = 0; k < 64; k++) {
          const [y, b, r] = [luma[k], blue[k], red[k]];
          luma[k] = y + 1.5747 * r;
          blue[k] = y - 0.1873 * b - 0.4682 * r;
          red[k] = y + 1.8556 * b;
        }
      }
      const w = Math.min(8, width - bx * 8);
      const h = Math.min(8, height - by * 8);
      channels.forEach((_, c) => {
        for (let row = 0; row < h; row++)
          floats[c].set(block[c].subarray(row * 8, row * 8 + w), (by * 8 + row) * width + bx * 8);
      });
    }
  }
  s.dcAt += blocks * channels.length;
  return channels.map((channel, c) => {
    const halves = floatsToHalves(floats[c]);
    if (channels.length === 3 || !channel.linear) {
      const table = toLinear();
      for (let k = 0; k < halves.length; k++) halves[k] = table[halves[k]];
    }
    return halves;
  });
}

/** Half bits as the bytes of the channel's own type. */
function inType(channel: BlockChannel, halves: Uint16Array): Uint8Array {
  if (channel.type === 'half') return new Uint8Array(halves.buffer);
  return new Uint8Array(Uint32Array.from(halves, floatBitsOfHalf).buffer);
}

/** Channels of a block by how they are stored; `sets` are the red, green, blue that were transformed together. */
function sortChannels(channels: BlockChannel[], rules: Rule[]) {
  const schemes = channels.map((c) => schemeOf(c, rules));
  const sets = new Map<string, (number | undefined)[]>();
  schemes.forEach(({ colour }, i) => {
    if (colour < 0) return;
    const { name } = channels[i];
    const prefix = name.slice(0, name.lastIndexOf('.') + 1);
    const set = sets.get(prefix) ?? [];
    set[colour] = i;
    sets.set(prefix, set);
  });
  const whole = [...sets.values()].filter((set): set is number[] => {
    if (set.length !== 3 || set.includes(undefined)) return false;
    const [r, g, b] = set.map((i) => channels[i!]);
    const same = (c: BlockChannel) => c.width === r.width && c.height === r.height;
    return same(g) && same(b) && set.every((i) => schemes[i!].scheme === 'transformed');
  });
  return { schemes: schemes.map((s) => s.scheme), sets: whole };
}

export function unpackDwa(packed: Uint8Array, block: Block, zlib: Zlib, offset: number): Uint8Array {
  const wrong = (what: string) => new FileError(what, offset);
  if (packed.length < 88) throw wrong('A DWA chunk ends too early');
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const head = Object.fromEntries(
    headWords.map((name, i) => [name, Number(view.getBigUint64(i * 8, true))]),
  ) as Head;
  if (head.version > 2) throw wrong(`DWA version ${head.version} is not known`);
  const most = block.size * 2 + 4096;
  const sizes = [head.otherRaw, head.runsUnpacked, head.runsRaw, head.acCount * 2, head.dcCount * 2];
  if (sizes.some((n) => n > most)) throw wrong('The head of a DWA chunk is invalid');
  // Deflate shrinks to a 1032nd at most (RFC 1951), so sizes out of nowhere take no memory.
  const deflated = [
    [head.otherRaw, head.otherPacked],
    [head.dcCount * 2, head.dcPacked],
    [head.runsUnpacked, head.runsPacked],
  ];
  if (deflated.some(([raw, small]) => raw > small * 1032 + 64))
    throw wrong('The head of a DWA chunk is invalid');
  let at = 88;
  let rules = rulesBefore2;
  if (head.version === 2) {
    const length = packed.length >= 90 ? view.getUint16(88, true) : 0;
    if (length < 2 || at + length > packed.length) throw wrong('The rules of a DWA chunk are invalid');
    rules = readRules(packed.subarray(90, 88 + length), offset + 90);
    at += length;
  }
  const next = (count: number) => {
    if (at + count > packed.length) throw wrong('A DWA chunk ends too early');
    at += count;
    return packed.subarray(at - count, at);
  };
  // A copy with a buffer of its own, from its start (a host's bytes may be a view, and so may their slice).
  const unpacked = (bytes: Uint8Array, size: number) =>
    size === 0 ? new Uint8Array(0) : new Uint8Array(inflated(bytes, size, zlib, offset));
  const [otherPacked, acPacked, dcPacked, runsPacked] = [
    next(head.otherPacked),
    next(head.acPacked),
    next(head.dcPacked),
    next(head.runsPacked),
  ];
  const other = unpacked(otherPacked, head.otherRaw);
  let ac: Uint16Array = new Uint16Array(head.acCount);
  if (head.acCount > 0) {
    if (head.acCoding === 0) unpackHuffman(acPacked, ac, offset);
    else ac = new Uint16Array(unpacked(acPacked, head.acCount * 2).buffer);
  }
  const dcBytes = unpacked(dcPacked, head.dcCount * 2);
  const dc = new Uint16Array(undoPredictAndInterleave(dcBytes).buffer);
  const runs =
    head.runsRaw > 0
      ? unpackRuns(unpacked(runsPacked, head.runsUnpacked), head.runsRaw, offset)
      : new Uint8Array(0);

  const { schemes, sets } = sortChannels(block.channels, rules);
  const planes: Uint8Array[] = [];
  const source: Source = { ac, acAt: 0, dc, dcAt: 0, offset };
  for (const set of sets) {
    const halves = readTransformed(
      source,
      set.map((i) => block.channels[i]),
    );
    set.forEach((i, c) => {
      planes[i] = inType(block.channels[i], halves[c]);
    });
  }
  let [otherAt, runsAt] = [0, 0];
  block.channels.forEach((channel, i) => {
    if (planes[i]) return;
    const count = channel.width * channel.height;
    const bytes = bytesPerSample[channel.type];
    if (schemes[i] === 'transformed') {
      if (channel.type === 'uint')
        throw wrong(`Channel ${channel.name} of a DWA chunk cannot be transformed`);
      planes[i] = inType(channel, readTransformed(source, [channel])[0]);
    } else if (schemes[i] === 'runs') {
      if (runsAt + count * bytes > runs.length) throw wrong('The runs of a DWA chunk end too early');
      // Byte planes: all first bytes, all second bytes …
      const plane = new Uint8Array(count * bytes);
      for (let b = 0; b < bytes; b++)
        for (let k = 0; k < count; k++) plane[k * bytes + b] = runs[runsAt + b * count + k];
      planes[i] = plane;
      runsAt += count * bytes;
    } else {
      if (otherAt + count * bytes > other.length) throw wrong('A DWA chunk ends too early');
      planes[i] = other.subarray(otherAt, otherAt + count * bytes);
      otherAt += count * bytes;
    }
  });
  return rowsFromPlanes(block, planes);
}
