/** Kernels that read pictures between pixels. Pixel centres are at whole numbers; outside there is nothing. */
import { add, clampi, F, L, ld, mul, row, sp, st, sub } from './vector';

/** Bilinear; `fx`, `fy` lie within the picture's centres. */
// @ts-expect-error: decorator
@inline
function bilinear(s: usize, w: i32, h: i32, fx: f32, fy: f32): v128 {
  const x = <i32>fx, y = <i32>fy;
  const tx = sp(fx - <f32>x), ty = sp(fy - <f32>y);
  const p = s + (<usize>(y * w + x) << 4);
  const q = y + 1 < h ? p + (<usize>w << 4) : p;
  const side: usize = x + 1 < w ? 16 : 0;
  let a = ld(p), c = ld(q);
  a = add(a, mul(sub(ld(p + side), a), tx));
  c = add(c, mul(sub(ld(q + side), c), tx));
  return add(a, mul(sub(c, a), ty));
}

/**
 * One doubling pass of light rays, rows `lo` … `hi`: d(p) = gain · (s(p) + weight · s(c + (p − c) · scale)).
 * The place read always lies between p and the centre, held to the picture where the centre is outside.
 */
export function raysPass(
  d: usize, s: usize, w: i32, h: i32, cx: f32, cy: f32, scale: f32, weight: f32, gain: f32, lo: i32, hi: i32, scratch: usize,
): void {
  const mx = <f32>(w - 1), my = <f32>(h - 1), W = sp(weight * gain), G = sp(gain);
  for (let y = lo; y < hi; y++) {
    const py = <f32>y - cy, fy = cy + py * scale;
    for (let x = 0; x < w; x++) {
      const fx = cx + (<f32>x - cx) * scale;
      const o: usize = <usize>(y * w + x) << 4;
      const own = mul(ld(s + o), G);
      // Beyond the picture nothing shines.
      st(d + o, fx < 0 || fy < 0 || fx > mx || fy > my ? own : add(own, mul(bilinear(s, w, h, fx, fy), W)));
    }
  }
}

/**
 * Rows `lo` … `hi` of a picture dw wide, read at x' = a·x + b·y + c, y' = e·x + f·y + g with a filter of `taps` taps
 * (2, 4 or 6) whose weights stand in `table` for each 1/256 of a pixel.
 */
export function resample(
  d: usize, dw: i32, s: usize, w: i32, h: i32, a: f32, b: f32, c: f32, e: f32, f: f32, g: f32, table: usize, taps: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const half = taps / 2 - 1, none = sp(0);
  for (let y = lo; y < hi; y++) {
    for (let x = 0; x < dw; x++) {
      const fx = a * <f32>x + b * <f32>y + c, fy = e * <f32>x + f * <f32>y + g;
      const ix = <i32>Mathf.floor(fx), iy = <i32>Mathf.floor(fy);
      const kx = table + <usize>(<i32>((fx - <f32>ix) * 256 + 0.5) * taps) * 4;
      const ky = table + <usize>(<i32>((fy - <f32>iy) * 256 + 0.5) * taps) * 4;
      let sum = none;
      if (ix + taps >= 0 && iy + taps >= 0 && ix - taps < w && iy - taps < h) {
        for (let j = 0; j < taps; j++) {
          const py = iy - half + j;
          if (py < 0 || py >= h) continue;
          let line = none;
          for (let i = 0; i < taps; i++) {
            const px = ix - half + i;
            if (px < 0 || px >= w) continue;
            line = add(line, mul(ld(s + (<usize>(py * w + px) << 4)), L(kx + <usize>i * 4)));
          }
          sum = add(sum, mul(line, L(ky + <usize>j * 4)));
        }
      }
      st(d + (<usize>(y * dw + x) << 4), sum);
    }
  }
}

/**
 * Rows `lo` … `hi` of a picture made smaller by exact area means. `tx` and `ty` hold for each new column or row four
 * i32-sized words: the first old one, how many, and (as floats from `shares`) where their shares begin. Scratch: w pixels.
 */
export function shrink(
  d: usize, dw: i32, s: usize, w: i32, tx: usize, ty: usize, shares: usize, lo: i32, hi: i32, scratch: usize,
): void {
  const stride: usize = w * 16;
  for (let y = lo; y < hi; y++) {
    const t = ty + <usize>y * 12;
    let from = row(s, load<i32>(t), stride), k = shares + <usize>load<i32>(t, 8) * 4;
    const count = load<i32>(t, 4);
    for (let x: usize = 0; x < stride; x += 16) st(scratch + x, mul(ld(from + x), L(k)));
    for (let j = 1; j < count; j++) {
      from += stride; k += 4;
      const share = L(k);
      for (let x: usize = 0; x < stride; x += 16) st(scratch + x, add(ld(scratch + x), mul(ld(from + x), share)));
    }
    let o = row(d, y, <usize>dw * 16), c = tx;
    for (let x = 0; x < dw; x++, o += 16, c += 12) {
      let q = scratch + <usize>load<i32>(c) * 16, sh = shares + <usize>load<i32>(c, 8) * 4;
      let sum = mul(ld(q), L(sh));
      for (let j = 1, n = load<i32>(c, 4); j < n; j++) { q += 16; sh += 4; sum = add(sum, mul(ld(q), L(sh))); }
      st(o, sum);
    }
  }
}
