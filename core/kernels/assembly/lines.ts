/** Light along straight lines, without steps: a family of lines is sampled, filtered along each, and put back onto the picture. */
import { line, quiet } from './gaussian';
import { add, F, ld, mul, sp, st, sub } from './vector';

/** A picture at whole `x` along its first axis and any `y` along its second, between its two neighbours; nothing outside. */
// @ts-expect-error: decorator
@inline function sample(s: usize, column: usize, across: i32, step: usize, y: f32): v128 {
  const low = Mathf.floor(y), i = <i32>low, f = y - low;
  const p = s + column + <usize>i * step;
  const a = i >= 0 && i < across ? ld(p) : sp(0), b = i + 1 >= 0 && i + 1 < across ? ld(p + step) : sp(0);
  return add(a, mul(sub(b, a), sp(f)));
}

/**
 * Lines `lo` … `hi` of `count`, each `n` pixels of 16 bytes in `out`: one line after the other, or with `byPlace` the first pixels of all
 * lines, then the second ones, so that who reads across the lines reads on. A byte a line at `lit` says whether light is on it at all; the
 * others are not written. Line k runs through y = a·(x + x0) + b at x = 0 … n − 1, `a` and `b` from
 * `table`, a gain behind them: three floats a line. `along` and `step` are the strides of both axes in bytes (either may be negative),
 * `across` how many there are of the second. Filtered by `mode`:
 *
 * 1: a mean over the way back to x − U with U = u0 + u1·(x + x0), weights (1 − u/U)^f for f = 0, 1, 2 blended; `values`: u0, u1, three weights.
 * 3: a mean over the whole way, each pixel weighted by its distance from where it begins to the power `values` says, and by what the pixels
 * between let through: 1 less their alpha.
 * 2: a Gaussian; `values` as for `recursiveRows`.
 * Scratch: 8 n pixels.
 */
export function linesIn(
  out: usize, from: usize, count: i32, n: i32, across: i32, along: i32, step: i32, x0: f32, byPlace: i32, table: usize, lit: usize, mode: i32, values: usize,
  lo: i32, hi: i32, scratch: usize,
): void {
  const size = <usize>n * 16, work = scratch + 4 * size + 64;
  for (let k = lo; k < hi; ) {
    const t = table + <usize>k * 12;
    const at = byPlace ? scratch : out + <usize>k * size;
    // The same slope, a pixel apart: read together, since they share all but one pixel of each step.
    const together = k + 4 <= hi && four(at, from, n, across, along, step, x0, t) ? 4 : 1;
    let seen = together == 4 && anyLight(at, n * 4);
    if (together == 1) {
      const a = F(t), b = F(t + 4), gain = sp(F(t + 8));
      let column = from;
      for (let x = 0; x < n; x++, column += <usize>along) {
        const v = mul(gain, sample(column, 0, across, <usize>step, a * (<f32>x + x0) + b));
        if (v128.any_true(v)) seen = true;
        st(at + <usize>x * 16, v);
      }
    }
    // Many lines of a picture of lamps see no light.
    for (let j = 0; j < together; j++) store<u8>(lit + <usize>(k + j), seen ? 1 : 0);
    if (!seen) {
      k += together;
      continue;
    }
    for (let j = 0; j < together; j++) filtered(at + <usize>j * size, n, x0, mode, values, work);
    if (byPlace) {
      let o = out + <usize>k * 16;
      for (let x = 0; x < n; x++, o += <usize>count * 16)
        for (let j = 0; j < together; j++) st(o + <usize>j * 16, ld(at + <usize>j * size + <usize>x * 16));
    }
    k += together;
  }
}

/** True where any of `count` pixels is not all 0. */
function anyLight(at: usize, count: i32): bool {
  for (let i: usize = 0, e: usize = <usize>count * 16; i < e; i += 16) if (v128.any_true(ld(at + i))) return true;
  return false;
}

function filtered(out: usize, n: i32, x0: f32, mode: i32, p: usize, scratch: usize): void {
  if (mode == 1) window(out, n, x0, p, scratch);
  else if (mode == 3) blocked(out, n, x0, p);
  else line(out, 16, out, 16, n, p, 0, scratch);
}

/** Four lines of the same slope and gain that lie a pixel apart, sampled into `out`; false where they are not such lines. */
function four(out: usize, s: usize, n: i32, across: i32, along: i32, step: i32, x0: f32, t: usize): bool {
  const a = F(t), b = F(t + 4), gain = F(t + 8);
  if (F(t + 12) != a || F(t + 36) != a || F(t + 40) != b + 3 || gain != 1 || F(t + 44) != 1) return false;
  const size = <usize>n * 16, S = <usize>step;
  let column = s;
  for (let x = 0; x < n; x++, column += <usize>along) {
    const y = a * (<f32>x + x0) + b, low = Mathf.floor(y), i = <i32>low, f = sp(y - low);
    const o = out + <usize>x * 16;
    if (i + 4 < 0 || i >= across) {
      st(o, sp(0)); st(o + size, sp(0)); st(o + 2 * size, sp(0)); st(o + 3 * size, sp(0));
      continue;
    }
    const p = column + <usize>i * S;
    let v0 = sp(0), v1 = sp(0), v2 = sp(0), v3 = sp(0), v4 = sp(0);
    if (i >= 0 && i + 4 < across) {
      v0 = ld(p); v1 = ld(p + S); v2 = ld(p + 2 * S); v3 = ld(p + 3 * S); v4 = ld(p + 4 * S);
    } else {
      if (i >= 0) v0 = ld(p);
      if (i + 1 >= 0 && i + 1 < across) v1 = ld(p + S);
      if (i + 2 >= 0 && i + 2 < across) v2 = ld(p + 2 * S);
      if (i + 3 >= 0 && i + 3 < across) v3 = ld(p + 3 * S);
      if (i + 4 < across) v4 = ld(p + 4 * S);
    }
    st(o, add(v0, mul(sub(v1, v0), f)));
    st(o + size, add(v1, mul(sub(v2, v1), f)));
    st(o + 2 * size, add(v2, mul(sub(v3, v2), f)));
    st(o + 3 * size, add(v3, mul(sub(v4, v3), f)));
  }
  return true;
}

/** Running sum of what comes along a line: each step on it is thinned by the distance and held back by what stands in its way. */
function blocked(out: usize, n: i32, x0: f32, p: usize): void {
  const power = F(p), reach = F(p + 4);
  let sum = sp(0), norm: f32 = 0;
  for (let x = 0; x < n; x++) {
    const o = out + <usize>x * 16, v = ld(o);
    const far = Mathf.abs(<f32>x + x0);
    // By the distance from the centre, or for a far sun by pixels of its reach.
    const thin: f32 = reach > 0 ? Mathf.exp(-power / reach) : far > 1 ? Mathf.pow((far - 1) / far, power) : 0;
    const through: f32 = 1 - min<f32>(1, max<f32>(0, f32x4.extract_lane(v, 3)));
    const light = f32x4.replace_lane(v, 3, 0);
    sum = quiet(mul(sum, sp(thin)));
    norm = norm * thin + 1;
    // The pixel that stands in the way is lit itself; what is behind it is not.
    st(o, mul(add(sum, light), sp(1 / norm)));
    sum = add(mul(sum, sp(through)), light);
  }
}

/** A moment at x − u, between its neighbours; 0 before the first. */
// @ts-expect-error: decorator
@inline function moment(base: usize, place: f32): v128 {
  if (place < 0) return place <= -1 ? sp(0) : mul(ld(base), sp(1 + place));
  const low = Mathf.floor(place), p = base + <usize>low * 16;
  const a = ld(p);
  return add(a, mul(sub(v128.load(p, 16), a), sp(place - low)));
}

/** Sums of S, u·S and u²·S over all that came before, u being how far back it was, are kept for each x; a window is the difference of two. */
function window(out: usize, n: i32, x0: f32, p: usize, scratch: usize): void {
  const m0 = scratch, m1 = scratch + <usize>n * 16 + 16, m2 = m1 + <usize>n * 16 + 16;
  let s0 = sp(0), s1 = sp(0), s2 = sp(0);
  for (let x = 0; x < n; x++) {
    // One pixel on: u grows by one.
    s2 = add(s2, add(add(s1, s1), s0));
    s1 = add(s1, s0);
    const o = <usize>x * 16, v = ld(out + o);
    s0 = add(s0, v);
    // The pixel itself counts half: the trapezium rule, exact between pixels that are joined by lines.
    st(m0 + o, sub(s0, mul(v, sp(0.5)))); st(m1 + o, s1); st(m2 + o, s2);
  }
  // Read once past the end by the interpolation.
  const end = <usize>n * 16;
  st(m0 + end, s0); st(m1 + end, s1); st(m2 + end, s2);
  const u0 = F(p), u1 = F(p + 4), c0 = F(p + 8), c1 = F(p + 12), c2 = F(p + 16);
  for (let x = 0; x < n; x++) {
    const o = <usize>x * 16;
    const U = Mathf.max(1, u0 + u1 * Mathf.abs(<f32>x + x0)), place = <f32>x - U;
    // Sums over 0 ≤ u < U: what came before the window began is taken off, moved on by U.
    const b0 = moment(m0, place), b1 = moment(m1, place), b2 = moment(m2, place);
    const w0 = sub(ld(m0 + o), b0);
    const w1 = sub(ld(m1 + o), add(b1, mul(b0, sp(U))));
    const w2 = sub(ld(m2 + o), add(b2, mul(sp(U), add(add(b1, b1), mul(b0, sp(U))))));
    const r: f32 = 1 / U;
    // ∫(1 − u/U)^f of a window full of ones; the rule is a little above a curve.
    const n0 = U, n1: f32 = U * <f32>0.5, n2: f32 = U / 3 + 1 / (6 * U);
    let v = mul(w0, sp(c0 / n0));
    if (c1 != 0 || c2 != 0) {
      const first = sub(w0, mul(w1, sp(r)));
      v = add(v, mul(first, sp(c1 / n1)));
      if (c2 != 0) v = add(v, mul(add(sub(first, mul(w1, sp(r))), mul(w2, sp(r * r))), sp(c2 / n2)));
    }
    // What is taken off may miss zero by a rounding.
    st(out + o, f32x4.pmax(v, sp(0)));
  }
}

/**
 * Rows `lo` … `hi` of the picture `out` (`width` columns): adds what lines of one family hold. In pixels from (cx, cy), with `swap` the
 * axes exchanged, x runs along the lines: line k = slope·y/x + shift where `radial`, else k = y − slope·x + shift; only where x·side > 0
 * and |y| ≤ |x| if radial. The place on the line is x·side + start.
 */
export function linesOut(
  out: usize, width: i32, lines: usize, lit: usize, count: i32, n: i32, cx: f32, cy: f32, swap: i32, radial: i32, side: f32, slope: f32, shift: f32, start: f32,
  gain: f32, lo: i32, hi: i32, scratch: usize,
): void {
  const k = sp(gain);
  // Lines whose axes are exchanged lie by their places.
  const place1: usize = swap ? <usize>count * 16 : 16, line1: usize = swap ? 16 : <usize>n * 16;
  if (!radial) {
    // Every pixel lies between two lines there are, the same part of a pixel further at each column.
    const scale: f64 = 4294967296;
    for (let row = lo; row < hi; row++) {
      let o = out + <usize>row * <usize>width * 16;
      const y = <f64>row - <f64>cy, x = -<f64>cx;
      const begin = swap ? x - <f64>slope * y : y - <f64>slope * x;
      let at = <i64>((begin + <f64>shift) * scale);
      const across: f64 = swap ? 1 : -<f64>slope, by = <i64>(across * scale);
      for (let column = 0; column < width; column++, o += 16, at += by) {
        const first = lit + <usize>(at >> 32);
        if (!(load<u8>(first) | load<u8>(first, 1))) continue;
        const along = swap ? <f32>row - cy : <f32>column - cx;
        const p = lines + <usize>(at >> 32) * line1 + <usize>(<i32>(along * side + start)) * place1;
        // A line without light was not written.
        const a = load<u8>(first) ? ld(p) : sp(0), b = load<u8>(first, 1) ? ld(p + line1) : sp(0);
        const f = sp(<f32>(at & 0xffffffff) * <f32>2.3283064e-10);
        st(o, add(ld(o), mul(k, add(a, mul(sub(b, a), f)))));
      }
    }
    return;
  }
  for (let row = lo; row < hi; row++) {
    let o = out + <usize>row * <usize>width * 16;
    for (let column = 0; column < width; column++, o += 16) {
      const px = <f32>column - cx, py = <f32>row - cy;
      const x = swap ? py : px, y = swap ? px : py;
      const far = x * side;
      // The middle itself, and the diagonals, belong to one family each.
      if (far < 0.5 || Mathf.abs(y) > far || (swap && Mathf.abs(y) == far)) continue;
      const line: f32 = slope * y / far + shift;
      const place = <i32>(x * side + start + <f32>0.5);
      if (place < 0 || place >= n) continue;
      const low = Mathf.floor(line), i = <i32>low;
      if (i < -1 || i >= count) continue;
      const p = lines + <usize>i * line1 + <usize>place * place1;
      const one = i >= 0 && load<u8>(lit + <usize>i), two = i + 1 < count && load<u8>(lit + <usize>(i + 1));
      if (!one && !two) continue;
      const a = one ? ld(p) : sp(0), b = two ? ld(p + line1) : sp(0);
      st(o, add(ld(o), mul(k, add(a, mul(sub(b, a), sp(line - low))))));
    }
  }
}
