/** Kernels that read pictures between pixels. Pixel centres are at whole numbers; outside there is nothing. */
import { add, clamp01, L, ld, mul, row, sp, st, sub } from './vector';

/** Sharp filters swing past the ends; coverage does not, and the colour goes with it, or edges had fringes. */
// @ts-expect-error: decorator
@inline function settled(c: v128): v128 {
  const a = f32x4.extract_lane(c, 3);
  if (a > <f32>1.00001) return f32x4.replace_lane(mul(c, sp(<f32>1 / a)), 3, 1);
  if (a < 0) return f32x4.replace_lane(f32x4.max(c, sp(0)), 3, 0);
  return f32x4.replace_lane(c, 3, clamp01(a));
}

/**
 * Rows `lo` … `hi` of a picture dw wide, read at x' = a·x + b·y + c, y' = e·x + f·y + g with a filter of `taps` taps
 * (2, 4 or 6) whose weights stand in `table` for each 1/256 of a pixel. Scratch: fromWidth + 12 pixels.
 */
export function resample(
  out: usize, width: i32, from: usize, fromWidth: i32, fromHeight: i32, a: f32, b: f32, c: f32, d: f32, e: f32, f: f32, table: usize, taps: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const half = taps / 2 - 1, none = sp(0);
  if (b == 0 && d == 0) {
    straight(out, width, from, fromWidth, fromHeight, a, c, e, f, table, taps, lo, hi, scratch);
    return;
  }
  for (let y = lo; y < hi; y++) {
    for (let x = 0; x < width; x++) {
      const fx = a * <f32>x + b * <f32>y + c, fy = d * <f32>x + e * <f32>y + f;
      const ix = <i32>Mathf.floor(fx), iy = <i32>Mathf.floor(fy);
      const kx = table + <usize>(<i32>((fx - <f32>ix) * 256 + 0.5) * taps) * 4;
      const ky = table + <usize>(<i32>((fy - <f32>iy) * 256 + 0.5) * taps) * 4;
      let sum = none;
      if (ix + taps >= 0 && iy + taps >= 0 && ix - taps < fromWidth && iy - taps < fromHeight) {
        for (let j = 0; j < taps; j++) {
          const py = iy - half + j;
          if (py < 0 || py >= fromHeight) continue;
          let line = none;
          for (let i = 0; i < taps; i++) {
            const px = ix - half + i;
            if (px < 0 || px >= fromWidth) continue;
            line = add(line, mul(ld(from + (<usize>(py * fromWidth + px) << 4)), L(kx + <usize>i * 4)));
          }
          sum = add(sum, mul(line, L(ky + <usize>j * 4)));
        }
      }
      st(out + (<usize>(y * width + x) << 4), settled(sum));
    }
  }
}

/** `resample` without a turn: all of a row reads from the same rows, which are put together first. */
function straight(
  d: usize, dw: i32, s: usize, w: i32, h: i32, a: f32, c: f32, f: f32, g: f32, table: usize, taps: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const half = taps / 2 - 1, line = scratch + 96, none = sp(0);
  // Nothing beyond either end.
  memory.fill(scratch, 0, 96);
  memory.fill(line + <usize>w * 16, 0, 96);
  // Columns that are read at all.
  const one = c, two = a * <f32>(dw - 1) + c;
  const begin = max(0, <i32>Mathf.floor(min(one, two)) - half), end = min(w, <i32>Mathf.floor(max(one, two)) - half + taps);
  for (let y = lo; y < hi; y++) {
    let o = d + <usize>y * <usize>dw * 16;
    const fy = f * <f32>y + g, iy = <i32>Mathf.floor(fy) - half;
    const ky = table + <usize>(<i32>((fy - Mathf.floor(fy)) * 256 + 0.5) * taps) * 4;
    if (iy + taps <= 0 || iy >= h || begin >= end) {
      memory.fill(o, 0, <usize>dw * 16);
      continue;
    }
    let any = false;
    for (let j = 0; j < taps; j++) {
      if (iy + j < 0 || iy + j >= h) continue;
      const k = L(ky + <usize>j * 4), from = row(s, iy + j, <usize>w * 16);
      if (any) for (let x = begin; x < end; x++) { const q: usize = <usize>x * 16; st(line + q, add(ld(line + q), mul(ld(from + q), k))); }
      else for (let x = begin; x < end; x++) { const q: usize = <usize>x * 16; st(line + q, mul(ld(from + q), k)); }
      any = true;
    }
    for (let x = 0; x < dw; x++, o += 16) {
      const fx = a * <f32>x + c, ix = <i32>Mathf.floor(fx) - half;
      let sum = none;
      if (ix + taps > 0 && ix < w) {
        const k = table + <usize>(<i32>((fx - Mathf.floor(fx)) * 256 + 0.5) * taps) * 4, p = line + <usize>ix * 16;
        sum = add(mul(ld(p), L(k)), mul(v128.load(p, 16), L(k + 4)));
        for (let i = 2; i < taps; i++) sum = add(sum, mul(ld(p + <usize>i * 16), L(k + <usize>i * 4)));
      }
      st(o, settled(sum));
    }
  }
}

/**
 * Rows `lo` … `hi`: adds to `out` the picture `from` of the same size, its red, green and blue each seen at 1/scale of its size about the middle and
 * times `t`; between four pixels.
 */
export function addThrown(out: usize, from: usize, width: i32, height: i32, scaleR: f32, scaleG: f32, scaleB: f32, red: f32, green: f32, blue: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let c = 0; c < 3; c++) {
    const k = c == 0 ? scaleR : c == 1 ? scaleG : scaleB, t = c == 0 ? red : c == 1 ? green : blue;
    thrown(out + <usize>c * 4, from + <usize>c * 4, width, height, k, t, lo, hi);
  }
}

function thrown(d: usize, s: usize, w: i32, h: i32, k: f32, t: f32, lo: i32, hi: i32): void {
  const cx: f32 = <f32>(w - 1) * 0.5, cy: f32 = <f32>(h - 1) * 0.5, S: usize = <usize>w * 16;
  // Columns that see the image: within a pixel of it.
  const far = (cx + 1) / Mathf.abs(k), begin = max(0, <i32>Mathf.ceil(cx - far)), end = min(w, <i32>Mathf.floor(cx + far) + 1);
  for (let y = lo; y < hi; y++) {
    const fy = cy + (<f32>y - cy) * k, low = Mathf.floor(fy), iy = <i32>low, v = fy - low;
    if (iy < -1 || iy >= h) continue;
    const top = iy >= 0 ? t * (<f32>1 - v) : 0, bottom = iy + 1 < h ? t * v : 0;
    const upper = s + <usize>max(0, iy) * S, lower = s + <usize>min(h - 1, iy + 1) * S;
    let o = d + <usize>y * S + <usize>begin * 16;
    for (let x = begin; x < end; x++, o += 16) {
      const fx = cx + (<f32>x - cx) * k, at = Mathf.floor(fx), ix = <i32>at, u = fx - at;
      if (ix < -1 || ix >= w) continue;
      const left = ix >= 0 ? <f32>1 - u : 0, right = ix + 1 < w ? u : 0;
      const p: usize = <usize>max(0, ix) * 16, q: usize = <usize>min(w - 1, ix + 1) * 16;
      const sum = top * (left * load<f32>(upper + p) + right * load<f32>(upper + q)) + bottom * (left * load<f32>(lower + p) + right * load<f32>(lower + q));
      store<f32>(o, load<f32>(o) + sum);
    }
  }
}

/**
 * Rows `lo` … `hi` of a picture made smaller by exact area means. `columns` and `rows` hold for each new column or row four
 * i32-sized words: the first old one, how many, and (as floats from `shares`) where their shares begin. Scratch: w pixels.
 */
export function shrink(
  out: usize, width: i32, from: usize, fromWidth: i32, columns: usize, rows: usize, shares: usize, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = fromWidth * 16;
  for (let y = lo; y < hi; y++) {
    const t = rows + <usize>y * 12;
    let read = row(from, load<i32>(t), stride), k = shares + <usize>load<i32>(t, 8) * 4;
    const count = load<i32>(t, 4);
    for (let x: usize = 0; x < stride; x += 16) st(scratch + x, mul(ld(read + x), L(k)));
    for (let j = 1; j < count; j++) {
      read += stride; k += 4;
      const share = L(k);
      for (let x: usize = 0; x < stride; x += 16) st(scratch + x, add(ld(scratch + x), mul(ld(read + x), share)));
    }
    let o = row(out, y, <usize>width * 16), c = columns;
    for (let x = 0; x < width; x++, o += 16, c += 12) {
      let q = scratch + <usize>load<i32>(c) * 16, sh = shares + <usize>load<i32>(c, 8) * 4;
      let sum = mul(ld(q), L(sh));
      for (let j = 1, n = load<i32>(c, 4); j < n; j++) { q += 16; sh += 4; sum = add(sum, mul(ld(q), L(sh))); }
      st(o, sum);
    }
  }
}
