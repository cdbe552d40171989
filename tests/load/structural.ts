import { crc32, deflateSync } from 'node:zlib';

/**
 * Changes to files that know how they are built: header fields, windows, counts, chunk tables, directories, bombs. What is changed still looks like
 * a file of its sort, so that it gets past the first checks; where a format has checksums they are made to fit.
 */

export type Random = (below: number) => number;

const numbers = [
  0,
  1,
  -1,
  2,
  7,
  127,
  255,
  256,
  4095,
  65535,
  65536,
  99999,
  2 ** 24,
  2 ** 27,
  2 ** 30,
  2 ** 31 - 1,
  -(2 ** 31),
  -100000,
];
const pick = <T>(list: readonly T[], random: Random): T => list[random(list.length)];

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const joined = (...parts: Uint8Array[]) => new Uint8Array(Buffer.concat(parts));

/** A number near what stands there, or one of the odd ones. */
function another(now: number, random: Random): number {
  switch (random(4)) {
    case 0:
      return now + 1 - random(3);
    case 1:
      return now * 2;
    case 2:
      return random(Math.max(2, Math.abs(now) * 2));
    default:
      return pick(numbers, random);
  }
}

type Attribute = { name: string; type: string; at: number; size: number; sizeAt: number };

/** Attributes of the first header of an EXR file, and where the header ends. */
function exrHeader(bytes: Uint8Array): { attributes: Attribute[]; end: number } {
  const text = (at: number) => {
    let end = at;
    while (end < bytes.length && bytes[end] !== 0) end++;
    return Buffer.from(bytes.subarray(at, end)).toString('latin1');
  };
  const view = viewOf(bytes);
  const attributes: Attribute[] = [];
  let at = 8;
  while (at < bytes.length && bytes[at] !== 0) {
    const name = text(at);
    const type = text(at + name.length + 1);
    const sizeAt = at + name.length + type.length + 2;
    if (sizeAt + 4 > bytes.length) break;
    const size = view.getInt32(sizeAt, true);
    attributes.push({ name, type, at: sizeAt + 4, size, sizeAt });
    at = sizeAt + 4 + Math.max(0, size);
  }
  return { attributes, end: at + 1 };
}

/** An EXR file with a changed header or chunk table. */
export function changedExr(given: Uint8Array, random: Random): Uint8Array {
  const bytes = Uint8Array.from(given);
  const view = viewOf(bytes);
  const { attributes, end } = exrHeader(bytes);
  const named = (name: string) => attributes.find((a) => a.name === name);
  const setInt = (at: number, value: number) => {
    if (at >= 0 && at + 4 <= bytes.length) view.setInt32(at, value | 0, true);
  };
  switch (random(9)) {
    case 0:
    case 1: {
      // A window: one of its corners, or all of them far out.
      const window = named(random(2) ? 'dataWindow' : 'displayWindow');
      if (!window) break;
      const corner = window.at + 4 * random(4);
      if (random(4) === 0) {
        const far = pick([2 ** 30, -(2 ** 30), 2 ** 31 - 200], random);
        for (let i = 0; i < 4; i++) setInt(window.at + 4 * i, far + (i > 1 ? 63 : 0));
      } else setInt(corner, another(view.getInt32(corner, true), random));
      break;
    }
    case 2: {
      const compression = named('compression');
      if (compression) bytes[compression.at] = random(12);
      const order = named('lineOrder');
      if (order && random(3) === 0) bytes[order.at] = random(4);
      break;
    }
    case 3: {
      // A channel's type, sampling or name; or channels that go on for ever.
      const channels = named('channels');
      if (!channels) break;
      const at = channels.at + random(Math.max(1, channels.size - 4));
      if (random(2)) bytes[at] = random(256);
      else setInt(at, pick(numbers, random));
      break;
    }
    case 4: {
      const tiles = named('tiles');
      if (tiles) {
        if (random(2)) setInt(tiles.at + 4 * random(2), pick(numbers, random));
        else bytes[tiles.at + 8] = random(256);
      } else bytes[5] ^= 1 << random(5);
      break;
    }
    case 5: {
      // The size of an attribute.
      const attribute = pick(attributes, random);
      if (attribute) setInt(attribute.sizeAt, another(attribute.size, random));
      break;
    }
    case 6: {
      // The table of chunks: shared, backward, far out.
      const count = Math.min(4 + random(60), Math.floor((bytes.length - end) / 8));
      if (count < 2) break;
      const [from, to] = [end + 8 * random(count), end + 8 * random(count)];
      const offset = view.getBigUint64(from, true);
      if (random(3) === 0) for (let i = 0; i < count; i++) view.setBigUint64(end + 8 * i, offset, true);
      else view.setBigUint64(to, random(2) ? offset : BigInt(pick(numbers, random) >>> 0), true);
      break;
    }
    case 7: {
      // A chunk's line or size.
      if (end + 8 > bytes.length) break;
      const chunk = Number(view.getBigUint64(end, true)) + 4 * random(3);
      if (chunk + 4 <= bytes.length) setInt(chunk, another(view.getInt32(chunk, true), random));
      break;
    }
    default: {
      // A second header like the first, or the file's flags.
      if (random(2))
        view.setUint32(4, 2 | (random(32) << 8) | (random(4) === 0 ? 1 << (16 + random(8)) : 0), true);
      else return joined(bytes.subarray(0, end), bytes.subarray(8));
    }
  }
  return bytes;
}

/** A PNG file with a changed chunk, checksums made to fit; or a small file that unpacks to a large one. */
export function changedPng(given: Uint8Array, random: Random): Uint8Array {
  const chunks: { type: string; data: Buffer }[] = [];
  const view = viewOf(given);
  for (let at = 8; at + 12 <= given.length; ) {
    const size = view.getUint32(at);
    const type = Buffer.from(given.subarray(at + 4, at + 8)).toString('latin1');
    chunks.push({ type, data: Buffer.from(given.subarray(at + 8, at + 8 + size)) });
    at += 12 + size;
  }
  const head = chunks.find((c) => c.type === 'IHDR');
  const body = chunks.find((c) => c.type === 'IDAT');
  switch (random(6)) {
    case 0:
    case 1:
      if (head && head.data.length >= 13) {
        if (random(2))
          head.data.writeUInt32BE(another(head.data.readUInt32BE(0), random) >>> 0, 4 * random(2));
        else head.data[8 + random(5)] = pick([0, 1, 2, 3, 4, 6, 8, 16, 255], random);
      }
      break;
    case 2:
      // A bomb: zeros without end for a picture that is within the limits.
      if (head && body) {
        head.data.writeUInt32BE(1 + random(4000), 0);
        head.data.writeUInt32BE(1 + random(4000), 4);
        body.data = deflateSync(Buffer.alloc(random(4 * 2 ** 20)), { level: 9 });
      }
      break;
    case 3:
      chunks.splice(random(chunks.length), 0, pick(chunks, random));
      break;
    case 4:
      chunks.splice(random(chunks.length), 1);
      break;
    default: {
      const { data } = pick(chunks, random);
      if (data.length > 0) data[random(data.length)] ^= 1 << random(8);
    }
  }
  const out: Uint8Array[] = [given.subarray(0, 8)];
  for (const { type, data } of chunks) {
    const whole = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const [size, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
    size.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc32(whole));
    out.push(size, whole, sum);
  }
  return joined(...out);
}

/** A TIFF file with a changed directory: counts, offsets, types, and directories that lead to themselves. */
export function changedTiff(given: Uint8Array, random: Random): Uint8Array {
  const bytes = Uint8Array.from(given);
  const view = viewOf(bytes);
  const little = bytes[0] === 0x49;
  if (bytes.length < 16 || view.getUint16(2, little) !== 42) return bytes;
  const directory = view.getUint32(4, little);
  if (directory + 2 > bytes.length) return bytes;
  const count = view.getUint16(directory, little);
  const entry = directory + 2 + 12 * random(Math.max(1, count));
  const next = directory + 2 + 12 * count;
  const set = (at: number, value: number) =>
    at + 4 <= bytes.length && view.setUint32(at, value >>> 0, little);
  switch (random(6)) {
    case 0:
      // In a circle.
      set(next, random(2) ? directory : 8);
      break;
    case 1:
      view.setUint16(directory, another(count, random) & 0xffff, little);
      break;
    case 2:
      if (entry + 12 <= bytes.length) view.setUint16(entry + 2, random(20), little);
      break;
    case 3:
      if (entry + 12 <= bytes.length) set(entry + 4, another(view.getUint32(entry + 4, little), random));
      break;
    case 4:
      set(4, another(directory, random));
      break;
    default:
      if (entry + 12 <= bytes.length) set(entry + 8, another(view.getUint32(entry + 8, little), random));
  }
  return bytes;
}

/** A JPEG file with changed segments: sizes, counts, scans that come again and again. */
export function changedJpeg(given: Uint8Array, random: Random): Uint8Array {
  const segments: { marker: number; at: number; size: number }[] = [];
  const view = viewOf(given);
  for (let at = 2; at + 4 <= given.length && given[at] === 0xff; ) {
    const size = view.getUint16(at + 2);
    segments.push({ marker: given[at + 1], at, size });
    if (given[at + 1] === 0xda) break;
    at += 2 + size;
  }
  const bytes = Uint8Array.from(given);
  const out = viewOf(bytes);
  const frame = segments.find((s) => s.marker >= 0xc0 && s.marker <= 0xc2);
  const scan = segments.find((s) => s.marker === 0xda);
  switch (random(5)) {
    case 0:
      if (frame)
        out.setUint16(frame.at + 5 + 2 * random(2), another(out.getUint16(frame.at + 5), random) & 0xffff);
      break;
    case 1:
      if (frame) bytes[frame.at + 4 + random(Math.max(1, frame.size - 2))] = random(256);
      break;
    case 2: {
      const segment = pick(segments, random);
      if (segment) out.setUint16(segment.at + 2, another(segment.size, random) & 0xffff);
      break;
    }
    case 3:
      if (scan && frame) {
        // The same scan many times over.
        if (random(2)) bytes[frame.at + 1] = 0xc2;
        const again = bytes.subarray(
          scan.at,
          Math.min(bytes.length - 2, scan.at + 2 + scan.size + random(400)),
        );
        const times = 1 + random(400);
        return joined(
          bytes.subarray(0, scan.at),
          ...Array.from({ length: times }, () => again),
          bytes.subarray(scan.at),
        );
      }
      break;
    default: {
      const segment = pick(segments, random);
      if (segment) {
        const at = segment.at + 4 + random(Math.max(1, segment.size - 2));
        if (at < bytes.length) bytes[at] = random(256);
      }
    }
  }
  return bytes;
}

/** A Radiance file with another size or other runs. */
export function changedHdr(given: Uint8Array, random: Random): Uint8Array {
  const text = Buffer.from(given).toString('latin1');
  const found = /([-+][XY]) (\d+) ([-+][XY]) (\d+)\n/.exec(text);
  if (!found || random(3) === 0) {
    const bytes = Uint8Array.from(given);
    const from = found ? found.index + found[0].length : 0;
    bytes[Math.min(bytes.length - 1, from + random(Math.max(1, bytes.length - from)))] = random(256);
    return bytes;
  }
  const [a, b] = [another(Number(found[2]), random), another(Number(found[4]), random)];
  const size = `${pick(['-Y', '+Y', '+X'], random)} ${a} ${pick(['+X', '-X', '-Y'], random)} ${b}\n`;
  const head = text.slice(0, found.index);
  const extra = random(4) === 0 ? `PRIMARIES=${'1e999 '.repeat(random(400))}\n` : '';
  return Buffer.from(
    head.replace(/\n\n$/, `\n${extra}\n`) + size + text.slice(found.index + found[0].length),
    'latin1',
  );
}

/** A JSON value with parts of it changed, doubled, nested deep or replaced by what nobody expects. */
export function changedJson(given: unknown, random: Random): unknown {
  const doc = structuredClone(given);
  const odd = (): unknown => {
    switch (random(12)) {
      case 0:
        return null;
      case 1:
        return pick([-1, 0, 1e308, -1e308, 1e-320, 0.1 + 0.2, 2 ** 53], random);
      case 2:
        return 'x'.repeat(random(5000));
      case 3: {
        let deep: unknown = 1;
        for (let i = random(1000); i > 0; i--) deep = random(2) ? [deep] : { head: deep };
        return deep;
      }
      case 4:
        return Array.from({ length: random(3000) }, (_, i) => i);
      case 5:
        return { __proto__: { polluted: true }, constructor: 1, toString: 2 };
      case 6:
        return ['__proto__', 'constructor', 'main', '', '\u0000', '\ud800'][random(6)];
      case 7:
        return random(2) === 0;
      case 8:
        return {};
      case 9:
        return [];
      default:
        return random(100);
    }
  };
  for (let k = 1 + random(3); k > 0; k--) {
    let at: unknown = doc;
    let parent: Record<string, unknown> | undefined;
    let key = '';
    while (typeof at === 'object' && at !== null && (parent === undefined || random(5) > 0)) {
      const keys = Object.keys(at);
      if (keys.length === 0) break;
      [parent, key] = [at as Record<string, unknown>, keys[random(keys.length)]];
      at = parent[key];
    }
    if (!parent) return odd();
    switch (random(5)) {
      case 0:
        delete parent[key];
        break;
      case 1:
        if (Array.isArray(parent)) parent.push(...parent.slice(0, 50));
        else parent[`${key}${random(3)}`] = parent[key];
        break;
      case 2:
        // Two things of one name, or one that refers to itself.
        if (typeof at === 'string') parent[key] = pick(['main', 'finish', 'bloom', `${at}x`, at], random);
        else parent[key] = odd();
        break;
      case 3:
        if (typeof at === 'number') parent[key] = another(at, random) / (random(2) ? 1 : 7);
        else parent[key] = odd();
        break;
      default:
        parent[key] = odd();
    }
  }
  return doc;
}

/** Text made of pieces that mean something to who reads it, mostly in an order that does not. */
export function jumbled(pieces: readonly string[], most: number, random: Random): string {
  let text = '';
  for (let k = random(most); k > 0; k--) {
    const piece = pick(pieces, random);
    text += random(8) === 0 ? piece.repeat(1 + random(40)) : piece;
  }
  return text;
}
