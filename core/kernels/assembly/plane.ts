/** Kernels on mattes: planes of one float a pixel, 0 to 1. `lo` … `hi` counts pixels. */
import { gather } from './fours';
import { power01 } from './power';
import { clamp01, F, finite, L, sp, st } from './vector';

// @ts-expect-error: decorator
@inline function put(d: usize, i: i32, v: f32): void { store<f32>(d + <usize>i * 4, v); }
// @ts-expect-error: decorator
@inline function at(s: usize, i: i32): f32 { return F(s + <usize>i * 4); }

/** RGBA: (r, g, b, a) times the matte, plus `k` in alpha. */
export function ofPlane(d: usize, m: usize, r: f32, g: f32, b: f32, a: f32, k: f32, lo: i32, hi: i32, scratch: usize): void {
  const c = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(r), 1, g), 2, b), 3, a);
  const add = f32x4.replace_lane(sp(0), 3, k);
  for (let i = lo; i < hi; i++) st(d + <usize>i * 16, f32x4.add(f32x4.mul(c, sp(at(m, i))), add));
}

/** One channel of a picture. */
export function toPlane(d: usize, s: usize, c: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) put(d, i, F(s + <usize>i * 16 + <usize>c * 4));
}

/** d = a + (b − a) · where · amount; a bit for bit where that is 0, b where it is 1. */
export function mixPlanes(d: usize, a: usize, b: usize, m: usize, amount: f32, invert: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    let k: f32 = m ? at(m, i) : 1;
    if (invert && m) k = 1 - k;
    k *= amount;
    const x = at(a, i), y = at(b, i);
    put(d, i, k == 0 ? x : k == 1 ? y : x + (y - x) * k);
  }
}

/** Black and white point, gamma, and the complement. */
export function levels(d: usize, s: usize, black: f32, white: f32, gamma: f32, invert: i32, lo: i32, hi: i32, scratch: usize): void {
  const span = white - black, power: f32 = 1 / gamma;
  for (let i = lo; i < hi; i++) {
    const v = at(s, i);
    let x: f32 = span > 0 ? clamp01((v - black) / span) : v > black ? 1 : 0;
    if (gamma != 1 && x > 0 && x < 1) x = power01(x, power);
    put(d, i, invert ? 1 - x : x);
  }
}

/** 0 union, 1 intersection, 2 product, 3 what of a is not in b, 4 what is in just one. */
export function combine(d: usize, a: usize, b: usize, mode: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const x = at(a, i), y = at(b, i);
    const v: f32 =
      mode == 0 ? max(x, y) : mode == 1 ? min(x, y) : mode == 2 ? x * y : mode == 3 ? min(x, 1 - y) : mode == 4 ? max(min(x, 1 - y), min(y, 1 - x)) : max<f32>(0, x - y);
    put(d, i, v);
  }
}

/** The median or (`mean`) the mean of `count` planes, whose addresses stand at `planes`. Scratch: `count` floats. */
export function temporalFilter(d: usize, planes: usize, count: i32, mean: i32, lo: i32, hi: i32, scratch: usize): void {
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
    put(d, i, mean ? sum / <f32>count : count & 1 ? at(scratch, middle) : (at(scratch, middle - 1) + at(scratch, middle)) * 0.5);
  }
}

/** Rows of a plane made smaller; tables as for `shrink`. */
export function shrinkPlane(d: usize, w: i32, s: usize, sw: i32, tx: usize, ty: usize, shares: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const ry = ty + <usize>y * 12;
    const y0 = load<i32>(ry), ny = load<i32>(ry, 4), sy = shares + <usize>load<i32>(ry, 8) * 4;
    for (let x = 0; x < w; x++) {
      const rx = tx + <usize>x * 12;
      const x0 = load<i32>(rx), nx = load<i32>(rx, 4), sx = shares + <usize>load<i32>(rx, 8) * 4;
      let sum: f32 = 0;
      for (let j = 0; j < ny; j++) {
        const from = s + (<usize>(y0 + j) * <usize>sw + x0) * 4;
        let line: f32 = 0;
        for (let i = 0; i < nx; i++) line += at(from, i) * at(sx, i);
        sum += line * at(sy, j);
      }
      put(d, y * w + x, sum);
    }
  }
}

/** Which of 64 bits an id may set in a mask of the chosen ones. */
// @ts-expect-error: decorator
@inline function bitOf(id: u32): u64 { return (<u64>1) << <u64>((id * 0x9e3779b1) >>> 26); }

/** Where ids of two ranks (id, coverage, id, coverage) are among `count` ids, their coverage is added to `d`. */
export function rankedIds(d: usize, s: usize, ids: usize, count: i32, lo: i32, hi: i32, scratch: usize): void {
  let mask: u64 = 0;
  for (let k = 0; k < count; k++) mask |= bitOf(load<u32>(ids + <usize>k * 4));
  for (let i = lo; i < hi; i++) {
    const p = s + <usize>i * 16;
    let sum = at(d, i);
    for (let r: usize = 0; r < 16; r += 8) {
      const c = F(p + r + 4);
      if (!(c > 0)) continue;
      const id = load<u32>(p + r);
      if (!(mask & bitOf(id)) || !finite(c)) continue;
      for (let k = 0; k < count; k++) if (load<u32>(ids + <usize>k * 4) == id) { sum += c; break; }
    }
    put(d, i, min<f32>(1, sum));
  }
}

/** Rows `lo` … `hi` of a picture whose four channels are four rows of a plane; past the last row it is repeated. */
export function weave(d: usize, s: usize, w: i32, h: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const a = s + <usize>(min(4 * y, h - 1) * w) * 4, b = s + <usize>(min(4 * y + 1, h - 1) * w) * 4;
    const c = s + <usize>(min(4 * y + 2, h - 1) * w) * 4, e = s + <usize>(min(4 * y + 3, h - 1) * w) * 4;
    let o = d + <usize>(y * w) * 16;
    for (let x = 0; x < w; x++, o += 16) {
      const k = <usize>x * 4;
      st(o, f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(L(a + k), 1, F(b + k)), 2, F(c + k)), 3, F(e + k)));
    }
  }
}

/** The way back, into rows of `stride` floats, a multiple of four that may be more than `w`. */
export function unweave(d: usize, s: usize, w: i32, h: i32, stride: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const from = s + <usize>(y * w) * 16;
    const o = d + <usize>(4 * y) * <usize>stride * 4, next = <usize>stride * 4;
    const rows = h - 4 * y;
    for (let x = 0; x < w; x += 4) {
      const p = from + (<usize>x << 4), to = o + <usize>x * 4;
      st(to, gather(p, 0));
      if (rows > 1) st(to + next, gather(p, 1));
      if (rows > 2) st(to + 2 * next, gather(p, 2));
      if (rows > 3) st(to + 3 * next, gather(p, 3));
    }
  }
}

/** 1 where the first `channels` of a pixel are, each within `near`, one of `count` values of as many floats. */
export function flatIds(d: usize, s: usize, values: usize, count: i32, channels: i32, near: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = s + <usize>i * 16;
    let found: f32 = 0;
    for (let k = 0; k < count && found == 0; k++) {
      let same = true;
      for (let c = 0; c < channels && same; c++)
        same = abs(F(p + <usize>c * 4) - at(values, k * channels + c)) <= near;
      if (same) found = 1;
    }
    put(d, i, found);
  }
}

/**
 * Takes out what hangs together (by sides and corners) where the matte, or its complement, is above 1/255, and covers less than
 * `size` pixels in sum. One thread. `labels` is room for as many ints as there are pixels, twice.
 */
export function clean(d: usize, s: usize, w: i32, h: i32, size: f32, holes: i32, labels: usize, lo: i32, hi: i32, scratch: usize): void {
  const n = w * h, queue = labels + <usize>n * 4;
  const faint: f32 = <f32>1 / 255;
  memory.copy(d, s, <usize>n * 4);
  memory.fill(labels, 0, <usize>n * 4);
  for (let seed = 0; seed < n; seed++) {
    const first: f32 = holes ? 1 - at(s, seed) : at(s, seed);
    if (!(first > faint) || load<i32>(labels + <usize>seed * 4)) continue;
    let end = 1;
    let sum: f64 = 0;
    store<i32>(queue, seed);
    store<i32>(labels + <usize>seed * 4, 1);
    for (let head = 0; head < end; head++) {
      const i = load<i32>(queue + <usize>head * 4), x = i % w, y = i / w;
      sum += <f64>(holes ? 1 - at(s, i) : at(s, i));
      for (let v = max(0, y - 1); v <= min(h - 1, y + 1); v++) for (let u = max(0, x - 1); u <= min(w - 1, x + 1); u++) {
        const j = v * w + u, l = labels + <usize>j * 4;
        if (load<i32>(l)) continue;
        if (!((holes ? 1 - at(s, j) : at(s, j)) > faint)) continue;
        store<i32>(l, 1);
        store<i32>(queue + <usize>end * 4, j);
        end++;
      }
    }
    if (sum < <f64>size) for (let k = 0; k < end; k++) put(d, load<i32>(queue + <usize>k * 4), holes ? 1 : 0);
  }
}
