/**
 * Gaussian blurs of RGBA pictures. `edge` is what lies outside: 0 nothing, 1 the border's pixels continued.
 * Exact: taps from the centre outward, `reach` of them beyond it. Recursive: see `recursiveGaussian`.
 */
import { add, L, ld, mul, row, sp, st, sub } from './vector';

/** Rows `lo` … `hi`. Scratch: (w + 2 reach + 4) pixels. */
export function gaussianRows(
  out: usize, from: usize, width: i32, height: i32, taps: usize, reach: i32, edge: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = width * 16;
  const middle = scratch + <usize>reach * 16;
  for (let y = lo; y < hi; y++) {
    const read = row(from, y, stride), to = row(out, y, stride);
    const left = edge ? ld(read) : sp(0), right = edge ? ld(read + stride - 16) : sp(0);
    for (let x = 0; x < reach; x++) st(scratch + <usize>x * 16, left);
    for (let x = 0; x < reach + 4; x++) st(middle + stride + <usize>x * 16, right);
    memory.copy(middle, read, stride);
    for (let x = 0; x < width; x += 4) {
      const c = middle + <usize>x * 16;
      let k = L(taps);
      let a0 = mul(ld(c), k), a1 = mul(v128.load(c, 16), k), a2 = mul(v128.load(c, 32), k), a3 = mul(v128.load(c, 48), k);
      let p = c, m = c, t = taps;
      const end = taps + <usize>reach * 4;
      while (t < end) {
        t += 4; p += 16; m -= 16;
        k = L(t);
        a0 = add(a0, mul(add(ld(p), ld(m)), k));
        a1 = add(a1, mul(add(v128.load(p, 16), v128.load(m, 16)), k));
        a2 = add(a2, mul(add(v128.load(p, 32), v128.load(m, 32)), k));
        a3 = add(a3, mul(add(v128.load(p, 48), v128.load(m, 48)), k));
      }
      const o = to + <usize>x * 16;
      const left = width - x;
      st(o, a0);
      if (left > 1) v128.store(o, a1, 16);
      if (left > 2) v128.store(o, a2, 32);
      if (left > 3) v128.store(o, a3, 48);
    }
  }
}

/** Adds the rows `from` and `from2` of four pixels, times `k`. */
// @ts-ignore: decorator
@inline function pair(a: v128, p: usize, m: usize, o: usize, k: v128): v128 { return add(a, mul(add(ld(p + o), ld(m + o)), k)); }

/** Rows `lo` … `hi`. */
export function gaussianColumns(
  out: usize, from: usize, width: i32, height: i32, taps: usize, reach: i32, edge: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = width * 16;
  const last = row(from, height - 1, stride);
  // Narrow tiles, so that the rows above and below stay in the cache.
  for (let x0: usize = 0; x0 < stride; x0 += 1024) {
    const x1 = min(stride, x0 + 1024);
    for (let y = lo; y < hi; y++) {
      const both = min(reach, min(y, height - 1 - y));
      for (let x = x0; x < x1; x += 64) {
        const c = row(from, y, stride) + x, to = row(out, y, stride) + x;
        const whole = x + 64 <= x1;
        let k = L(taps), t = taps, p = c, m = c;
        let a0 = mul(ld(c), k), a1 = a0, a2 = a0, a3 = a0;
        if (whole) { a1 = mul(v128.load(c, 16), k); a2 = mul(v128.load(c, 32), k); a3 = mul(v128.load(c, 48), k); }
        else { const n = x1 - x; if (n > 16) a1 = mul(v128.load(c, 16), k); if (n > 32) a2 = mul(v128.load(c, 32), k); }
        let j = 0;
        if (whole) {
          for (; j < both; j++) {
            t += 4; p += stride; m -= stride; k = L(t);
            a0 = pair(a0, p, m, 0, k); a1 = pair(a1, p, m, 16, k); a2 = pair(a2, p, m, 32, k); a3 = pair(a3, p, m, 48, k);
          }
        } else {
          const n = x1 - x;
          for (; j < both; j++) {
            t += 4; p += stride; m -= stride; k = L(t);
            a0 = pair(a0, p, m, 0, k);
            if (n > 16) a1 = pair(a1, p, m, 16, k);
            if (n > 32) a2 = pair(a2, p, m, 32, k);
          }
        }
        // Beyond the nearer border: its last row continued, or nothing.
        for (; j < reach; j++) {
          t += 4; k = L(t);
          const up = y - j - 1, dn = y + j + 1;
          for (let side = 0; side < 2; side++) {
            const i = side ? dn : up;
            let q: usize;
            if (i >= 0 && i < height) q = row(from, i, stride) + x;
            else if (edge) q = (i < 0 ? from : last) + x;
            else continue;
            a0 = add(a0, mul(ld(q), k));
            if (x + 16 < x1) a1 = add(a1, mul(v128.load(q, 16), k));
            if (x + 32 < x1) a2 = add(a2, mul(v128.load(q, 32), k));
            if (whole) a3 = add(a3, mul(v128.load(q, 48), k));
          }
        }
        st(to, a0);
        if (x + 16 < x1) v128.store(to, a1, 16);
        if (x + 32 < x1) v128.store(to, a2, 32);
        if (whole) v128.store(to, a3, 48);
      }
    }
  }
}

/** Sets tiny values to 0: in black areas the filter would otherwise compute with denormal numbers, which is many times slower. */
// @ts-expect-error: decorator
@inline
export function quiet(v: v128): v128 { return v128.and(v, f32x4.gt(f32x4.abs(v), sp(1e-24))); }

/**
 * One line of a fourth-order recursive Gaussian as two parallel sections of second order each way. `cf` holds per section
 * b0 b1 a1 a2 c1 c2 and the gains for a constant continued outside, forward and back. Scratch: n pixels.
 */
// @ts-expect-error: decorator
@inline
export function line(o: usize, os: usize, i: usize, is: usize, n: i32, cf: usize, edge: i32, scratch: usize): void {
  let b0 = L(cf), b1 = L(cf + 4), a1 = L(cf + 8), a2 = L(cf + 12);
  let d0 = L(cf + 32), d1 = L(cf + 36), e1 = L(cf + 40), e2 = L(cf + 44);
  const zero = sp(0);
  let x1 = edge ? ld(i) : zero;
  let y1 = mul(x1, L(cf + 24)), y2 = y1, z1 = mul(x1, L(cf + 56)), z2 = z1, t = scratch;
  for (let k = 0; k < n; k++, i += is, t += 16) {
    const x = ld(i);
    const y = sub(sub(add(mul(b0, x), mul(b1, x1)), mul(a2, y2)), mul(a1, y1));
    const z = sub(sub(add(mul(d0, x), mul(d1, x1)), mul(e2, z2)), mul(e1, z1));
    st(t, add(y, z));
    x1 = x; y2 = y1; y1 = y; z2 = z1; z1 = z;
    if ((k & 31) == 31) { y1 = quiet(y1); y2 = quiet(y2); z1 = quiet(z1); z2 = quiet(z2); }
  }
  o += os * <usize>n;
  if (!edge) x1 = zero;
  let x2 = x1;
  b0 = L(cf + 16); b1 = L(cf + 20); d0 = L(cf + 48); d1 = L(cf + 52);
  y1 = mul(x1, L(cf + 28)); y2 = y1; z1 = mul(x1, L(cf + 60)); z2 = z1;
  for (let k = 0; k < n; k++) {
    i -= is; t -= 16; o -= os;
    const y = sub(sub(add(mul(b0, x1), mul(b1, x2)), mul(a2, y2)), mul(a1, y1));
    const z = sub(sub(add(mul(d0, x1), mul(d1, x2)), mul(e2, z2)), mul(e1, z1));
    x2 = x1;
    x1 = ld(i);
    st(o, add(ld(t), add(y, z)));
    y2 = y1; y1 = y; z2 = z1; z1 = z;
    if ((k & 31) == 31) { y1 = quiet(y1); y2 = quiet(y2); z1 = quiet(z1); z2 = quiet(z2); }
  }
}

/** Rows `lo` … `hi`. Scratch: w pixels. */
export function recursiveRows(out: usize, from: usize, width: i32, height: i32, coefficients: usize, edge: i32, lo: i32, hi: i32, scratch: usize): void {
  const stride: usize = width * 16;
  for (let y = lo; y < hi; y++) line(row(out, y, stride), 16, row(from, y, stride), 16, width, coefficients, edge, scratch);
}

/** Columns `lo` … `hi`, four at a time through a tile that stays in the cache. Scratch: 5 h pixels. */
export function recursiveColumns(out: usize, from: usize, width: i32, height: i32, coefficients: usize, edge: i32, lo: i32, hi: i32, scratch: usize): void {
  const stride: usize = width * 16, tile = scratch + <usize>height * 16;
  for (let x = lo; x < hi; x += 4) {
    const count = min(4, hi - x);
    let p = from + <usize>x * 16, q = tile;
    for (let y = 0; y < height; y++, p += stride, q += 64) for (let c = 0; c < count; c++) st(q + <usize>c * 16, ld(p + <usize>c * 16));
    for (let c = 0; c < count; c++) line(tile + <usize>c * 16, 64, tile + <usize>c * 16, 64, height, coefficients, edge, scratch);
    p = out + <usize>x * 16; q = tile;
    for (let y = 0; y < height; y++, p += stride, q += 64) for (let c = 0; c < count; c++) st(p + <usize>c * 16, ld(q + <usize>c * 16));
  }
}


/**
 * Four neighbouring pixels of a row, blurred with up to six taps to each side: every pixel is loaded once. `n` is a constant where this
 * is used, so what lies beyond it is not compiled. `k` points at the taps.
 */
// @ts-expect-error: decorator
@inline
function across(o: usize, c: usize, k: usize, n: i32): void {
  let t = L(k);
  const p0 = ld(c), p1 = v128.load(c, 16), p2 = v128.load(c, 32), p3 = v128.load(c, 48);
  let a0 = mul(p0, t), a1 = mul(p1, t), a2 = mul(p2, t), a3 = mul(p3, t);
  t = v128.load_splat<f32>(k, 4);
  const m1 = ld(c - 16), p4 = v128.load(c, 64);
  a0 = add(a0, mul(add(m1, p1), t)); a1 = add(a1, mul(add(p0, p2), t)); a2 = add(a2, mul(add(p1, p3), t)); a3 = add(a3, mul(add(p2, p4), t));
  if (n > 1) {
    t = v128.load_splat<f32>(k, 8);
    const m2 = ld(c - 32), p5 = v128.load(c, 80);
    a0 = add(a0, mul(add(m2, p2), t)); a1 = add(a1, mul(add(m1, p3), t)); a2 = add(a2, mul(add(p0, p4), t)); a3 = add(a3, mul(add(p1, p5), t));
    if (n > 2) {
      t = v128.load_splat<f32>(k, 12);
      const m3 = ld(c - 48), p6 = v128.load(c, 96);
      a0 = add(a0, mul(add(m3, p3), t)); a1 = add(a1, mul(add(m2, p4), t)); a2 = add(a2, mul(add(m1, p5), t)); a3 = add(a3, mul(add(p0, p6), t));
      if (n > 3) {
        t = v128.load_splat<f32>(k, 16);
        const m4 = ld(c - 64), p7 = v128.load(c, 112);
        a0 = add(a0, mul(add(m4, p4), t)); a1 = add(a1, mul(add(m3, p5), t)); a2 = add(a2, mul(add(m2, p6), t)); a3 = add(a3, mul(add(m1, p7), t));
        if (n > 4) {
          t = v128.load_splat<f32>(k, 20);
          const m5 = ld(c - 80), p8 = v128.load(c, 128);
          a0 = add(a0, mul(add(m5, p5), t)); a1 = add(a1, mul(add(m4, p6), t)); a2 = add(a2, mul(add(m3, p7), t)); a3 = add(a3, mul(add(m2, p8), t));
          if (n > 5) {
            t = v128.load_splat<f32>(k, 24);
            const m6 = ld(c - 96), p9 = v128.load(c, 144);
            a0 = add(a0, mul(add(m6, p6), t)); a1 = add(a1, mul(add(m5, p7), t)); a2 = add(a2, mul(add(m4, p8), t)); a3 = add(a3, mul(add(m3, p9), t));
          }
        }
      }
    }
  }
  st(o, a0); v128.store(o, a1, 16); v128.store(o, a2, 32); v128.store(o, a3, 48);
}

/** Pixels of all rows of a ring: they stay in a core's second cache. */
const ringPixels: i32 = 49152;
const widestTile: i32 = 2048;
/** Rows of a ring lie so much further apart: at a power of two they would all fall into the same few places of a cache. */
const apart: usize = 1088;
/** Bytes of 64 pixels. */
const span: usize = 1024;

/** True where anything from `from` to `to` is not 0. */
function isLit(from: usize, to: usize): bool {
  let p = from;
  for (; p + 64 <= to; p += 64)
    if (v128.any_true(v128.or(v128.or(ld(p), v128.load(p, 16)), v128.or(v128.load(p, 32), v128.load(p, 48))))) return true;
  for (; p < to; p += 16) if (v128.any_true(ld(p))) return true;
  return false;
}

/**
 * Rows `lo` … `hi`: d = weight · blur(s), or d + that with `adds`; black outside. Rows and columns in one go through a ring of
 * blurred rows that stays in the cache, for narrow blurs. Scratch: 49152 pixels, and a row of 2048 and 2 reach.
 */
export function blurInto(
  out: usize, from: usize, width: i32, height: i32, taps: usize, reach: i32, weight: f32, adds: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const count = 2 * reach + 1;
  const tileWidth = min(widestTile, (ringPixels / count) & ~3);
  const stride: usize = width * 16, ringStride: usize = <usize>tileWidth * 16 + apart;
  // Where the rows above and below stand in the ring, pair by pair.
  const pairs = scratch + <usize>count * ringStride;
  const line = pairs + <usize>((reach * 8 + 63) & ~63);
  const W = sp(weight);
  // Which spans of which rows of the ring hold light at all: lamps are few, and the rest of their picture is black.
  const spans: usize = <usize>widestTile * 16 / span, flags = line + <usize>(widestTile + 2 * reach + 8) * 16;
  for (let x0 = 0; x0 < width; x0 += tileWidth) {
    const tw = min(tileWidth, width - x0);
    const before = max(0, reach - x0), read = x0 - reach + before, past = min(width, x0 + tw + reach);
    const middle = line + <usize>reach * 16;
    const bytes: usize = <usize>tw * 16;
    for (let y = lo - reach; y < hi + reach; y++) {
      const slot = scratch + <usize>((y + count * 4096) % count) * ringStride;
      if (y < 0 || y >= height) {
        memory.fill(slot, 0, bytes);
        memory.fill(flags + <usize>((y + count * 4096) % count) * spans, 0, spans);
      } else {
        memory.fill(line, 0, <usize>before * 16);
        memory.copy(line + <usize>before * 16, row(from, y, stride) + <usize>read * 16, <usize>(past - read) * 16);
        memory.fill(line + <usize>(before + past - read) * 16, 0, <usize>(tw + 2 * reach + 4 - before - past + read) * 16);
        for (let start: usize = 0; start < bytes; start += span) {
        const end = min(bytes, start + span), lit = isLit(middle + start - <usize>reach * 16, middle + end + <usize>reach * 16);
        store<u8>(flags + <usize>((y + count * 4096) % count) * spans + start / span, lit);
        if (!lit) { memory.fill(slot + start, 0, end - start); continue; }
        if (reach == 1) for (let x = start; x < end; x += 64) across(slot + x, middle + x, taps, 1);
        else if (reach == 3) for (let x = start; x < end; x += 64) across(slot + x, middle + x, taps, 3);
        else if (reach == 5) for (let x = start; x < end; x += 64) across(slot + x, middle + x, taps, 5);
        else if (reach == 6) for (let x = start; x < end; x += 64) across(slot + x, middle + x, taps, 6);
        else
        for (let x = start; x < end; x += 64) {
          const c = middle + x;
          let k = L(taps), t = taps, p = c, m = c;
          let a0 = mul(ld(c), k), a1 = mul(v128.load(c, 16), k), a2 = mul(v128.load(c, 32), k), a3 = mul(v128.load(c, 48), k);
          for (let j = 0; j < reach; j++) {
            t += 4; p += 16; m -= 16; k = L(t);
            a0 = pair(a0, p, m, 0, k); a1 = pair(a1, p, m, 16, k); a2 = pair(a2, p, m, 32, k); a3 = pair(a3, p, m, 48, k);
          }
          const o = slot + x;
          st(o, a0); v128.store(o, a1, 16); v128.store(o, a2, 32); v128.store(o, a3, 48);
        }
        }
      }
      const write = y - reach;
      if (write < lo) continue;
      const to = row(out, write, stride) + <usize>x0 * 16;
      const at = (write + count * 4096) % count;
      let up = at, dn = at;
      for (let j = 0; j < reach; j++) {
        up = up == 0 ? count - 1 : up - 1;
        dn = dn == count - 1 ? 0 : dn + 1;
        store<usize>(pairs + <usize>j * 8, scratch + <usize>up * ringStride);
        store<usize>(pairs + <usize>j * 8, scratch + <usize>dn * ringStride, 4);
      }
      const pairsEnd = pairs + <usize>reach * 8;
      for (let start: usize = 0; start < bytes; start += span) {
      const end = min(bytes, start + span);
      // Where none of the rows has light there is none.
      let any: u32 = 0;
      for (let j = 0; j < count; j++) any |= load<u8>(flags + <usize>j * spans + start / span);
      if (!any) { if (!adds) memory.fill(to + start, 0, end - start); continue; }
      if (reach == 3 && !adds) {
        // The commonest narrow blur: rows and taps held.
        const k0 = mul(L(taps), W), k1 = mul(v128.load_splat<f32>(taps, 4), W), k2 = mul(v128.load_splat<f32>(taps, 8), W), k3 = mul(v128.load_splat<f32>(taps, 12), W);
        const c = scratch + <usize>at * ringStride;
        const u1 = load<usize>(pairs), d1 = load<usize>(pairs, 4), u2 = load<usize>(pairs, 8), d2 = load<usize>(pairs, 12), u3 = load<usize>(pairs, 16), d3 = load<usize>(pairs, 20);
        for (let x = start; x < end; x += 16) {
          const near = add(mul(ld(c + x), k0), mul(add(ld(u1 + x), ld(d1 + x)), k1));
          st(to + x, add(near, add(mul(add(ld(u2 + x), ld(d2 + x)), k2), mul(add(ld(u3 + x), ld(d3 + x)), k3))));
        }
        continue;
      }
      for (let x = start; x < end; x += 64) {
        let k = L(taps), t = taps;
        const c = scratch + <usize>at * ringStride + x;
        let a0 = mul(ld(c), k), a1 = mul(v128.load(c, 16), k), a2 = mul(v128.load(c, 32), k), a3 = mul(v128.load(c, 48), k);
        for (let q = pairs; q < pairsEnd; q += 8) {
          t += 4; k = L(t);
          const p = load<usize>(q) + x, m = load<usize>(q, 4) + x;
          a0 = pair(a0, p, m, 0, k); a1 = pair(a1, p, m, 16, k); a2 = pair(a2, p, m, 32, k); a3 = pair(a3, p, m, 48, k);
        }
        const o = to + x;
        const n = bytes - x;
        if (adds) {
          st(o, add(ld(o), mul(a0, W)));
          if (n > 16) v128.store(o, add(v128.load(o, 16), mul(a1, W)), 16);
          if (n > 32) v128.store(o, add(v128.load(o, 32), mul(a2, W)), 32);
          if (n > 48) v128.store(o, add(v128.load(o, 48), mul(a3, W)), 48);
        } else {
          st(o, mul(a0, W));
          if (n > 16) v128.store(o, mul(a1, W), 16);
          if (n > 32) v128.store(o, mul(a2, W), 32);
          if (n > 48) v128.store(o, mul(a3, W), 48);
        }
      }
      }
    }
  }
}
