/**
 * Gaussian blurs of RGBA pictures. `edge` is what lies outside: 0 nothing, 1 the border's pixels continued.
 * Exact: taps from the centre outward, `reach` of them beyond it. Recursive: see `recursiveGaussian`.
 */
import { add, clampi, F, L, ld, mul, row, sp, st, sub } from './vector';

/** Rows `lo` … `hi`. Scratch: (w + 2 reach + 4) pixels. */
export function gaussianRows(
  d: usize, s: usize, w: i32, h: i32, taps: usize, reach: i32, edge: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = w * 16;
  const middle = scratch + <usize>reach * 16;
  for (let y = lo; y < hi; y++) {
    const from = row(s, y, stride), to = row(d, y, stride);
    const left = edge ? ld(from) : sp(0), right = edge ? ld(from + stride - 16) : sp(0);
    for (let x = 0; x < reach; x++) st(scratch + <usize>x * 16, left);
    for (let x = 0; x < reach + 4; x++) st(middle + stride + <usize>x * 16, right);
    memory.copy(middle, from, stride);
    for (let x = 0; x < w; x += 4) {
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
      const left = w - x;
      st(o, a0);
      if (left > 1) v128.store(o, a1, 16);
      if (left > 2) v128.store(o, a2, 32);
      if (left > 3) v128.store(o, a3, 48);
    }
  }
}

/** Rows `lo` … `hi`. Scratch: one row of zeros, which stands for what is outside. */
export function gaussianColumns(
  d: usize, s: usize, w: i32, h: i32, taps: usize, reach: i32, edge: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = w * 16;
  memory.fill(scratch, 0, stride);
  // Narrow tiles, so that the rows above and below stay in the cache.
  for (let x0: usize = 0; x0 < stride; x0 += 1024) {
    const x1 = min(stride, x0 + 1024);
    for (let y = lo; y < hi; y++) {
      const centre = row(s, y, stride), to = row(d, y, stride);
      let x = x0;
      for (; x < x1; x += 16) {
        const sum = mul(ld(centre + x), L(taps));
        st(to + x, sum);
      }
      for (let j = 1; j <= reach; j++) {
        const up = y - j >= 0 ? row(s, y - j, stride) : edge ? s : scratch;
        const down = y + j < h ? row(s, y + j, stride) : edge ? row(s, h - 1, stride) : scratch;
        const k = L(taps + <usize>j * 4);
        for (x = x0; x < x1; x += 16) st(to + x, add(ld(to + x), mul(add(ld(up + x), ld(down + x)), k)));
      }
    }
  }
}

/**
 * One line of a fourth-order recursive Gaussian as two parallel sections of second order each way. `cf` holds per section
 * b0 b1 a1 a2 c1 c2 and the gains for a constant continued outside, forward and back. Scratch: n pixels.
 */
// @ts-expect-error: decorator
@inline
function line(o: usize, os: usize, i: usize, is: usize, n: i32, cf: usize, edge: i32, scratch: usize): void {
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
  }
}

/** Rows `lo` … `hi`. Scratch: w pixels. */
export function recursiveRows(d: usize, s: usize, w: i32, h: i32, cf: usize, edge: i32, lo: i32, hi: i32, scratch: usize): void {
  const stride: usize = w * 16;
  for (let y = lo; y < hi; y++) line(row(d, y, stride), 16, row(s, y, stride), 16, w, cf, edge, scratch);
}

/** Columns `lo` … `hi`, four at a time through a tile that stays in the cache. Scratch: 5 h pixels. */
export function recursiveColumns(d: usize, s: usize, w: i32, h: i32, cf: usize, edge: i32, lo: i32, hi: i32, scratch: usize): void {
  const stride: usize = w * 16, tile = scratch + <usize>h * 16;
  for (let x = lo; x < hi; x += 4) {
    const count = min(4, hi - x);
    let p = s + <usize>x * 16, q = tile;
    for (let y = 0; y < h; y++, p += stride, q += 64) for (let c = 0; c < count; c++) st(q + <usize>c * 16, ld(p + <usize>c * 16));
    for (let c = 0; c < count; c++) line(tile + <usize>c * 16, 64, tile + <usize>c * 16, 64, h, cf, edge, scratch);
    p = d + <usize>x * 16; q = tile;
    for (let y = 0; y < h; y++, p += stride, q += 64) for (let c = 0; c < count; c++) st(p + <usize>c * 16, ld(q + <usize>c * 16));
  }
}
