import { CutShort, FileError } from './file-error';
import { checkSize, defaultLimits, type Limits } from './limits';

/**
 * Radiance pictures (Ward, *Real Pixels*, Graphics Gems II, 1991; the file format's reference manual): three mantissas and a
 * common exponent a pixel, flat or in run lengths, old or new, in any of the eight orientations.
 */
export type Hdr = {
  width: number;
  height: number;
  /** True where the three numbers are CIE XYZ instead of red, green, blue. */
  xyz: boolean;
  /** Light of each channel, top row first, left to right. */
  planes: [Float32Array, Float32Array, Float32Array];
  attributes: Record<string, string>;
  /** Rows that are there; fewer than `height` where the file is cut short. */
  rows: number;
};

const longestLine = 2048;

type HdrHead = Pick<Hdr, 'width' | 'height' | 'xyz' | 'attributes'> & {
  /** The file's rows run along y, downwards, rightwards. */
  rowsAreY: boolean;
  down: boolean;
  right: boolean;
  exposure: number;
  at: number;
};

/** @throws {FileError} for a header that is invalid or is past `limits`. */
export function readHdrHead(bytes: Uint8Array, limits: Limits = defaultLimits): HdrHead {
  let at = 0;
  const line = (): string => {
    const from = at;
    while (at < bytes.length && bytes[at] !== 10) {
      if (at - from > longestLine) throw new FileError('A line of the header is too long', from);
      at++;
    }
    if (at >= bytes.length) throw new CutShort('The file ends inside its header', from);
    return new TextDecoder().decode(bytes.subarray(from, at++)).replace(/\r$/, '');
  };
  const attributes: Record<string, string> = {};
  let exposure = 1;
  let xyz = false;
  line();
  for (let text = line(); text !== ''; text = line()) {
    const [key, value] = text.split(/=(.*)/);
    if (value === undefined) continue;
    attributes[key.trim()] = value.trim();
    if (key === 'FORMAT') {
      if (!/^32-bit_rle_(rgbe|xyze)$/.test(value.trim()))
        throw new FileError(`The pixel format ${value} is not known`, at);
      xyz = value.includes('xyze');
    }
    // Several of them multiply.
    if (key === 'EXPOSURE' && Number(value) > 0) exposure *= Number(value);
  }
  const size = line();
  const found = /^([-+])([YX]) (\d+) ([-+])([YX]) (\d+)\s*$/.exec(size);
  if (!found || found[2] === found[5]) throw new FileError('The line with the size is invalid', at);
  const rowsAreY = found[2] === 'Y';
  const [outer, inner] = [Number(found[3]), Number(found[6])];
  const [width, height] = rowsAreY ? [inner, outer] : [outer, inner];
  const [ySign, xSign] = rowsAreY ? [found[1], found[4]] : [found[4], found[1]];
  checkSize('size', width, height, limits, at);
  return {
    width,
    height,
    xyz,
    attributes,
    rowsAreY,
    down: ySign === '-',
    right: xSign === '+',
    exposure,
    at,
  };
}

/** Fills `row` with the 4 bytes of each of `length` pixels; gives the place behind them, or -1 where the file ends. */
function readRow(bytes: Uint8Array, from: number, length: number, row: Uint8Array): number {
  let at = from;
  const isNew =
    length >= 8 &&
    length < 32768 &&
    bytes[at] === 2 &&
    bytes[at + 1] === 2 &&
    (bytes[at + 2] << 8) + bytes[at + 3] === length;
  if (isNew) {
    at += 4;
    for (let c = 0; c < 4; c++) {
      for (let i = 0; i < length; ) {
        if (at + 1 >= bytes.length) return -1;
        const code = bytes[at++];
        const count = code > 128 ? code - 128 : code;
        if (count === 0 || i + count > length) throw new FileError('A run of a row does not fit', at - 1);
        if (code > 128) {
          for (let k = 0; k < count; k++) row[(i + k) * 4 + c] = bytes[at];
          at++;
        } else {
          if (at + count > bytes.length) return -1;
          for (let k = 0; k < count; k++) row[(i + k) * 4 + c] = bytes[at + k];
          at += count;
        }
        i += count;
      }
    }
    return at;
  }
  // Flat, or old runs: a pixel 1, 1, 1, n repeats the one before n times; runs in a row shift their counts by 8 bits.
  let shift = 0;
  for (let i = 0; i < length; ) {
    if (at + 4 > bytes.length) return -1;
    if (bytes[at] === 1 && bytes[at + 1] === 1 && bytes[at + 2] === 1) {
      const count = bytes[at + 3] * 2 ** shift;
      if (i === 0 || i + count > length) throw new FileError('A run of a row does not fit', at);
      for (let k = 0; k < count; k++, i++) row.copyWithin(i * 4, i * 4 - 4, i * 4);
      shift += 8;
      if (shift > 24) throw new FileError('A run of a row does not fit', at);
    } else {
      row.set(bytes.subarray(at, at + 4), i * 4);
      i++;
      shift = 0;
    }
    at += 4;
  }
  return at;
}

/**
 * The whole picture; a file cut short gives the rows that are there.
 * @throws {FileError}
 */
export function readHdr(bytes: Uint8Array, limits: Limits = defaultLimits): Hdr {
  const head = readHdrHead(bytes, limits);
  const { width, height, rowsAreY, down, right, exposure } = head;
  const [outer, inner] = rowsAreY ? [height, width] : [width, height];
  // A row of pixels takes some bytes at least, so a size out of nowhere takes no memory.
  if (bytes.length - head.at < outer) throw new CutShort('The file ends before its pixels', bytes.length);
  const planes = [0, 1, 2].map(() => new Float32Array(width * height)) as Hdr['planes'];
  const row = new Uint8Array(inner * 4);
  let rows = 0;
  for (let at = head.at; rows < outer; rows++) {
    at = readRow(bytes, at, inner, row);
    if (at < 0) break;
    const line = (rowsAreY ? down : right) ? rows : outer - 1 - rows;
    for (let i = 0; i < inner; i++) {
      const along = (rowsAreY ? right : down) ? i : inner - 1 - i;
      const to = rowsAreY ? line * width + along : along * width + line;
      const e = row[i * 4 + 3];
      const scale = e === 0 ? 0 : 2 ** (e - 136) / exposure;
      for (let c = 0; c < 3; c++) planes[c][to] = row[i * 4 + c] * scale;
    }
  }
  if (rows === 0) throw new CutShort('The file ends before its first row', bytes.length);
  return { width, height, xyz: head.xyz, planes, attributes: head.attributes, rows };
}
