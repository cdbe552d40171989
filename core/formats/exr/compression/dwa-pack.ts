import { floatOfHalf, floatsToHalves, halfOf } from '../../half';
import { type Block, type BlockChannel, planesFromRows } from '../blocks';
import type { Zlib } from '../types';
import { interleaveAndPredict, packRuns } from './bytes';
import { forwardDct, zigzag } from './dct';
import { type Rule, schemeOf } from './dwa-rules';

/**
 * Writes DWAA and DWAB: red, green and blue of a set as quantised cosine transforms of perceptual values, alpha as runs, everything else deflated
 * without loss (the published C++ of the format; quantisation after ITU-T T.81, tables K.1 and K.2). The rules stand in each chunk, so that no reader
 * takes data for colour.
 */
export const writtenRules: Rule[] = (['half', 'float'] as const).flatMap((type) => [
  ...(['R', 'G', 'B'] as const).map((suffix, colour) => ({
    ...{ suffix, anyCase: false, type, colour },
    scheme: 'transformed' as const,
  })),
  { suffix: 'A', anyCase: false, type, scheme: 'runs' as const, colour: -1 },
]);

/** Steps of luminance and of differences of colour, by frequency (ITU-T T.81, K.1 and K.2), over the smallest of each. */
// biome-ignore format: tables as they are printed
const luminance = [
  16, 11, 10, 16, 24, 40, 51, 61, 12, 12, 14, 19, 26, 58, 60, 55, 14, 13, 16, 24, 40, 57, 69, 56, 14, 17, 22, 29, 51, 87, 80, 62,
  18, 22, 37, 56, 68, 109, 103, 77, 24, 35, 55, 64, 81, 104, 113, 92, 49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99,
].map((step) => step / 10);
// biome-ignore format: tables as they are printed
const chrominance = [
  17, 18, 24, 47, 99, 99, 99, 99, 18, 21, 26, 66, 99, 99, 99, 99, 24, 26, 56, 99, 99, 99, 99, 99, 47, 66, 99, 99, 99, 99, 99, 99,
  99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99, 99,
].map((step) => step / 17);

/** Linear light as perceptual values, for each half: x^(1/2.2) up to 1, logarithmic beyond; what is not finite is 0. */
const toPerceptual = (() => {
  let table: Float32Array | undefined;
  return () => {
    table ??= Float32Array.from({ length: 65536 }, (_, h) => {
      const x = floatOfHalf(h);
      if (!Number.isFinite(x)) return 0;
      const size = Math.abs(x);
      // As a half: readers have a table of halves.
      return floatOfHalf(halfOf(Math.sign(x) * (size <= 1 ? size ** (1 / 2.2) : Math.log(size) / 2.2 + 1)));
    });
    return table;
  };
})();

/** The half within `tolerance` of a value that has the fewest bits, so that it packs well. */
function quantised(value: number, tolerance: number): number {
  if (Math.abs(value) <= tolerance) return 0;
  const exact = halfOf(value);
  // Bits of the fraction that are dropped, the most first.
  for (let drop = 10; drop > 0; drop--) {
    const coarse = ((exact + (1 << (drop - 1))) >> drop) << drop;
    if (Math.abs(floatOfHalf(coarse & 0xffff) - value) <= tolerance) return coarse & 0xffff;
  }
  return exact;
}

/** Growing list of 16 bits. */
function words() {
  let held = new Uint16Array(4096);
  let length = 0;
  return {
    push(v: number) {
      if (length === held.length) {
        const larger = new Uint16Array(held.length * 2);
        larger.set(held);
        held = larger;
      }
      held[length++] = v;
    },
    bytes: () => new Uint8Array(held.buffer, 0, length * 2).slice(),
    get length() {
      return length;
    },
  };
}

const halvesIn = (plane: Uint8Array, { type }: BlockChannel): Uint16Array =>
  type === 'half'
    ? new Uint16Array(plane.buffer, plane.byteOffset, plane.length / 2)
    : floatsToHalves(new Float32Array(plane.buffer, plane.byteOffset, plane.length / 4));

/** A set of red, green and blue: means go to `dc`, plane after plane, the other coefficients to `ac`, block by block. */
function transform(
  planes: readonly Uint16Array[],
  { width, height }: BlockChannel,
  level: number,
  ac: ReturnType<typeof words>,
  dc: ReturnType<typeof words>,
) {
  const table = toPerceptual();
  const unit = level / 100_000;
  const [across, downwards] = [Math.ceil(width / 8), Math.ceil(height / 8)];
  const means = [0, 1, 2].map(() => new Uint16Array(across * downwards));
  const blocks = [0, 1, 2].map(() => new Float32Array(64));
  const codes = new Uint16Array(64);
  for (let by = 0, n = 0; by < downwards; by++)
    for (let bx = 0; bx < across; bx++, n++) {
      for (let k = 0; k < 64; k++) {
        // What lies beyond the edge is as at it, mirrored.
        let x = bx * 8 + (k & 7);
        let y = by * 8 + (k >> 3);
        if (x >= width) x = Math.max(0, 2 * width - 1 - x);
        if (y >= height) y = Math.max(0, 2 * height - 1 - y);
        const at = y * width + x;
        const [r, g, b] = [table[planes[0][at]], table[planes[1][at]], table[planes[2][at]]];
        // ITU-R BT.709.
        blocks[0][k] = 0.2126 * r + 0.7152 * g + 0.0722 * b;
        blocks[1][k] = -0.1146 * r - 0.3854 * g + 0.5 * b;
        blocks[2][k] = 0.5 * r - 0.4542 * g - 0.0458 * b;
      }
      for (let c = 0; c < 3; c++) {
        forwardDct(blocks[c]);
        const steps = c === 0 ? luminance : chrominance;
        for (let k = 0; k < 64; k++) codes[k] = quantised(blocks[c][zigzag[k]], unit * steps[zigzag[k]]);
        means[c][n] = codes[0];
        let last = 63;
        while (last > 0 && codes[last] === 0) last--;
        for (let k = 1; k <= last; k++) {
          if (codes[k] !== 0) {
            ac.push(codes[k]);
            continue;
          }
          const from = k;
          while (codes[k + 1] === 0) k++;
          ac.push(k === from ? 0 : 0xff00 | (k - from + 1));
        }
        // The rest is 0.
        if (last < 63) ac.push(0xff00);
      }
    }
  for (const plane of means) for (const mean of plane) dc.push(mean);
}

function rulesBytes(): Uint8Array {
  const out: number[] = [];
  const schemes = ['other', 'transformed', 'runs'];
  for (const { suffix, anyCase, type, scheme, colour } of writtenRules)
    out.push(
      ...new TextEncoder().encode(suffix),
      0,
      ((colour + 1) << 4) | (schemes.indexOf(scheme) << 2) | (anyCase ? 1 : 0),
      ['uint', 'half', 'float'].indexOf(type),
    );
  return Uint8Array.of((out.length + 2) & 255, (out.length + 2) >> 8, ...out);
}

/** Sets of red, green and blue in a chunk, as numbers of channels. */
function setsIn({ channels }: Block): number[][] {
  const sets = new Map<string, number[]>();
  channels.forEach((c, i) => {
    const { scheme, colour } = schemeOf(c, writtenRules);
    if (scheme !== 'transformed') return;
    const prefix = c.name.slice(0, c.name.lastIndexOf('.') + 1);
    const set = sets.get(prefix) ?? [];
    set[colour] = i;
    sets.set(prefix, set);
  });
  return [...sets.values()];
}

const joined = (parts: readonly Uint8Array[]): Uint8Array => {
  const out = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
};

/**
 * A chunk in DWA. `level` is how coarse it is: 45 is hardly seen, 0 rounds as little as halves do.
 * @throws {RangeError} for a red, green or blue without the other two.
 */
export function packDwa(raw: Uint8Array, block: Block, zlib: Zlib, level: number): Uint8Array {
  const planes = planesFromRows(block, raw);
  const sets = setsIn(block);
  const [ac, dc] = [words(), words()];
  for (const set of sets) {
    if (set.length !== 3 || set.includes(undefined as never) || Object.keys(set).length !== 3)
      throw new RangeError('DWA takes red, green and blue together');
    transform(
      set.map((i) => halvesIn(planes[i], block.channels[i])),
      block.channels[set[0]],
      level,
      ac,
      dc,
    );
  }
  const transformed = new Set(sets.flat());
  const [runs, others]: [Uint8Array[], Uint8Array[]] = [[], []];
  block.channels.forEach((channel, i) => {
    if (transformed.has(i)) return;
    if (schemeOf(channel, writtenRules).scheme !== 'runs') {
      others.push(planes[i]);
      return;
    }
    // All first bytes, all second bytes …
    const count = channel.width * channel.height;
    const size = count === 0 ? 0 : planes[i].length / count;
    const apart = new Uint8Array(planes[i].length);
    for (let b = 0; b < size; b++)
      for (let k = 0; k < count; k++) apart[b * count + k] = planes[i][k * size + b];
    runs.push(apart);
  });
  const deflated = (bytes: Uint8Array) => (bytes.length === 0 ? bytes : zlib.deflate(bytes));
  const [other, runsRaw, acBytes, dcBytes] = [joined(others), joined(runs), ac.bytes(), dc.bytes()];
  const runsUnpacked = runsRaw.length === 0 ? runsRaw : packRuns(runsRaw);
  const [otherPacked, acPacked, dcPacked, runsPacked] = [
    deflated(other),
    deflated(acBytes),
    deflated(dcBytes.length === 0 ? dcBytes : interleaveAndPredict(dcBytes)),
    deflated(runsUnpacked),
  ];
  const head = [
    2,
    other.length,
    otherPacked.length,
    acPacked.length,
    dcPacked.length,
    runsPacked.length,
    runsUnpacked.length,
    runsRaw.length,
    ac.length,
    dc.length,
    // Coefficients are deflated.
    1,
  ];
  const words64 = new Uint8Array(88);
  const view = new DataView(words64.buffer);
  head.forEach((v, i) => {
    view.setBigUint64(i * 8, BigInt(v), true);
  });
  return joined([words64, rulesBytes(), otherPacked, acPacked, dcPacked, runsPacked]);
}
