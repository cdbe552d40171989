/** Four pixels at a time, channel by channel. */
import { ld } from './vector';

/** Channel `c` (a constant) of the four pixels at `p`. */
// @ts-expect-error: decorator
@inline export function gather(p: usize, c: i32): v128 {
  const a = ld(p), b = v128.load(p, 16), e = v128.load(p, 32), f = v128.load(p, 48);
  if (c == 0) return v128.shuffle<f32>(v128.shuffle<f32>(a, b, 0, 4, 0, 4), v128.shuffle<f32>(e, f, 0, 4, 0, 4), 0, 1, 4, 5);
  if (c == 1) return v128.shuffle<f32>(v128.shuffle<f32>(a, b, 1, 5, 1, 5), v128.shuffle<f32>(e, f, 1, 5, 1, 5), 0, 1, 4, 5);
  if (c == 2) return v128.shuffle<f32>(v128.shuffle<f32>(a, b, 2, 6, 2, 6), v128.shuffle<f32>(e, f, 2, 6, 2, 6), 0, 1, 4, 5);
  return v128.shuffle<f32>(v128.shuffle<f32>(a, b, 3, 7, 3, 7), v128.shuffle<f32>(e, f, 3, 7, 3, 7), 0, 1, 4, 5);
}

/** The first `count` of four numbers to `d`. */
// @ts-expect-error: decorator
@inline export function some(d: usize, v: v128, count: i32): void {
  store<f32>(d, f32x4.extract_lane(v, 0));
  if (count > 1) store<f32>(d, f32x4.extract_lane(v, 1), 4);
  if (count > 2) store<f32>(d, f32x4.extract_lane(v, 2), 8);
  if (count > 3) store<f32>(d, f32x4.extract_lane(v, 3), 12);
}
