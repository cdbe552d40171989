/** Kernels on mattes: planes of one float a pixel, 0 to 1. `lo` … `hi` counts pixels. */
import { gather } from './fours';
import { power01 } from './power';
import { clamp01, F, finite, L, sp, st } from './vector';

// @ts-expect-error: decorator
@inline function put(d: usize, i: i32, v: f32): void { store<f32>(d + <usize>i * 4, v); }
// @ts-expect-error: decorator
@inline function at(s: usize, i: i32): f32 { return F(s + <usize>i * 4); }

/** RGBA: (r, g, b, a) times the matte, plus `opaque` in alpha. */
export function ofPlane(out: usize, plane: usize, red: f32, green: f32, blue: f32, premultiplied: f32, opaque: f32, lo: i32, hi: i32, scratch: usize): void {
  const c = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(red), 1, green), 2, blue), 3, premultiplied);
  const add = f32x4.replace_lane(sp(0), 3, opaque);
  for (let i = lo; i < hi; i++) st(out + <usize>i * 16, f32x4.add(f32x4.mul(c, sp(at(plane, i))), add));
}

/** One channel of a picture. */
export function toPlane(out: usize, from: usize, channel: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) put(out, i, F(from + <usize>i * 16 + <usize>channel * 4));
}

/** d = a + (b − a) · where · amount; a bit for bit where that is 0, b where it is 1. */
export function mixPlanes(out: usize, before: usize, after: usize, mask: usize, amount: f32, invert: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    let k: f32 = mask ? at(mask, i) : 1;
    if (invert && mask) k = 1 - k;
    k *= amount;
    const x = at(before, i), y = at(after, i);
    put(out, i, k == 0 ? x : k == 1 ? y : x + (y - x) * k);
  }
}

/** Black and white point, gamma, and the complement. */
export function levels(out: usize, from: usize, black: f32, white: f32, gamma: f32, invert: i32, lo: i32, hi: i32, scratch: usize): void {
  const span = white - black, power: f32 = 1 / gamma;
  for (let i = lo; i < hi; i++) {
    const v = at(from, i);
    let x: f32 = span > 0 ? clamp01((v - black) / span) : v > black ? 1 : 0;
    if (gamma != 1 && x > 0 && x < 1) x = power01(x, power);
    put(out, i, invert ? 1 - x : x);
  }
}

/** 0 union, 1 intersection, 2 product, 3 what of a is not in b, 4 what is in just one. */
export function combine(out: usize, a: usize, b: usize, mode: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const x = at(a, i), y = at(b, i);
    const v: f32 =
      mode == 0 ? max(x, y) : mode == 1 ? min(x, y) : mode == 2 ? x * y : mode == 3 ? min(x, 1 - y) : mode == 4 ? max(min(x, 1 - y), min(y, 1 - x)) : max<f32>(0, x - y);
    put(out, i, v);
  }
}

/** The median or (`mean`) the mean of `count` planes, whose addresses stand at `planes`. Scratch: `count` floats. */
export function temporalFilter(out: usize, planes: usize, count: i32, mean: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    let sum: f32 = 0;
    for (let k = 0; k < count; k++) {
      const v = at(load<u32>(planes + <usize>k * 4), i);
      sum += v;
      let j = k;
      while (j > 0 && at(scratch, j - 1) > v) {
        put(scratch, j, at(scratch, j - 1));
        j--;
      }
      put(scratch, j, v);
    }
    const middle = count >> 1;
    put(out, i, mean ? sum / <f32>count : count & 1 ? at(scratch, middle) : (at(scratch, middle - 1) + at(scratch, middle)) * 0.5);
  }
}

/** Rows of a plane made smaller; tables as for `shrink`. */
export function shrinkPlane(out: usize, width: i32, from: usize, fromWidth: i32, columns: usize, rows: usize, shares: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const ry = rows + <usize>y * 12;
    const y0 = load<i32>(ry), ny = load<i32>(ry, 4), sy = shares + <usize>load<i32>(ry, 8) * 4;
    for (let x = 0; x < width; x++) {
      const rx = columns + <usize>x * 12;
      const x0 = load<i32>(rx), nx = load<i32>(rx, 4), sx = shares + <usize>load<i32>(rx, 8) * 4;
      let sum: f32 = 0;
      for (let j = 0; j < ny; j++) {
        const read = from + (<usize>(y0 + j) * <usize>fromWidth + x0) * 4;
        let line: f32 = 0;
        for (let i = 0; i < nx; i++) line += at(read, i) * at(sx, i);
        sum += line * at(sy, j);
      }
      put(out, y * width + x, sum);
    }
  }
}

/** Which of 64 bits an id may set in a mask of the chosen ones. */
// @ts-expect-error: decorator
@inline function bitOf(id: u32): u64 { return (<u64>1) << <u64>((id * 0x9e3779b1) >>> 26); }

/** Adds to `out` the coverage of those of two ranks (id, coverage, id, coverage) whose id is among `count` ids. */
export function rankedIds(out: usize, ranks: usize, ids: usize, count: i32, lo: i32, hi: i32, scratch: usize): void {
  let mask: u64 = 0;
  for (let k = 0; k < count; k++) mask |= bitOf(load<u32>(ids + <usize>k * 4));
  for (let i = lo; i < hi; i++) {
    const p = ranks + <usize>i * 16;
    let sum = at(out, i);
    for (let r: usize = 0; r < 16; r += 8) {
      const c = F(p + r + 4);
      if (!(c > 0)) continue;
      const id = load<u32>(p + r);
      if (!(mask & bitOf(id)) || !finite(c)) continue;
      for (let k = 0; k < count; k++) if (load<u32>(ids + <usize>k * 4) == id) { sum += c; break; }
    }
    put(out, i, min<f32>(1, sum));
  }
}

/** Rows `lo` … `hi` of a picture whose four channels are four rows of a plane; past the last row it is repeated. */
export function weave(out: usize, from: usize, width: i32, height: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const a = from + <usize>(min(4 * y, height - 1) * width) * 4, b = from + <usize>(min(4 * y + 1, height - 1) * width) * 4;
    const c = from + <usize>(min(4 * y + 2, height - 1) * width) * 4, e = from + <usize>(min(4 * y + 3, height - 1) * width) * 4;
    let o = out + <usize>(y * width) * 16;
    for (let x = 0; x < width; x++, o += 16) {
      const k = <usize>x * 4;
      st(o, f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(L(a + k), 1, F(b + k)), 2, F(c + k)), 3, F(e + k)));
    }
  }
}

/** The way back, into rows of `stride` floats, a multiple of four that may be more than `width`. */
export function unweave(out: usize, from: usize, width: i32, height: i32, stride: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const read = from + <usize>(y * width) * 16;
    const o = out + <usize>(4 * y) * <usize>stride * 4, next = <usize>stride * 4;
    const rows = height - 4 * y;
    for (let x = 0; x < width; x += 4) {
      const p = read + (<usize>x << 4), to = o + <usize>x * 4;
      st(to, gather(p, 0));
      if (rows > 1) st(to + next, gather(p, 1));
      if (rows > 2) st(to + 2 * next, gather(p, 2));
      if (rows > 3) st(to + 3 * next, gather(p, 3));
    }
  }
}

/** 1 where the first `channels` of a pixel are, each within `near`, one of `count` values of as many floats. */
export function flatIds(out: usize, from: usize, values: usize, count: i32, channels: i32, near: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = from + <usize>i * 16;
    let found: f32 = 0;
    for (let k = 0; k < count && found == 0; k++) {
      let same = true;
      for (let c = 0; c < channels && same; c++)
        same = abs(F(p + <usize>c * 4) - at(values, k * channels + c)) <= near;
      if (same) found = 1;
    }
    put(out, i, found);
  }
}

/**
 * Takes out what hangs together (by sides and corners) where the matte, or its complement, is above 1/255, and covers less than
 * `size` pixels in sum. One thread. `labels` is room for as many ints as there are pixels, twice.
 */
export function clean(out: usize, from: usize, width: i32, height: i32, size: f32, holes: i32, labels: usize, lo: i32, hi: i32, scratch: usize): void {
  const n = width * height, queue = labels + <usize>n * 4;
  const faint: f32 = <f32>1 / 255;
  memory.copy(out, from, <usize>n * 4);
  memory.fill(labels, 0, <usize>n * 4);
  for (let seed = 0; seed < n; seed++) {
    const first: f32 = holes ? 1 - at(from, seed) : at(from, seed);
    if (!(first > faint) || load<i32>(labels + <usize>seed * 4)) continue;
    let end = 1;
    let sum: f64 = 0;
    store<i32>(queue, seed);
    store<i32>(labels + <usize>seed * 4, 1);
    for (let head = 0; head < end; head++) {
      const i = load<i32>(queue + <usize>head * 4), x = i % width, y = i / width;
      sum += <f64>(holes ? 1 - at(from, i) : at(from, i));
      for (let v = max(0, y - 1); v <= min(height - 1, y + 1); v++) for (let u = max(0, x - 1); u <= min(width - 1, x + 1); u++) {
        const j = v * width + u, l = labels + <usize>j * 4;
        if (load<i32>(l)) continue;
        if (!((holes ? 1 - at(from, j) : at(from, j)) > faint)) continue;
        store<i32>(l, 1);
        store<i32>(queue + <usize>end * 4, j);
        end++;
      }
    }
    if (sum < <f64>size) for (let k = 0; k < end; k++) put(out, load<i32>(queue + <usize>k * 4), holes ? 1 : 0);
  }
}
