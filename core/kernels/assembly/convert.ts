/** Halves and floats, and what goes to the screen. */
import { F, L, ld, luma, mul, sp, st } from './vector';

/** Halves to floats, `lo` … `hi` by fours; infinities and NaN stay what they are. */
export function halvesToFloats(d: usize, s: usize, lo: i32, hi: i32, scratch: usize): void {
  const small = i32x4.splat(0x38800000), ex = i32x4.splat(0x7f800000);
  for (let i = lo; i < hi; i += 4) {
    const u = v128.load_ext<u16>(s + <usize>i * 2);
    const m = i32x4.shl(v128.and(u, i32x4.splat(0x3ff)), 13), e = v128.and(i32x4.shr_u(u, 10), i32x4.splat(31));
    const sign = i32x4.shl(v128.and(u, i32x4.splat(0x8000)), 16);
    const normal = v128.or(i32x4.shl(i32x4.add(e, i32x4.splat(112)), 23), m);
    // Without an exponent: the mantissa counts 2^-24, and no denormal float is ever computed with.
    const tiny = f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(m, 13)), f32x4.splat(5.960464477539063e-8));
    let v = v128.bitselect(tiny, normal, i32x4.eq(e, i32x4.splat(0)));
    v = v128.bitselect(v128.or(ex, m), v, i32x4.eq(e, i32x4.splat(31)));
    st(d + <usize>i * 4, v128.or(v, sign));
  }
}

/** Floats to the nearest halves, ties to even, `lo` … `hi`; see `core/formats/half.ts`. */
export function floatsToHalves(d: usize, s: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const word = load<u32>(s + <usize>i * 4), sign = (word >> 16) & 0x8000, m = word & 0x7fffffff;
    let h: u32;
    if (m > 0x7f800000) h = 0x7e00 | ((m >> 13) & 0x1ff);
    else if (m >= 0x477ff000) h = 0x7c00;
    else if (m >= 0x38800000) h = (m + 0xfff + ((m >> 13) & 1) - 0x38000000) >> 13;
    else if (m < 0x33000000) h = 0;
    else {
      const shift = 126 - (m >> 23), full = (m & 0x7fffff) | 0x800000, kept = full >> shift;
      const rest = full & ((1 << shift) - 1), tie: u32 = 1 << (shift - 1);
      h = kept + u32(rest > tie || (rest == tie && (kept & 1) == 1));
    }
    store<u16>(d + <usize>i * 2, <u16>(sign | h));
  }
}

/** sRGB code of linear light: a table for a start, then the thresholds between codes, so that rounding is exact. */
// @ts-expect-error: decorator
@inline
function code(v: f32, start: usize, edges: usize): u32 {
  if (!(v > 0)) return 0;
  if (v >= 1) return 255;
  let c: u32 = load<u8>(start + <usize>(v * 4096));
  while (c < 255 && v >= F(edges + <usize>c * 4)) c++;
  return c;
}

/**
 * 8-bit sRGB of pixels `lo` … `hi`, opaque: v · gain + shift. `look`: 0 colour, 1 to 3 one channel, 4 alpha as
 * even grey, 5 luminance.
 */
export function display(
  d: usize, s: usize, start: usize, edges: usize, gain: f32, shift: f32, look: i32, lo: i32, hi: i32, scratch: usize,
): void {
  for (let i = lo; i < hi; i++) {
    const p = s + <usize>i * 16;
    let out: u32;
    if (look == 0) {
      out = code(F(p) * gain + shift, start, edges) | (code(F(p + 4) * gain + shift, start, edges) << 8) | (code(F(p + 8) * gain + shift, start, edges) << 16);
    } else {
      let c: u32;
      if (look == 4) { const a = F(p + 12); c = a >= 1 ? 255 : a > 0 ? <u32>(a * 255 + 0.5) : 0; }
      else c = code((look == 5 ? luma(ld(p)) : F(p + <usize>(look - 1) * 4)) * gain + shift, start, edges);
      out = c | (c << 8) | (c << 16);
    }
    store<u32>(d + <usize>i * 4, out | 0xff000000);
  }
}
