/**
 * Convolution by FFT. A pixel's R, G and B, A are taken as two complex numbers, so one complex transform serves four real
 * channels when the kernel is real. Mixed radix 4, 2, 3, 5, self-sorting (Stockham), many columns at a time.
 * A plan is n, the number of stages and their radices as i32; twiddles follow stage by stage.
 */
import { add, L, ld, mul, row, sp, st, sub } from './vector';

// @ts-expect-error: decorator
@inline function turn(t: v128): v128 { return v128.shuffle<f32>(t, t, 1, 0, 3, 2); }
/** Complex product of both numbers of `t` with one; `wi` carries its signs. */
// @ts-expect-error: decorator
@inline function cmul(t: v128, wr: v128, wi: v128): v128 { return add(mul(t, wr), mul(turn(t), wi)); }

/** Transforms n elements of `es` pixels each; returns true where the result lies in `y`. `dir` 1 forward, −1 back. */
function transform(x: usize, y: usize, plan: usize, tw: usize, es: usize, dir: f32): bool {
  let n: usize = load<i32>(plan), s: usize = es * 16, flip = false;
  const stages = load<i32>(plan, 4);
  const sg = f32x4.replace_lane(f32x4.replace_lane(sp(dir), 0, -dir), 2, -dir);
  for (let k = 0; k < stages; k++) {
    const r: usize = load<i32>(plan + 8 + k * 4), m = n / r, ms = m * s;
    for (let p: usize = 0; p < m; p++) {
      const w = tw + p * 8 * (r - 1);
      let a = x + s * p, o = y + s * r * p;
      const e = a + s;
      const w1 = L(w), v1 = mul(L(w + 4), sg);
      if (r == 4) {
        const w2 = L(w + 8), v2 = mul(L(w + 12), sg), w3 = L(w + 16), v3 = mul(L(w + 20), sg);
        for (; a < e; a += 16, o += 16) {
          const A = ld(a), B = ld(a + ms), C = ld(a + 2 * ms), D = ld(a + 3 * ms);
          const t0 = add(A, C), t1 = sub(A, C), t2 = add(B, D), t3 = mul(turn(sub(B, D)), sg);
          st(o, add(t0, t2)); st(o + s, cmul(sub(t1, t3), w1, v1)); st(o + 2 * s, cmul(sub(t0, t2), w2, v2)); st(o + 3 * s, cmul(add(t1, t3), w3, v3));
        }
      } else if (r == 2) {
        for (; a < e; a += 16, o += 16) {
          const A = ld(a), B = ld(a + ms);
          st(o, add(A, B)); st(o + s, cmul(sub(A, B), w1, v1));
        }
      } else if (r == 3) {
        const w2 = L(w + 8), v2 = mul(L(w + 12), sg), h = sp(0.5), s3 = mul(sp(0.86602540378), sg);
        for (; a < e; a += 16, o += 16) {
          const A = ld(a), B = ld(a + ms), C = ld(a + 2 * ms);
          const t = add(B, C), u = sub(A, mul(t, h)), v = mul(turn(sub(B, C)), s3);
          st(o, add(A, t)); st(o + s, cmul(sub(u, v), w1, v1)); st(o + 2 * s, cmul(add(u, v), w2, v2));
        }
      } else {
        const w2 = L(w + 8), v2 = mul(L(w + 12), sg), w3 = L(w + 16), v3 = mul(L(w + 20), sg), w4 = L(w + 24), v4 = mul(L(w + 28), sg);
        const c1 = sp(0.30901699437), c2 = sp(-0.80901699437), s1 = mul(sp(0.95105651629), sg), s2 = mul(sp(0.58778525229), sg);
        for (; a < e; a += 16, o += 16) {
          const A = ld(a), B = ld(a + ms), C = ld(a + 2 * ms), D = ld(a + 3 * ms), E = ld(a + 4 * ms);
          const t1 = add(B, E), t2 = add(C, D), d1 = turn(sub(B, E)), d2 = turn(sub(C, D));
          const u1 = add(add(A, mul(t1, c1)), mul(t2, c2)), u2 = add(add(A, mul(t1, c2)), mul(t2, c1));
          const q1 = add(mul(d1, s1), mul(d2, s2)), q2 = sub(mul(d1, s2), mul(d2, s1));
          st(o, add(add(A, t1), t2)); st(o + s, cmul(sub(u1, q1), w1, v1)); st(o + 2 * s, cmul(sub(u2, q2), w2, v2));
          st(o + 3 * s, cmul(add(u2, q2), w3, v3)); st(o + 4 * s, cmul(add(u1, q1), w4, v4));
        }
      }
    }
    tw += m * 8 * (r - 1);
    n = m;
    s *= r;
    const t = x; x = y; y = t;
    flip = !flip;
  }
  return flip;
}

/** Rows `lo` … `hi` of a picture (w wide, 0 beyond) into `work`, `wide` pixels a row. Scratch: 2 n pixels. */
export function fftRows(work: usize, wide: i32, from: usize, width: i32, plan: usize, twiddles: usize, lo: i32, hi: i32, scratch: usize): void {
  const n: usize = load<i32>(plan), A = scratch, B = scratch + n * 16, S: usize = width * 16;
  for (let y = lo; y < hi; y++) {
    memory.copy(A, row(from, y, S), S);
    memory.fill(A + S, 0, n * 16 - S);
    memory.copy(row(work, y, <usize>wide * 16), transform(A, B, plan, twiddles, 1, 1) ? B : A, n * 16);
  }
}

/** Back again, times `scale`, w pixels from pixel `x0` of each row. */
export function fftRowsBack(
  out: usize, work: usize, wide: i32, width: i32, x0: i32, y0: i32, plan: usize, twiddles: usize, scale: f32, lo: i32, hi: i32, scratch: usize,
): void {
  const n: usize = load<i32>(plan), A = scratch, B = scratch + n * 16, k = sp(scale);
  for (let y = lo; y < hi; y++) {
    memory.copy(A, row(work, y + y0, <usize>wide * 16), n * 16);
    const from = (transform(A, B, plan, twiddles, 1, -1) ? B : A) + <usize>x0 * 16, to = row(out, y, <usize>width * 16);
    for (let x: usize = 0, e: usize = width * 16; x < e; x += 16) st(to + x, mul(ld(from + x), k));
  }
}

/**
 * Columns `lo` … `hi` (four at a time) of `work`, of which `height` rows are filled, are transformed. Mode 0 keeps them at `spectrum`, one complex number
 * a place; mode 1 multiplies them by such a spectrum and brings `back` rows back. Scratch: 8 n pixels.
 */
export function fftColumns(
  work: usize, wide: i32, height: i32, back: i32, plan: usize, twiddles: usize, spectrum: usize, mode: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const n: usize = load<i32>(plan), A = scratch, B = scratch + n * 64;
  const sg = f32x4(-1, 1, -1, 1);
  for (let x = lo; x < hi; x += 4) {
    const at = work + <usize>x * 16;
    columnsIn(A, at, at + 32, at + 48, wide, height, n);
    const R = transform(A, B, plan, twiddles, 4, 1) ? B : A, O = R == A ? B : A;
    const hh = spectrum + <usize>x * n * 8;
    if (!mode) {
      for (let k: usize = 0; k < n; k++) for (let c: usize = 0; c < 4; c++) store<u64>(hh + k * 32 + c * 8, load<u64>(R + k * 64 + c * 16));
      continue;
    }
    for (let k: usize = 0; k < n; k++) {
      const p = R + k * 64, e = hh + k * 32;
      for (let c: usize = 0; c < 4; c++) st(p + c * 16, cmul(ld(p + c * 16), L(e + c * 8), mul(L(e + c * 8 + 4), sg)));
    }
    columnsOut(at, at + 32, at + 48, transform(R, O, plan, twiddles, 4, -1) ? O : R, wide, back);
  }
}

/**
 * `fftColumns` where red, green and blue have kernels of their own (alpha that of blue). Red and green are one complex number z; of their
 * spectra r and g, the product is z (r + g)/2 + z̄ (r − g)/2, z̄ the conjugate at the mirrored place. So columns x and wide − x go together:
 * `lo` … `hi` counts pairs, two at a time. The spectrum holds (r + g)/2, (r − g)/2 and b: six numbers a place.
 */
export function fftColours(
  work: usize, wide: i32, height: i32, back: i32, plan: usize, twiddles: usize, spectrum: usize, mode: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const n: usize = load<i32>(plan), A = scratch, B = scratch + n * 64;
  for (let x = lo; x < hi; x += 2) {
    // Columns x, x + 1 and their mirrors wide − x − 1, wide − x; of column 0, which is its own, comes the middle one, its own too.
    const one = work + <usize>x * 16, two = work + <usize>(wide - x - 1) * 16, last = x ? two + 16 : work + <usize>(wide >> 1) * 16;
    columnsIn(A, one, two, last, wide, height, n);
    const R = transform(A, B, plan, twiddles, 4, 1) ? B : A, O = R == A ? B : A;
    // Their mirrors: columns 0 and 3 of each four, and 1 and 2; those of the first four that are their own.
    const first: usize = x ? 48 : 0, last4: usize = x ? 0 : 48;
    let e = spectrum + <usize>x * 2 * n * 24;
    for (let k: usize = 0; k < n; k++, e += 96) {
      const z = R + k * 64, m = R + (k ? n - k : 0) * 64, o = O + k * 64;
      if (!mode) {
        keepColours(e, ld(z), ld(m + first)); keepColours(e + 24, v128.load(z, 16), v128.load(m, 32));
        keepColours(e + 48, v128.load(z, 32), v128.load(m, 16)); keepColours(e + 72, v128.load(z, 48), ld(m + last4));
        continue;
      }
      st(o, byColours(e, ld(z), ld(m + first))); v128.store(o, byColours(e + 24, v128.load(z, 16), v128.load(m, 32)), 16);
      v128.store(o, byColours(e + 48, v128.load(z, 32), v128.load(m, 16)), 32); v128.store(o, byColours(e + 72, v128.load(z, 48), ld(m + last4)), 48);
    }
    if (mode) columnsOut(one, two, last, transform(O, R, plan, twiddles, 4, -1) ? R : O, wide, back);
  }
}

/** z times (r + g)/2 beside b, and the mirrored z̄ times (r − g)/2 beside nothing. */
// @ts-expect-error: decorator
@inline function byColours(e: usize, z: v128, m: v128): v128 {
  const s = v128.load64_lane(e + 16, v128.load64_zero(e), 1), d = v128.load64_zero(e + 8);
  const own = cmul(z, v128.shuffle<f32>(s, s, 0, 0, 2, 2), mul(v128.shuffle<f32>(s, s, 1, 1, 3, 3), f32x4(-1, 1, -1, 1)));
  const wr = mul(v128.shuffle<f32>(d, d, 0, 0, 2, 2), f32x4(1, -1, 0, 0)), wi = v128.shuffle<f32>(d, d, 1, 1, 2, 2);
  return add(own, cmul(m, wr, wi));
}

/** r = (z + z̄)/2 and i·g = (z − z̄)/2; b stands in the other complex number. */
// @ts-expect-error: decorator
@inline function keepColours(e: usize, z: v128, m: v128): void {
  const half = sp(0.5), bar = f32x4(1, -1, 1, -1);
  const r = mul(add(z, mul(m, bar)), half), g = mul(turn(mul(sub(z, mul(m, bar)), half)), bar);
  store<u64>(e, i64x2.extract_lane(mul(add(r, g), half), 0));
  store<u64>(e + 8, i64x2.extract_lane(mul(sub(r, g), half), 0));
  store<u64>(e + 16, i64x2.extract_lane(z, 1));
}

/** Side by side: the two columns at `one`, and those at `two` and `last`; `h` rows, the rest of `n` black. */
function columnsIn(q: usize, one: usize, two: usize, last: usize, wide: i32, h: i32, n: usize): void {
  const S: usize = wide * 16;
  for (let y = 0; y < h; y++, q += 64, one += S, two += S, last += S) {
    st(q, ld(one)); v128.store(q, v128.load(one, 16), 16); v128.store(q, ld(two), 32); v128.store(q, ld(last), 48);
  }
  memory.fill(q, 0, (n - h) * 64);
}

function columnsOut(one: usize, two: usize, last: usize, q: usize, wide: i32, rows: i32): void {
  const S: usize = wide * 16;
  for (let y = 0; y < rows; y++, q += 64, one += S, two += S, last += S) {
    st(one, ld(q)); v128.store(one, v128.load(q, 16), 16); st(two, v128.load(q, 32)); st(last, v128.load(q, 48));
  }
}
