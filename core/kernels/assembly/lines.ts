/** Light along straight lines: a family of lines is sampled, filtered along each line, and added to a picture. */
import { line, quiet } from './gaussian';
import { add, F, ld, mul, sp, st, sub } from './vector';

/** A picture at whole `x` along its first axis and any `y` along its second, between its two neighbours; nothing outside. */
// @ts-expect-error: decorator
@inline function sample(s: usize, column: usize, across: i32, step: usize, y: f64): v128 {
  const low = Math.floor(y), i = <i32>low, f = <f32>(y - low);
  const p = s + column + <usize>i * step;
  const a = i >= 0 && i < across ? ld(p) : sp(0), b = i + 1 >= 0 && i + 1 < across ? ld(p + step) : sp(0);
  return add(a, mul(sub(b, a), sp(f)));
}

/**
 * Lines `lo` … `hi` of `count`, each `n` pixels of 16 bytes in `out`: one line after the other, or with `byPlace` the first pixels of all
 * lines, then the second ones, which is the order in which `linesOut` reads them. `lit` has one byte per line: 1 if the line has any light; other
 * lines are not written. Line k runs through y = a·(x + x0) + b at x = 0 … n − 1, `a` and `b` from
 * `table`, a gain behind them: three doubles a line. `along` and `step` are the strides of both axes in bytes (either may be negative),
 * `across` how many there are of the second. Filtered by `mode`:
 *
 * 1: a mean over all pixels before, weighted by a power of their distance from the source (`values`) and by the transmittance of the pixels
 * between, 1 − alpha.
 * 2: a Gaussian; `values` as for `recursiveRows`.
 * Scratch: 8 n pixels.
 */
export function linesIn(
  out: usize, from: usize, count: i32, n: i32, across: i32, along: i32, step: i32, x0: f64, byPlace: i32, table: usize, lit: usize, mode: i32, values: usize,
  lo: i32, hi: i32, scratch: usize,
): void {
  const size = <usize>n * 16, work = scratch + 4 * size + 64;
  for (let k = lo; k < hi; ) {
    const t = table + <usize>k * 24;
    const at = byPlace ? scratch : out + <usize>k * size;
    // The same slope, a pixel apart: read together, since they share all but one pixel of each step.
    const together = k + 4 <= hi && four(at, from, n, across, along, step, x0, t) ? 4 : 1;
    let seen = together == 4 && anyLight(at, n * 4);
    if (together == 1) {
      const a = load<f64>(t), b = load<f64>(t, 8), gain = sp(<f32>load<f64>(t, 16));
      let column = from;
      for (let x = 0; x < n; x++, column += <usize>along) {
        const v = mul(gain, sample(column, 0, across, <usize>step, a * (<f64>x + x0) + b));
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

function filtered(out: usize, n: i32, x0: f64, mode: i32, p: usize, scratch: usize): void {
  if (mode == 1) blocked(out, n, <f32>x0, p);
  else line(out, 16, out, 16, n, p, 0, scratch);
}

/** Samples four lines of the same slope and of gain 1, one pixel apart, into `out`. Returns false if they are not such lines. */
function four(out: usize, s: usize, n: i32, across: i32, along: i32, step: i32, x0: f64, t: usize): bool {
  const a = load<f64>(t), b = load<f64>(t, 8), gain = load<f64>(t, 16);
  if (load<f64>(t, 24) != a || load<f64>(t, 72) != a || load<f64>(t, 80) != b + 3 || gain != 1 || load<f64>(t, 88) != 1) return false;
  const size = <usize>n * 16, S = <usize>step;
  let column = s;
  for (let x = 0; x < n; x++, column += <usize>along) {
    const y = a * (<f64>x + x0) + b, low = Math.floor(y), i = <i32>low, f = sp(<f32>(y - low));
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

/** Running sum along a line, attenuated at each step by the distance and by the alpha of the pixel. */
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
    // The blocking pixel itself is lit; pixels behind it are not.
    st(o, mul(add(sum, light), sp(1 / norm)));
    sum = add(mul(sum, sp(through)), light);
  }
}

/**
 * Rows `lo` … `hi` of the picture `out` (`width` columns): adds the lines of one family, interpolated between the two lines beside each pixel. In pixels
 * from (cx, cy), with `swap` the axes exchanged, x runs along the lines: line (slope − low)·density where `radial`, slope = y/x, else
 * (y − slope·x − low)·density; only where x·side ≥ 0 and |y| ≤ |x| if radial. The place on the line is x·side + start.
 */
export function linesOut(
  out: usize, width: i32, lines: usize, lit: usize, count: i32, n: i32, cx: f64, cy: f64, swap: i32, radial: i32, side: f64, slope: f64, low: f64,
  density: f64, start: f64, lo: i32, hi: i32, scratch: usize,
): void {
  // With `swap` the lines are stored by position.
  const place1: usize = swap ? <usize>count * 16 : 16, line1: usize = swap ? 16 : <usize>n * 16;
  if (!radial) {
    // Every pixel has two lines beside it; the position between them advances by a constant per column.
    const scale: f64 = 4294967296;
    for (let row = lo; row < hi; row++) {
      let o = out + <usize>row * <usize>width * 16;
      const y = <f64>row - cy, x = -cx;
      const begin = swap ? x - slope * y : y - slope * x;
      let at = <i64>((begin - low) * density * scale);
      const by = <i64>((swap ? <f64>1 : -slope) * density * scale);
      for (let column = 0; column < width; column++, o += 16, at += by) {
        const first = lit + <usize>(at >> 32);
        if (!(load<u8>(first) | load<u8>(first, 1))) continue;
        const along = swap ? <f64>row - cy : <f64>column - cx;
        const p = lines + <usize>(at >> 32) * line1 + <usize>(<i32>(along * side + start)) * place1;
        // A line without light was not written.
        const a = load<u8>(first) ? ld(p) : sp(0), b = load<u8>(first, 1) ? ld(p + line1) : sp(0);
        const f = sp(<f32>(at & 0xffffffff) * <f32>2.3283064e-10);
        st(o, add(ld(o), add(a, mul(sub(b, a), f))));
      }
    }
    return;
  }
  for (let row = lo; row < hi; row++) {
    let o = out + <usize>row * <usize>width * 16;
    for (let column = 0; column < width; column++, o += 16) {
      const px = <f64>column - cx, py = <f64>row - cy;
      const x = swap ? py : px, y = swap ? px : py;
      const far = x * side, beside = Math.abs(y);
      // The diagonals and the centre belong to one family each.
      if (far < beside || (swap && far == beside) || (far == 0 && side < 0)) continue;
      const line = ((far > 0 ? y / far : 0) - low) * density;
      const place = <i32>(far + start + 0.5);
      if (place < 0 || place >= n) continue;
      const below = Math.floor(line), i = <i32>below;
      if (i < -1 || i >= count) continue;
      const p = lines + <usize>i * line1 + <usize>place * place1;
      const one = i >= 0 && load<u8>(lit + <usize>i), two = i + 1 < count && load<u8>(lit + <usize>(i + 1));
      if (!one && !two) continue;
      const a = one ? ld(p) : sp(0), b = two ? ld(p + line1) : sp(0);
      st(o, add(ld(o), add(a, mul(sub(b, a), sp(<f32>(line - below))))));
    }
  }
}
