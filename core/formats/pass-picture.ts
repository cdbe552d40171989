import { decodeTable, decodeValue, type Encoding } from '../colour/encoding';
import type { Matrix } from '../colour/primaries';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';
import { type Box, boxHeight, boxWidth } from './exr/types';
import { floatBitsOfHalf } from './half';
import type { Pass } from './passes';
import { floatsOf, mapped, type Plane, type SampleType } from './samples';

/** How a pass's numbers become scene-linear, premultiplied Rec. 709. */
export type Colour = {
  encoding: Encoding;
  /** Colour is stored undivided by alpha and is multiplied on the way in. */
  straight: boolean;
  /** From the file's primaries to Rec. 709. */
  matrix?: Matrix;
  /** Weights of red, green and blue in Y, where the file holds Y, RY and BY. */
  luma?: readonly number[];
};
export const asIs: Colour = { encoding: 'linear', straight: false };

/** A pass as it came from a file: planes over the data window, in the order of `pass.channels`. */
export type PassPlanes = { pass: Pass; planes: Plane[]; dataWindow: Box; displayWindow: Box; colour: Colour };

/** Light of a colour channel; data and EXR files are taken as they are. */
export function lightOf(plane: Plane, type: SampleType, encoding: Encoding): Float32Array {
  if (encoding === 'linear') return floatsOf(plane, type);
  if (type === 'uint8' || type === 'uint16') {
    const table = decodeTable(encoding, type === 'uint8' ? 255 : 65535);
    return mapped(plane, (v) => table[v]);
  }
  return floatsOf(plane, type).map((v) => (Number.isFinite(v) ? decodeValue(encoding, v) : v));
}

/** Y, RY = (R − Y)/Y, BY = (B − Y)/Y to R, G, B ("Technical Introduction to OpenEXR", luminance/chroma images). */
function fromLuma([y, ry, by]: Float32Array[], [wr, wg, wb]: readonly number[]): Float32Array[] {
  const red = y.map((v, i) => (ry[i] + 1) * v);
  const blue = y.map((v, i) => (by[i] + 1) * v);
  return [red, y.map((v, i) => (v - red[i] * wr - blue[i] * wb) / wg), blue];
}

/** Samples that are light as they stand, one after the other into every fourth number of a picture's rows. */
function place(plane: Plane, row: number, count: number, out: Float32Array, words: Uint32Array, to: number) {
  if (plane instanceof Uint16Array)
    for (let i = row, o = to; i < row + count; i++, o += 4) words[o] = floatBitsOfHalf(plane[i]);
  else for (let i = row, o = to; i < row + count; i++, o += 4) out[o] = plane[i];
}

/** The bits of 1. */
const one = 0x3f800000;

/** A row of halves, pixel by pixel: what is written then lies in order. */
function placeHalves(
  red: Uint16Array,
  green: Uint16Array,
  blue: Uint16Array,
  alpha: Uint16Array | undefined,
  row: number,
  count: number,
  words: Uint32Array,
  to: number,
) {
  for (let i = row, o = to; i < row + count; i++, o += 4) {
    words[o] = floatBitsOfHalf(red[i]);
    words[o + 1] = floatBitsOfHalf(green[i]);
    words[o + 2] = floatBitsOfHalf(blue[i]);
    words[o + 3] = alpha ? floatBitsOfHalf(alpha[i]) : one;
  }
}

/**
 * The picture of a pass in its display window, outside the data window transparent black. Three channels get alpha 1 inside
 * the data window; one channel is grey with alpha 1, or white under alpha where it is an alpha pass.
 */
export function passPicture(
  workspace: Workspace,
  { pass, planes, dataWindow: data, displayWindow: display, colour }: PassPlanes,
): Picture {
  const [width, height] = [boxWidth(display), boxHeight(display)];
  const covers =
    data.xMin <= display.xMin &&
    data.yMin <= display.yMin &&
    data.xMax >= display.xMax &&
    data.yMax >= display.yMax;
  const picture = covers ? workspace.picture(width, height) : workspace.blank(width, height);
  const { encoding, straight, matrix } = colour;
  const grey = pass.channels.length <= 2 && /(^|\.)Y$/.test(pass.channels[0]);
  const alphaAt = grey ? 1 : 3;
  const used = planes.slice(0, 4);
  const [x0, x1] = [Math.max(data.xMin, display.xMin), Math.min(data.xMax, display.xMax)];
  const source = boxWidth(data);
  const { data: out } = picture;
  const asStored =
    encoding === 'linear' &&
    !straight &&
    !matrix &&
    !colour.luma &&
    !grey &&
    used.length !== 2 &&
    pass.types.every((t) => t === 'half' || t === 'float');
  if (asStored) {
    // Most passes of most files: nothing to compute, so each sample is moved once.
    const words = new Uint32Array(out.buffer, out.byteOffset, out.length);
    const alpha = used[3] ?? (used.length === 1 && pass.kind === 'alpha' ? used[0] : undefined);
    const colours = used.length === 1 ? [used[0], used[0], used[0]] : used.slice(0, 3);
    const [red, green, blue] = colours;
    for (let y = Math.max(data.yMin, display.yMin); y <= Math.min(data.yMax, display.yMax); y++) {
      const row = (y - data.yMin) * source + x0 - data.xMin;
      const to = ((y - display.yMin) * width + x0 - display.xMin) * 4;
      const count = x1 - x0 + 1;
      if (
        red instanceof Uint16Array &&
        green instanceof Uint16Array &&
        blue instanceof Uint16Array &&
        (alpha === undefined || alpha instanceof Uint16Array)
      ) {
        placeHalves(red, green, blue, alpha, row, count, words, to);
        continue;
      }
      colours.forEach((plane, c) => {
        place(plane, row, count, out, words, to + c);
      });
      if (alpha) place(alpha, row, count, out, words, to + 3);
      else for (let o = to + 3, end = to + count * 4; o < end; o += 4) out[o] = 1;
    }
    return picture;
  }
  let values = used.map((p, i) => lightOf(p, pass.types[i], i === alphaAt ? 'linear' : encoding));
  if (colour.luma && values.length >= 3) values = [...fromLuma(values, colour.luma), ...values.slice(3)];
  if (grey) values = [values[0], values[0], values[0], ...values.slice(1)];
  const single = values.length === 1;
  const [first, second, third, fourth] = values;
  for (let y = Math.max(data.yMin, display.yMin); y <= Math.min(data.yMax, display.yMax); y++) {
    let from = (y - data.yMin) * source + x0 - data.xMin;
    let to = ((y - display.yMin) * width + x0 - display.xMin) * 4;
    for (let x = x0; x <= x1; x++, from++, to += 4) {
      const a = first[from];
      let r = a;
      let g = single ? a : second[from];
      let b = single ? a : third ? third[from] : 0;
      const alpha = fourth ? fourth[from] : pass.kind === 'alpha' && single ? a : 1;
      if (matrix) {
        const m = matrix;
        const [r0, g0, b0] = [r, g, b];
        r = m[0] * r0 + m[1] * g0 + m[2] * b0;
        g = m[3] * r0 + m[4] * g0 + m[5] * b0;
        b = m[6] * r0 + m[7] * g0 + m[8] * b0;
      }
      out[to] = straight ? r * alpha : r;
      out[to + 1] = straight ? g * alpha : g;
      out[to + 2] = straight ? b * alpha : b;
      out[to + 3] = alpha;
    }
  }
  return picture;
}
