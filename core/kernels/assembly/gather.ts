/** Weighted means of light along the lines of a family; see `core/kernels/gather.ts`. */
import { add, ld, mul, sp, st, sub } from './vector';

const scale: f64 = 4294967296, small: f32 = 2.3283064e-10;

/**
 * Value of a column of `across` rows at y (fixed point, 32 fractional bits), interpolated between two rows, times `gain`. A border pixel extends over its
 * area, half a pixel outwards: pixels at the border are interpolated between a line inside and one just outside, and both must have its full
 * light. Beyond that the value is 0, or that of the border if `held`.
 */
// @ts-expect-error: decorator
@inline function between(column: usize, y: i64, across: i32, step: usize, gain: f32, held: bool): v128 {
  const i = <i32>(y >> 32), f = <f32>(<u32>y) * small, p = column + <usize>i * step;
  if (i >= 0 && i + 1 < across) return add(mul(ld(p), sp((<f32>1 - f) * gain)), mul(ld(p + step), sp(f * gain)));
  if (!held && !inside(y, across)) return sp(0);
  return mul(ld(column + (i < 0 ? 0 : <usize>(across - 1) * step)), sp(gain));
}

/** True if y is within the area of a row, with a tolerance for rounding. */
// @ts-expect-error: decorator
@inline function inside(y: i64, across: i32): bool { return y >= -0x80010000 && y <= (<i64>(across - 1) << 32) + 0x80010000; }

/** The first two lanes in double precision; `high`: the last two. */
// @ts-expect-error: decorator
@inline function low(v: v128): v128 { return f64x2.promote_low_f32x4(v); }
// @ts-expect-error: decorator
@inline function high(v: v128): v128 { return f64x2.promote_low_f32x4(v128.shuffle<f32>(v, v, 2, 3, 2, 3)); }
// @ts-expect-error: decorator
@inline function plus(a: v128, b: v128): v128 { return f64x2.add(a, b); }
// @ts-expect-error: decorator
@inline function times(a: v128, k: f64): v128 { return f64x2.mul(a, f64x2.splat(k)); }

/**
 * Lines `lo` … `hi` of `count`. Line k is sampled at y = a·z + b in the `n` columns z = x0, x0 + 1, …; the result is the mean for each column. `table` has
 * three doubles per line: a, b and a gain. `from` is the address of the first column, `along` and `step` are the strides of the two axes in bytes
 * (either may be negative), `across` is the number of rows of the second axis. The line starts `lead` (0 to 1) before the first column; if `before` the
 * picture has a column there, else it is black there. Output at `out`: one line after the other, or with `byPlace` the first pixels of all lines,
 * then the second ones. `lit` has one byte per line: 1 if the line has any light. Lines without light, and the parts of a line more than a
 * pixel outside the picture, are not written.
 *
 * The mean covers z − U … z with U = u0 + u1·z. Its weight is a piecewise polynomial P(x) of order 0 to 2; x is 0 at z − U and 1 at z.
 * `values` has doubles: u0, u1, the order, the number of pieces, three coefficients of the last piece, ∫P and ∫xP from 0 to each
 * multiple of 1/256, then for each piece its start in x and its coefficients minus those of the piece before. Between two columns the light is a
 * parabola through both ends and the middle. Prefix sums of S, z·S and z²·S are kept in double precision; a window is the difference of two.
 * Scratch: 8 (n + 1) pixels, and 4 n more with `byPlace`.
 */
export function gatherIn(
  out: usize, from: usize, count: i32, n: i32, across: i32, along: i32, step: i32, x0: f64, lead: f64, before: i32, byPlace: i32, table: usize,
  lit: usize, values: usize, lo: i32, hi: i32, scratch: usize,
): void {
  const size = <usize>n * 16, work = scratch + (byPlace ? 4 * size : 0);
  for (let k = lo; k < hi; k += 4) {
    // Four lines at a time, so that `byPlace` writes neighbouring pixels together.
    const together = min(4, hi - k);
    let bits = 0, least = n, most = 0;
    for (let j = 0; j < together; j++) {
      const at = byPlace ? scratch + <usize>j * size : out + <usize>(k + j) * size;
      const line = table + <usize>(k + j) * 24, a = load<f64>(line), b = load<f64>(line, 8);
      // Columns at which the line is in the picture: from `first` to before `end`.
      const one = a == 0 ? (b > -1 && b < <f64>across ? -1e9 : 1e9) : (-1 - b) / a - x0, two = a == 0 ? 1e9 : (<f64>across - b) / a - x0;
      const first = <i32>max<f64>(0, min<f64>(<f64>n, Math.floor(min(one, two)))), end = <i32>max<f64>(0, min<f64>(<f64>n, Math.ceil(max(one, two)) + 1));
      let seen = false;
      if (first < end) {
        const start = from + <usize>(first * along), z = x0 + <f64>first, cell: f64 = first ? 1 : lead, here = first ? 1 : before;
        seen = sampled(work, start, end - first, across, along, <usize>step, z, cell, here, a, b, <f32>load<f64>(line, 16));
        if (seen) {
          means(at + <usize>first * 16, work, end - first, z, cell, values);
          bits |= 1 << j;
          least = min(least, first);
          most = max(most, end);
        }
      }
      store<u8>(lit + <usize>(k + j), seen ? 1 : 0);
    }
    if (!byPlace || !bits) continue;
    let o = out + (<usize>least * <usize>count + <usize>k) * 16, i = scratch + <usize>least * 16;
    for (let x = least; x < most; x++, o += <usize>count * 16, i += 16) {
      if (bits & 1) st(o, ld(i));
      if (bits & 2) v128.store(o, ld(i + size), 16);
      if (bits & 4) v128.store(o, ld(i + 2 * size), 32);
      if (bits & 8) v128.store(o, ld(i + 3 * size), 48);
    }
  }
}

/** Where the line that was sampled last comes into the picture over the border of its rows: in the cell before this column (0: nowhere), after this share of it. */
let entry: i32 = 0, entryAt: f64 = 0;

/**
 * Samples a line: at its start and at the `n` columns into `work`, and behind them at the middle of the cell before each column. Returns true if
 * there is any light.
 */
function sampled(
  work: usize, from: usize, n: i32, across: i32, along: i32, step: usize, x0: f64, lead: f64, before: i32, a: f64, b: f64, gain: f32,
): bool {
  const half: f32 = gain * <f32>0.5, middles = work + <usize>(n + 1) * 16, back = <usize>along;
  let any = sp(0);
  let y = <i64>((a * x0 + b) * scale);
  const by = <i64>(a * scale), aside = by >> 1;
  entry = 0;
  // The borders lie half a pixel beyond the first and the last row.
  const border: i64 = by > 0 ? -0x80000000 : (<i64>(across - 1) << 32) + 0x80000000;
  // Away from the borders all rows that are read exist.
  const high = <i64>(across - 3) << 32, low: i64 = 1 << 32;
  let column = from, o: usize = 16;
  for (let j = 1; j <= n; j++, column += back, o += 16, y += by) {
    const ym = y - aside;
    if (j > 1 && y >= low && y < high) {
      const p = column + <usize>(y >> 32) * step, f = <f32>(<u32>y) * small;
      const v = add(mul(ld(p), sp((<f32>1 - f) * gain)), mul(ld(p + step), sp(f * gain)));
      const q = column + <usize>(ym >> 32) * step, r = q - back, g = <f32>(<u32>ym) * small;
      const m = add(mul(add(ld(q), ld(r)), sp((<f32>1 - g) * half)), mul(add(ld(q + step), ld(r + step)), sp(g * half)));
      st(work + o, v);
      st(middles + o, m);
      any = v128.or(any, v128.or(v, m));
      continue;
    }
    const v = between(column, y, across, step, gain, false);
    st(work + o, v);
    any = v128.or(any, v);
    if (j == 1) continue;
    // Where the line enters the picture, the cell before gets the border's light, and counts from the border on.
    const enters = inside(y, across) && !inside(y - by, across);
    if (enters) {
      entry = j;
      entryAt = min<f64>(1, max<f64>(0, <f64>(border - (y - by)) / <f64>by));
    }
    if (enters) st(work + o - 16, between(column - back, y - by, across, step, gain, true));
    const m = add(between(column - back, ym, across, step, half, enters), between(column, ym, across, step, half, enters));
    st(middles + o, m);
    any = v128.or(any, m);
  }
  // The first cell may be shorter: its start and its middle.
  const enters = inside(<i64>((a * x0 + b) * scale), across);
  for (let part = 0; part < 2; part++) {
    const far = part ? lead * 0.5 : lead, there = <i64>((a * (x0 - far) + b) * scale);
    const near = (<f32>1 - <f32>far) * gain, past = before ? <f32>far * gain : 0;
    let v = between(from, there, across, step, near, enters);
    if (past > 0) v = add(v, between(from - back, there, across, step, past, enters));
    st(part ? middles + 16 : work, v);
    any = v128.or(any, v);
  }
  return v128.any_true(any);
}

/** Windows of fewer pixels are summed cell by cell: for them differences of prefix sums would cancel. */
const shortest: f64 = 16;
const tableBytes: usize = 257 * 16;

// @ts-expect-error: decorator
@inline function parabola(s0: v128, m: v128, s1: v128, t: f32): v128 {
  return add(add(mul(s0, sp((1 - t) * (1 - 2 * t))), mul(m, sp(4 * t * (1 - t)))), mul(s1, sp(t * (2 * t - 1))));
}

/** The mean from column `j` back to `a` = j − 1 − U: each cell contributes its mean and its slope, by the cell's weight and the centroid of that. */
function shortMean(work: usize, middles: usize, j: i32, lead: f64, a: f64, U: f64, table: usize): v128 {
  let sum = sp(0), upper: f64 = 1, end: f64 = 1, first = load<f64>(table, 256 * 16 + 8), far: f64 = <f64>(j - 1);
  for (let cell = j; cell > 0 && cell >= entry; cell--) {
    const o = <usize>cell * 16, s1 = ld(work + o);
    let start: f64 = cell == 1 ? -lead : <f64>(cell - 2), m = ld(middles + o), s0 = ld(work + o - 16), x: f64 = 0;
    if (cell == entry) {
      start += entryAt * (far - start);
      m = s1;
      s0 = s1;
    }
    const wide = far - start;
    let middle = m;
    if (start < a) {
      // The window ends in this cell.
      const t = <f32>(wide > 0 ? (a - start) / wide : 0);
      middle = parabola(s0, m, s1, <f32>0.5 * (1 + t));
      s0 = parabola(s0, m, s1, t);
    } else x = U > 0 ? (start - a) / U : 0;
    const at = x * 256, k = <i32>at, f = at - <f64>k, p = table + <usize>k * 16;
    const lower = load<f64>(p) + (k < 256 ? (load<f64>(p, 16) - load<f64>(p)) * f : 0), second = load<f64>(p, 8) + (k < 256 ? (load<f64>(p, 24) - load<f64>(p, 8)) * f : 0);
    const weight = upper - lower;
    if (weight > 0) {
      const place = <f32>(((first - second) / weight - x) / (end - x) - 0.5);
      const mean = mul(add(add(s0, s1), mul(middle, sp(4))), sp(1.0 / 6));
      sum = add(sum, mul(add(mean, mul(sub(s1, s0), sp(place))), sp(<f32>weight)));
    }
    if (x == 0) break;
    upper = lower; first = second; end = x; far = start;
  }
  return f32x4.pmax(sum, sp(0));
}

function means(out: usize, work: usize, n: i32, x0: f64, lead: f64, values: usize): void {
  const order = <i32>load<f64>(values, 16), pieces = <i32>load<f64>(values, 24);
  const u0 = load<f64>(values), u1 = load<f64>(values, 8);
  const c0 = load<f64>(values, 32), c1 = load<f64>(values, 40), c2 = load<f64>(values, 48);
  const middles = work + <usize>(n + 1) * 16, sums = middles + <usize>(n + 1) * 16;
  const stride = <usize>(order + 1) * 32;
  let r0 = sp(0), b0 = sp(0), r1 = sp(0), b1 = sp(0), r2 = sp(0), b2 = sp(0);
  memory.fill(sums, 0, stride);
  for (let j = 1; j <= n; j++) {
    const o = <usize>j * 16, s0 = ld(work + o - 16), m = ld(middles + o), s1 = ld(work + o);
    // Measured from the line's first column, which keeps the sums small.
    const z = j == 1 ? -lead : <f64>(j - 2), l: f64 = j == 1 ? lead : 1;
    const at = sums + <usize>j * stride;
    const s0r = low(s0), s0b = high(s0), mr = low(m), mb = high(m), s1r = low(s1), s1b = high(s1);
    // ∫S dθ, ∫θS dθ and ∫θ²S dθ over the cell, θ from 0 to 1.
    let p0r = times(plus(plus(s0r, s1r), times(mr, 4)), l / 6), p0b = times(plus(plus(s0b, s1b), times(mb, 4)), l / 6);
    if (j <= entry) {
      // Even light from the border on, and nothing before it.
      const k: f64 = j < entry ? 0 : l * (1 - entryAt);
      p0r = times(s1r, k); p0b = times(s1b, k);
    }
    r0 = plus(r0, p0r); b0 = plus(b0, p0b);
    st(at, r0); v128.store(at, b0, 16);
    if (order > 0) {
      let p1r = times(plus(plus(mr, mr), s1r), l * l / 6), p1b = times(plus(plus(mb, mb), s1b), l * l / 6);
      if (j <= entry) {
        const k: f64 = j < entry ? 0 : l * l * (1 - entryAt * entryAt) / 2;
        p1r = times(s1r, k); p1b = times(s1b, k);
      }
      r1 = plus(r1, plus(times(p0r, z), p1r)); b1 = plus(b1, plus(times(p0b, z), p1b));
      v128.store(at, r1, 32); v128.store(at, b1, 48);
      if (order > 1) {
        const q = l * l * l;
        let p2r = plus(times(s0r, q / -60), plus(times(mr, q / 5), times(s1r, q * 0.15))), p2b = plus(times(s0b, q / -60), plus(times(mb, q / 5), times(s1b, q * 0.15)));
        if (j <= entry) {
          const k: f64 = j < entry ? 0 : q * (1 - entryAt * entryAt * entryAt) / 3;
          p2r = times(s1r, k); p2b = times(s1b, k);
        }
        r2 = plus(r2, plus(times(p0r, z * z), plus(times(p1r, 2 * z), p2r))); b2 = plus(b2, plus(times(p0b, z * z), plus(times(p1b, 2 * z), p2b)));
        v128.store(at, r2, 64); v128.store(at, b2, 80);
      }
    }
    const U = u0 + u1 * (x0 + <f64>(j - 1)), a = <f64>(j - 1) - U;
    if (U < shortest) {
      st(out + o - 16, shortMean(work, middles, j, lead, a, U, values + 56));
      continue;
    }
    const r = 1 / U, ar = a * r;
    // P as a polynomial of z, divided by U.
    let q0 = (c0 - c1 * ar + c2 * ar * ar) * r, q1 = (c1 - 2 * c2 * ar) * r * r, q2 = c2 * r * r * r;
    let R = times(r0, q0), B = times(b0, q0);
    if (order > 0) { R = plus(R, times(r1, q1)); B = plus(B, times(b1, q1)); }
    if (order > 1) { R = plus(R, times(r2, q2)); B = plus(B, times(b2, q2)); }
    let piece = values + 56 + tableBytes;
    for (let b = 0; b < pieces; b++, piece += 32) {
      const begin = a + load<f64>(piece) * U;
      // Before the start of the line the sums are 0.
      if (begin <= -lead) continue;
      const d0 = load<f64>(piece, 8), d1 = load<f64>(piece, 16), d2 = load<f64>(piece, 24);
      q0 = -(d0 - d1 * ar + d2 * ar * ar) * r; q1 = -(d1 - 2 * d2 * ar) * r * r; q2 = -d2 * r * r * r;
      // The cell of the breakpoint, and its position in it.
      const first = begin < 0, past = first ? 0 : begin, whole = <i32>past, cell = first ? 1 : whole + 2;
      const p = sums + <usize>(cell - 1) * stride;
      R = plus(R, times(ld(p), q0)); B = plus(B, times(v128.load(p, 16), q0));
      if (order > 0) { R = plus(R, times(v128.load(p, 32), q1)); B = plus(B, times(v128.load(p, 48), q1)); }
      if (order > 1) { R = plus(R, times(v128.load(p, 64), q2)); B = plus(B, times(v128.load(p, 80), q2)); }
      if (cell > n) continue;
      if (cell < entry) continue;
      const wide: f64 = first ? lead : 1, zc = first ? -lead : <f64>whole;
      const t = first ? (begin + lead) / lead : past - <f64>whole, tt = t * t, ttt = tt * t;
      if (cell == entry) {
        // ∫ q dz of even light from the border to the breakpoint.
        if (t <= entryAt) continue;
        const z0 = zc + wide * entryAt, z1 = zc + wide * t;
        const all = q0 * (z1 - z0) + q1 * (z1 * z1 - z0 * z0) / 2 + q2 * (z1 * z1 * z1 - z0 * z0 * z0) / 3;
        const even = mul(ld(work + <usize>cell * 16), sp(<f32>all));
        R = plus(R, low(even)); B = plus(B, high(even));
        continue;
      }
      // Weights of the cell's ends and middle for the part before the breakpoint.
      const k0 = (q0 + q1 * zc + q2 * zc * zc) * wide;
      let w0 = k0 * (t - 1.5 * tt + (2.0 / 3) * ttt), wm = k0 * (2 * tt - (4.0 / 3) * ttt), w1 = k0 * ((2.0 / 3) * ttt - 0.5 * tt);
      if (order > 0) {
        const k1 = (q1 + 2 * q2 * zc) * wide * wide, k2 = q2 * wide * wide * wide;
        w0 += k1 * (0.5 * tt - ttt + 0.5 * tt * tt) + k2 * (ttt / 3 - 0.75 * tt * tt + 0.4 * ttt * tt);
        wm += k1 * ((4.0 / 3) * ttt - tt * tt) + k2 * (tt * tt - 0.8 * ttt * tt);
        w1 += k1 * (0.5 * tt * tt - ttt / 3) + k2 * (0.4 * ttt * tt - 0.25 * tt * tt);
      }
      const c = <usize>cell * 16;
      const part = add(add(mul(ld(work + c - 16), sp(<f32>w0)), mul(ld(middles + c), sp(<f32>wm))), mul(ld(work + c), sp(<f32>w1)));
      R = plus(R, low(part)); B = plus(B, high(part));
    }
    const v = v128.shuffle<f32>(f32x4.demote_f64x2_zero(R), f32x4.demote_f64x2_zero(B), 0, 1, 4, 5);
    // A parabola can be negative.
    st(out + o - 16, f32x4.pmax(v, sp(0)));
  }
}
