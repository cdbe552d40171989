import { FileError } from '../../file-error';

/**
 * The Huffman coding of PIZ and DWA chunks: canonical codes over 16-bit values, and one more symbol, the last of the table, that
 * repeats the value before it as often as the next 8 bits say ("OpenEXR File Layout", and the published C++ of the format).
 */
const symbols = 65537;
const longestCode = 52;
const quick = 12;

const zeroRun = { short: 59, long: 63, shortest: 2, shortestLong: 6, longest: 255 + 6 } as const;

/** First code of each length: the longest codes have the smallest numbers. Turns `counts` of codes by length into them. */
function firstCodes(counts: Float64Array): Float64Array {
  const first = new Float64Array(60);
  let code = 0;
  for (let l = 58; l > 0; l--) {
    const next = Math.floor((code + counts[l]) / 2);
    first[l] = code;
    code = next;
  }
  return first;
}

class BitReader {
  private held = 0;
  private bits = 0;
  constructor(
    private readonly bytes: Uint8Array,
    private at: number,
    private readonly end: number,
    private readonly offset: number,
  ) {}
  take(count: number): number {
    while (this.bits < count) {
      if (this.at >= this.end) throw new FileError('A Huffman code ends too early', this.offset + this.at);
      this.held = ((this.held << 8) | this.bytes[this.at++]) & 0xffffff;
      this.bits += 8;
    }
    this.bits -= count;
    return (this.held >> this.bits) & ((1 << count) - 1);
  }
}

/** Lengths of the codes of `from` … `to`, packed in 6 bits each, with runs of zeros shortened. */
function readLengths(bits: BitReader, from: number, to: number, offset: number): Uint8Array {
  const lengths = new Uint8Array(symbols);
  for (let s = from; s <= to; ) {
    const l = bits.take(6);
    if (l < zeroRun.short) {
      if (l > longestCode) throw new FileError('A Huffman code is too long', offset);
      lengths[s++] = l;
      continue;
    }
    const run =
      l === zeroRun.long ? bits.take(8) + zeroRun.shortestLong : l - zeroRun.short + zeroRun.shortest;
    if (s + run > to + 1) throw new FileError('A table of Huffman codes is too long', offset);
    s += run;
  }
  return lengths;
}

/** Fills `out` with the values coded in `packed`. */
export function unpackHuffman(packed: Uint8Array, out: Uint16Array, offset: number) {
  if (out.length === 0) return;
  if (packed.length < 20) throw new FileError('A Huffman block ends too early', offset);
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const [from, to, tableBytes, bitCount] = [0, 4, 8, 12].map((at) => view.getUint32(at, true));
  const dataAt = 20 + tableBytes;
  if (from >= symbols || to >= symbols || from > to || dataAt + Math.ceil(bitCount / 8) > packed.length)
    throw new FileError('The head of a Huffman block is invalid', offset);
  const lengths = readLengths(new BitReader(packed, 20, dataAt, offset), from, to, offset);

  const counts = new Float64Array(60);
  for (let s = from; s <= to; s++) if (lengths[s]) counts[lengths[s]]++;
  const first = firstCodes(counts);
  const start = new Uint32Array(60);
  for (let l = 1, sum = 0; l < 60; l++) {
    start[l] = sum;
    sum += counts[l];
  }
  const sorted = new Uint32Array(to - from + 1);
  const next = start.slice();
  /** For each run of `quick` bits the symbol they begin with and its length, or 0 where the code is longer. */
  const table = new Uint32Array(1 << quick);
  for (let s = from; s <= to; s++) {
    const l = lengths[s];
    if (!l) continue;
    const code = first[l] + (next[l] - start[l]);
    sorted[next[l]++] = s;
    if (l > quick) continue;
    const low = code * 2 ** (quick - l);
    if (low + 2 ** (quick - l) > table.length)
      throw new FileError('A table of Huffman codes does not fit together', offset);
    table.fill((s << 6) | l, low, low + 2 ** (quick - l));
  }

  const end = dataAt + Math.ceil(bitCount / 8);
  let [held, bits, at, left, to2] = [0, 0, dataAt, bitCount, 0];
  const repeat = to;
  const wrong = (what: string) => new FileError(what, offset + at);
  while (to2 < out.length) {
    while (bits < quick) {
      held = ((held << 8) | (at < end ? packed[at] : 0)) & 0xfffff;
      at++;
      bits += 8;
    }
    const entry = table[(held >> (bits - quick)) & ((1 << quick) - 1)];
    let symbol = entry >>> 6;
    let length = entry & 63;
    if (length) bits -= length;
    else {
      // A long code, bit by bit.
      let code = (held >> (bits - quick)) & ((1 << quick) - 1);
      bits -= quick;
      length = quick;
      for (;;) {
        if (++length > longestCode) throw wrong('A Huffman code is not in its table');
        if (bits === 0) {
          held = at < end ? packed[at] : 0;
          at++;
          bits = 8;
        }
        bits--;
        code = code * 2 + ((held >> bits) & 1);
        const i = code - first[length];
        if (i >= 0 && i < counts[length]) {
          symbol = sorted[start[length] + i];
          break;
        }
      }
    }
    left -= length;
    if (left < 0) throw wrong('A Huffman block ends too early');
    if (symbol !== repeat) {
      out[to2++] = symbol;
      continue;
    }
    while (bits < 8) {
      held = ((held << 8) | (at < end ? packed[at] : 0)) & 0xfffff;
      at++;
      bits += 8;
    }
    bits -= 8;
    left -= 8;
    const count = (held >> bits) & 255;
    if (left < 0 || to2 === 0 || to2 + count > out.length)
      throw wrong('A run of a Huffman block does not fit');
    out.fill(out[to2 - 1], to2, to2 + count);
    to2 += count;
  }
}

/** Code lengths by Huffman's construction for symbols with a count above 0. */
function codeLengths(counts: Uint32Array, from: number, to: number): Uint8Array {
  type Tree = { weight: number; symbol: number; left?: Tree; right?: Tree };
  const leaves: Tree[] = [];
  for (let s = from; s <= to; s++) if (counts[s]) leaves.push({ weight: counts[s], symbol: s });
  leaves.sort((a, b) => a.weight - b.weight || a.symbol - b.symbol);
  // Two queues: leaves by weight, and trees, which are made in order of weight.
  const trees: Tree[] = [];
  let [l, t] = [0, 0];
  const lightest = () =>
    t >= trees.length || (l < leaves.length && leaves[l].weight <= trees[t].weight)
      ? leaves[l++]
      : trees[t++];
  for (let n = leaves.length; n > 1; n--) {
    const [left, right] = [lightest(), lightest()];
    trees.push({ weight: left.weight + right.weight, symbol: -1, left, right });
  }
  const lengths = new Uint8Array(symbols);
  const open: [Tree, number][] = [[lightest(), 0]];
  for (let top = open.pop(); top; top = open.pop()) {
    const [tree, depth] = top;
    if (tree.left && tree.right) open.push([tree.left, depth + 1], [tree.right, depth + 1]);
    else lengths[tree.symbol] = Math.max(1, depth);
  }
  return lengths;
}

class BitWriter {
  private bytes: number[] = [];
  private held = 0;
  private bits = 0;
  count = 0;
  /** `code` may be longer than 32 bits. */
  put(code: number, length: number) {
    this.count += length;
    if (length > 20) {
      const low = length - 20;
      this.count -= length;
      this.put(Math.floor(code / 2 ** low), 20);
      this.put(code % 2 ** low, low);
      return;
    }
    this.held = (this.held << length) | code;
    this.bits += length;
    while (this.bits >= 8) {
      this.bits -= 8;
      this.bytes.push((this.held >> this.bits) & 255);
    }
    this.held &= (1 << this.bits) - 1;
  }
  done(): Uint8Array {
    if (this.bits > 0) this.bytes.push((this.held << (8 - this.bits)) & 255);
    return Uint8Array.from(this.bytes);
  }
}

/** The inverse of `unpackHuffman`. */
export function packHuffman(values: Uint16Array): Uint8Array {
  if (values.length === 0) return new Uint8Array(0);
  const counts = new Uint32Array(symbols);
  for (const v of values) counts[v]++;
  let [from, to] = [0, 65535];
  while (!counts[from]) from++;
  while (!counts[to]) to--;
  const repeat = ++to;
  counts[repeat] = 1;
  const lengths = codeLengths(counts, from, to);

  const byLength = new Float64Array(60);
  for (let s = from; s <= to; s++) if (lengths[s]) byLength[lengths[s]]++;
  const next = firstCodes(byLength);
  const codes = new Float64Array(symbols);
  for (let s = from; s <= to; s++) if (lengths[s]) codes[s] = next[lengths[s]]++;

  const table = new BitWriter();
  for (let s = from; s <= to; s++) {
    let run = 0;
    while (s + run <= to && lengths[s + run] === 0 && run < zeroRun.longest) run++;
    if (run >= zeroRun.shortestLong) {
      table.put(zeroRun.long, 6);
      table.put(run - zeroRun.shortestLong, 8);
    } else if (run >= zeroRun.shortest) table.put(zeroRun.short + run - zeroRun.shortest, 6);
    else {
      table.put(lengths[s], 6);
      continue;
    }
    s += run - 1;
  }
  const data = new BitWriter();
  for (let i = 0; i < values.length; ) {
    const v = values[i];
    let run = 0;
    while (run < 255 && i + run + 1 < values.length && values[i + run + 1] === v) run++;
    if (lengths[v] + lengths[repeat] + 8 < lengths[v] * run) {
      data.put(codes[v], lengths[v]);
      data.put(codes[repeat], lengths[repeat]);
      data.put(run, 8);
    } else for (let k = 0; k <= run; k++) data.put(codes[v], lengths[v]);
    i += run + 1;
  }
  const [tableBytes, dataBytes] = [table.done(), data.done()];
  const out = new Uint8Array(20 + tableBytes.length + dataBytes.length);
  const view = new DataView(out.buffer);
  for (const [i, v] of [from, to, tableBytes.length, data.count, 0].entries()) view.setUint32(i * 4, v, true);
  out.set(tableBytes, 20);
  out.set(dataBytes, 20 + tableBytes.length);
  return out;
}
