/** Conversion of pictures for display. */
import { F, L, ld, luma, mul, sp, st } from './vector';

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
  out: usize, from: usize, codes: usize, edges: usize, gain: f32, shift: f32, look: i32, lo: i32, hi: i32, scratch: usize,
): void {
  for (let i = lo; i < hi; i++) {
    const p = from + <usize>i * 16;
    let write: u32;
    if (look == 0) {
      write = code(F(p) * gain + shift, codes, edges) | (code(F(p + 4) * gain + shift, codes, edges) << 8) | (code(F(p + 8) * gain + shift, codes, edges) << 16);
    } else {
      let c: u32;
      if (look == 4) { const a = F(p + 12); c = a >= 1 ? 255 : a > 0 ? <u32>(a * 255 + 0.5) : 0; }
      else c = code((look == 5 ? luma(ld(p)) : F(p + <usize>(look - 1) * 4)) * gain + shift, codes, edges);
      write = c | (c << 8) | (c << 16);
    }
    store<u32>(out + <usize>i * 4, write | 0xff000000);
  }
}
