import { decodeTable, decodeValue, type Encoding } from '../colour/encoding';
import type { Matrix } from '../colour/primaries';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';
import { type Box, boxHeight, boxWidth } from './exr/types';
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

/** Rows that a thread places at a time. */
const rowPiece = 32;

/** How samples become light: as they stand, or codes by tables, and then times alpha where that was not done. */
type Codes = { light: Float32Array; share: Float32Array; straight: boolean };

/** Places samples, a plane a channel, where the data window and the picture overlap. */
function place(
  workspace: Workspace,
  picture: Picture,
  planes: readonly (Plane | undefined)[],
  data: Box,
  display: Box,
  codes?: Codes,
) {
  const { buffer } = workspace.runtime.arena.memory;
  const laid = new Map<Plane, number>();
  const addressOf = (plane: Plane | undefined): number => {
    if (!plane) return 0;
    const known = laid.get(plane);
    if (known !== undefined) return known;
    // Kernels read four samples at a time, and may read behind the last.
    const at = workspace.bytes(plane.byteLength + 16);
    new Uint8Array(buffer, at, plane.byteLength).set(
      new Uint8Array(plane.buffer, plane.byteOffset, plane.byteLength),
    );
    laid.set(plane, at);
    return at;
  };
  const [red, green, blue, alpha] = planes.map(addressOf);
  const [x0, x1] = [Math.max(data.xMin, display.xMin), Math.min(data.xMax, display.xMax)];
  const [y0, y1] = [Math.max(data.yMin, display.yMin), Math.min(data.yMax, display.yMax)];
  const [source, width] = [boxWidth(data), picture.width];
  const where = {
    out: picture.at,
    red,
    green,
    blue,
    alpha,
    source,
    first: (y0 - data.yMin) * source + x0 - data.xMin,
    width,
    start: (y0 - display.yMin) * width + x0 - display.xMin,
    count: x1 - x0 + 1,
  };
  const [rows, isSome] = [y1 - y0 + 1, x1 >= x0 && y1 >= y0];
  const { runtime } = workspace;
  if (isSome && codes) {
    const [light, share] = [workspace.floats(codes.light), workspace.floats(codes.share)];
    const wide = planes[0] instanceof Uint16Array ? 1 : 0;
    const straight = codes.straight ? 1 : 0;
    runtime.run('placeCodes', rows, rowPiece, { ...where, light, share, wide, straight });
    workspace.drop(light);
    workspace.drop(share);
  } else if (isSome) {
    const halves = planes.reduce((bits, p, c) => bits | (p instanceof Uint16Array ? 1 << c : 0), 0);
    runtime.run('placeSamples', rows, rowPiece, { ...where, halves });
  }
  for (const at of laid.values()) workspace.drop(at);
}

/** A channel that is not there: code 0 is no light in every encoding. */
const noLight = (like: Plane): Plane =>
  like instanceof Uint8Array ? new Uint8Array(like.length) : new Uint16Array(like.length);

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
    const alpha = used[3] ?? (used.length === 1 && pass.kind === 'alpha' ? used[0] : undefined);
    const colours = used.length === 1 ? [used[0], used[0], used[0]] : used.slice(0, 3);
    place(workspace, picture, [...colours, alpha], data, display);
    return picture;
  }
  const [type] = pass.types;
  if (
    (type === 'uint8' || type === 'uint16') &&
    pass.types.every((t) => t === type) &&
    !matrix &&
    !colour.luma
  ) {
    const [first, second, third, fourth] = used;
    const single = used.length === 1;
    const isShare = single && !grey && pass.kind === 'alpha';
    const colours = single || grey ? [first, first, first] : [first, second, third ?? noLight(first)];
    const alpha = grey ? second : isShare ? first : fourth;
    const most = type === 'uint8' ? 255 : 65535;
    const light = decodeTable(encoding, most);
    const share = isShare ? light : decodeTable('linear', most);
    place(workspace, picture, [...colours, alpha], data, display, { light, share, straight });
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
