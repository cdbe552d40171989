import { boxHeight, boxWidth } from '../formats/exr/types';
import type { PassKind } from '../formats/pass-kinds';
import type { PassPlanes } from '../formats/pass-picture';
import { floatsOf } from '../formats/samples';

/** Statistics of a pass. */
export type PassContent = {
  /** Least and largest finite value of each channel; null where none is finite. */
  ranges: ([number, number] | null)[];
  /** The 1st and 99th of a hundred parts of the first channel's finite values, for scaling a picture of it. */
  middle: [number, number] | null;
  /** Shares of pixels of the display window: all channels 0, or outside of what the file holds; of its own pixels: any channel not finite. */
  empty: number;
  notFinite: number;
  /** Ids in it, the first thousand: bits of an id-matte's floats, or numbers as they are. */
  ids?: number[];
};

export const mostIds = 1000;

/** Values above 0 that differ. */
function idsIn(planes: ArrayLike<number>[]): number[] {
  const seen = new Set<number>();
  for (const plane of planes) {
    let last = 0;
    for (let i = 0; i < plane.length && seen.size < mostIds; i++) {
      const v = plane[i];
      if (v === last || v === 0) continue;
      last = v;
      seen.add(v);
    }
  }
  return [...seen];
}

/** The value below which `share` of the sorted values lie. */
const percentile = (sorted: Float32Array, share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];

/** Pixels of the display window that the data window covers, and those that it leaves out. */
function inDisplay({ dataWindow: d, displayWindow: w }: Pick<PassPlanes, 'dataWindow' | 'displayWindow'>) {
  const width = boxWidth(d);
  const isSeen = (i: number) => {
    const [x, y] = [d.xMin + (i % width), d.yMin + Math.floor(i / width)];
    return x >= w.xMin && x <= w.xMax && y >= w.yMin && y <= w.yMax;
  };
  const across = Math.max(0, Math.min(d.xMax, w.xMax) - Math.max(d.xMin, w.xMin) + 1);
  const down = Math.max(0, Math.min(d.yMax, w.yMax) - Math.max(d.yMin, w.yMin) + 1);
  const whole = boxWidth(w) * boxHeight(w);
  return { isSeen, whole, outside: whole - across * down };
}

/** What is in a pass, over the file's data window and the display window around it. */
export function passContent({
  pass,
  planes,
  dataWindow,
  displayWindow,
}: Pick<PassPlanes, 'pass' | 'planes' | 'dataWindow' | 'displayWindow'>): PassContent {
  const channels = planes.map((p, i) => floatsOf(p, pass.types[i]));
  const count = channels[0]?.length ?? 0;
  const ranges = channels.map((values): [number, number] | null => {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = 0; i < values.length; i++) {
      const v = values[i];
      if (v - v !== 0) continue;
      if (v < low) low = v;
      if (v > high) high = v;
    }
    return low <= high ? [low, high] : null;
  });
  const { isSeen, whole, outside } = inDisplay({ dataWindow, displayWindow });
  let [empty, notFinite] = [outside, 0];
  for (let i = 0; i < count; i++) {
    let [zero, finite] = [true, true];
    for (const values of channels) {
      const v = values[i];
      if (v !== 0) zero = false;
      if (v - v !== 0) finite = false;
    }
    if (zero && isSeen(i)) empty++;
    if (!finite) notFinite++;
  }
  // Every so many values are enough for a percentile that only scales a picture.
  const stride = Math.max(1, Math.floor(count / 50_000));
  const sample: number[] = [];
  for (let i = 0; i < count; i += stride) if (Number.isFinite(channels[0][i])) sample.push(channels[0][i]);
  const sorted = Float32Array.from(sample).sort();
  const content: PassContent = {
    ranges,
    middle: sorted.length ? [percentile(sorted, 0.01), percentile(sorted, 0.99)] : null,
    empty: whole ? empty / whole : 0,
    notFinite: count ? notFinite / count : 0,
  };
  if (pass.kind === 'id') content.ids = idsIn([planes[0]]);
  if (pass.kind === 'id-matte') {
    // Ranks in pairs of id and coverage: the ids' bits.
    const ranks = channels.filter((_, i) => i % 2 === 0);
    content.ids = idsIn(ranks.map((r) => new Uint32Array(r.buffer, r.byteOffset, r.length)));
  }
  return content;
}

/** A distinct, steady colour for an id: the golden angle around the hue circle, by a hash of its bits. */
function idColour(id: number): [number, number, number] {
  if (id === 0) return [0, 0, 0];
  const turn = (Math.imul(id | 0, 0x9e3779b1) >>> 0) / 2 ** 32;
  const light = 0.35 + 0.3 * ((Math.imul(id | 0, 0x85ebca6b) >>> 24) / 255);
  const part = (shift: number) => {
    const t = Math.abs(((turn + shift) % 1) * 6 - 3) - 1;
    return light + (Math.max(0, Math.min(1, t)) - 0.5) * 0.5;
  };
  return [part(0), part(1 / 3), part(2 / 3)];
}

const bits = new Uint32Array(1);
const real = new Float32Array(bits.buffer);

/**
 * A pass as a picture one can read: sRGB bytes RGBA over the data window, for passes that are not pictures themselves.
 * Depth bright near and dark far, by its own percentiles; normals and motion as directions; ids as flat colours; what is not
 * finite in magenta.
 */
export function pictureOfData(frame: PassPlanes, content: PassContent): Uint8ClampedArray<ArrayBuffer> {
  const { pass, planes } = frame;
  const channels = planes.map((p, i) => floatsOf(p, pass.types[i]));
  const count = channels[0].length;
  const out = new Uint8ClampedArray(count * 4);
  const show = painterOf(pass.kind, content);
  const values = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    for (let c = 0; c < 3; c++) values[c] = channels[c]?.[i] ?? 0;
    const id = planes[0][i];
    const odd = values.some((v) => !Number.isFinite(v)) && pass.kind !== 'depth' && pass.kind !== 'id-matte';
    const [r, g, b] = odd ? [1, 0, 1] : show(values, id, channels.length);
    out[i * 4] = r * 255;
    out[i * 4 + 1] = g * 255;
    out[i * 4 + 2] = b * 255;
    out[i * 4 + 3] = 255;
  }
  return out;
}

type Painter = (values: number[], id: number, channels: number) => readonly [number, number, number];

function painterOf(kind: PassKind, { middle, ranges }: PassContent): Painter {
  const [low, high] = middle ?? [0, 1];
  const span = high - low || 1;
  switch (kind) {
    case 'depth':
      // Logarithmic where it spans much: what is near has most to tell.
      return ([z]) => {
        if (!Number.isFinite(z)) return [0.02, 0.03, 0.06];
        const t =
          low > 0 && high / low > 4
            ? Math.log(Math.max(z, low) / low) / Math.log(high / low)
            : (z - low) / span;
        const v = 1 - 0.95 * Math.max(0, Math.min(1, t));
        return [v, v, v];
      };
    case 'normal':
      return ([x, y, z]) => [x / 2 + 0.5, y / 2 + 0.5, z / 2 + 0.5];
    case 'motion': {
      const most = Math.max(...ranges.map((r) => (r ? Math.max(-r[0], r[1]) : 0))) || 1;
      return ([x, y]) => [0.5 + x / most / 2, 0.5 + y / most / 2, 0.5];
    }
    case 'position':
      return (v) => {
        const part = (c: number) => {
          const r = ranges[c] ?? [0, 1];
          return (v[c] - r[0]) / (r[1] - r[0] || 1);
        };
        return [part(0), part(1), part(2)];
      };
    case 'id':
    case 'id-matte':
      return (_, id) => {
        if (Number.isInteger(id) && kind === 'id') return idColour(id);
        real[0] = id;
        return idColour(bits[0]);
      };
    default:
      return (v, _, n) => {
        const part = (c: number) => Math.max(0, Math.min(1, (v[n === 1 ? 0 : c] - low) / span));
        return [part(0), part(1), part(2)];
      };
  }
}
