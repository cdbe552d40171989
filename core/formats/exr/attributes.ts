import { CutShort, FileError } from '../file-error';
import { limits } from '../limits';
import type { Attribute, Box, Channel } from './types';
import { pixelTypes } from './types';

const latin = new TextDecoder('utf-8');
const utf8 = new TextEncoder();

/** Reads little-endian values; an error names the byte at which the file ends too early. */
export class ByteReader {
  private readonly view: DataView;
  constructor(
    readonly bytes: Uint8Array,
    public at = 0,
    private readonly end = bytes.length,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }
  /** Moves over `count` bytes and returns where they begin. */
  take(count: number, what: string): number {
    const from = this.at;
    if (count < 0 || from + count > this.end) {
      throw new CutShort(`The file ends inside ${what}`, Math.min(from, this.end));
    }
    this.at = from + count;
    return from;
  }
  byte = (what: string) => this.bytes[this.take(1, what)];
  int = (what: string) => this.view.getInt32(this.take(4, what), true);
  uint = (what: string) => this.view.getUint32(this.take(4, what), true);
  float = (what: string) => this.view.getFloat32(this.take(4, what), true);
  double = (what: string) => this.view.getFloat64(this.take(8, what), true);
  /** A 64-bit file offset; files past 2^53 bytes do not exist. */
  offset(what: string): number {
    const from = this.take(8, what);
    return this.view.getUint32(from, true) + this.view.getUint32(from + 4, true) * 2 ** 32;
  }
  slice = (count: number, what: string) => this.bytes.slice(this.take(count, what), this.at);
  text = (count: number, what: string) => latin.decode(this.slice(count, what));
  /** A zero-terminated name of at most 255 bytes. */
  name(what: string): string {
    const from = this.at;
    const stop = Math.min(from + 256, this.end);
    for (let i = from; i < stop; i++) {
      if (this.bytes[i] === 0) {
        this.at = i + 1;
        return latin.decode(this.bytes.subarray(from, i));
      }
    }
    if (stop === this.end) throw new CutShort(`The file ends inside ${what}`, from);
    throw new FileError(`${what} is longer than 255 bytes`, from);
  }
}

/** Grows as values are appended, little-endian. */
export class ByteWriter {
  private bytes = new Uint8Array(4096);
  private view = new DataView(this.bytes.buffer);
  length = 0;
  private grow(count: number): number {
    const from = this.length;
    this.length += count;
    if (this.length > this.bytes.length) {
      const larger = new Uint8Array(Math.max(this.length, this.bytes.length * 2));
      larger.set(this.bytes.subarray(0, from));
      this.bytes = larger;
      this.view = new DataView(larger.buffer);
    }
    return from;
  }
  // Room first: growing replaces the view and the bytes.
  private put(count: number, set: (view: DataView, at: number) => void) {
    const at = this.grow(count);
    set(this.view, at);
  }
  byte = (v: number) => this.put(1, (view, at) => view.setUint8(at, v));
  int = (v: number) => this.put(4, (view, at) => view.setInt32(at, v, true));
  uint = (v: number) => this.put(4, (view, at) => view.setUint32(at, v, true));
  float = (v: number) => this.put(4, (view, at) => view.setFloat32(at, v, true));
  double = (v: number) => this.put(8, (view, at) => view.setFloat64(at, v, true));
  raw(v: Uint8Array) {
    const at = this.grow(v.length);
    this.bytes.set(v, at);
  }
  text = (v: string) => this.raw(utf8.encode(v));
  name(v: string) {
    this.text(v);
    this.byte(0);
  }
  setOffset(at: number, v: number) {
    this.view.setUint32(at, v >>> 0, true);
    this.view.setUint32(at + 4, Math.floor(v / 2 ** 32), true);
  }
  done = () => this.bytes.slice(0, this.length);
}

const vectors: Record<string, { count: number; as: 'int' | 'uint' | 'float' }> = {
  v2i: { count: 2, as: 'int' },
  v2f: { count: 2, as: 'float' },
  v3i: { count: 3, as: 'int' },
  v3f: { count: 3, as: 'float' },
  m33f: { count: 9, as: 'float' },
  m44f: { count: 16, as: 'float' },
  chromaticities: { count: 8, as: 'float' },
  box2f: { count: 4, as: 'float' },
  timecode: { count: 2, as: 'uint' },
  keycode: { count: 7, as: 'int' },
};

export function readBox(r: ByteReader, what: string): Box {
  return { xMin: r.int(what), yMin: r.int(what), xMax: r.int(what), yMax: r.int(what) };
}

export function writeBox(w: ByteWriter, b: Box) {
  for (const v of [b.xMin, b.yMin, b.xMax, b.yMax]) w.int(v);
}

/** The value of attribute `name` of `type` and `size` bytes at the reader's place. */
export function readAttribute(r: ByteReader, name: string, type: string, size: number): Attribute {
  const what = `attribute ${name}`;
  const from = r.at;
  r.take(size, what);
  const inside = new ByteReader(r.bytes, from, from + size);
  const vector = vectors[type];
  if (vector)
    return { type, value: Array.from({ length: vector.count }, () => inside[vector.as](what)) } as Attribute;
  switch (type) {
    case 'string':
      return { type, value: inside.text(size, what) };
    case 'stringvector': {
      const value: string[] = [];
      while (inside.at < from + size) value.push(inside.text(inside.int(what), what));
      return { type, value };
    }
    case 'int':
    case 'float':
    case 'double':
      return { type, value: inside[type](what) };
    case 'rational':
      return { type, value: [inside.int(what), inside.uint(what)] };
    case 'box2i':
      return { type, value: readBox(inside, what) };
    default:
      return { type: 'opaque', of: type, value: inside.slice(size, what) };
  }
}

/** Writes `name`, type, size and value. */
export function writeAttribute(w: ByteWriter, name: string, attribute: Attribute) {
  const body = new ByteWriter();
  const vector = vectors[attribute.type];
  if (vector) for (const v of attribute.value as number[]) body[vector.as](v);
  else {
    switch (attribute.type) {
      case 'string':
        body.text(attribute.value);
        break;
      case 'stringvector':
        for (const line of attribute.value) {
          const bytes = utf8.encode(line);
          body.int(bytes.length);
          body.raw(bytes);
        }
        break;
      case 'int':
      case 'float':
      case 'double':
        body[attribute.type](attribute.value);
        break;
      case 'rational':
        body.int(attribute.value[0]);
        body.uint(attribute.value[1]);
        break;
      case 'box2i':
        writeBox(body, attribute.value);
        break;
      case 'opaque':
        body.raw(attribute.value);
        break;
    }
  }
  writeRaw(w, name, attribute.type === 'opaque' ? attribute.of : attribute.type, body.done());
}

export function writeRaw(w: ByteWriter, name: string, type: string, body: Uint8Array) {
  w.name(name);
  w.name(type);
  w.int(body.length);
  w.raw(body);
}

export function readChannelList(r: ByteReader, size: number): Channel[] {
  const what = 'the channel list';
  const from = r.at;
  r.take(size, what);
  const inside = new ByteReader(r.bytes, from, from + size);
  const channels: Channel[] = [];
  for (;;) {
    const name = inside.name('a channel name');
    if (name === '') return channels;
    const typeAt = inside.at;
    const type = pixelTypes[inside.int(what)];
    if (!type) throw new FileError(`Channel ${name} has an unknown sample type`, typeAt);
    const linear = inside.byte(what) !== 0;
    inside.take(3, what);
    const [xSampling, ySampling] = [inside.int(what), inside.int(what)];
    if (xSampling < 1 || ySampling < 1)
      throw new FileError(`Channel ${name} has a sampling below 1`, typeAt + 8);
    if (channels.length >= limits.channels)
      throw new FileError(
        `The file has more than ${limits.channels} channels`,
        typeAt,
        'Write fewer passes into one file.',
        'too-large',
      );
    channels.push({ name, type, linear, xSampling, ySampling });
  }
}

export function writeChannelList(w: ByteWriter, channels: Channel[]) {
  for (const c of channels) {
    w.name(c.name);
    w.int(pixelTypes.indexOf(c.type));
    w.byte(c.linear ? 1 : 0);
    for (let i = 0; i < 3; i++) w.byte(0);
    w.int(c.xSampling);
    w.int(c.ySampling);
  }
  w.byte(0);
}
