/** What is done to surfaces inside a matte. `lo` … `hi` counts pixels unless said. */
import { add, clamp01, F, ld, mul, sp, st, sub } from './vector';

/**
 * A colour brought onto `s` where the matte `m` is (everywhere without one), by `k`: 0 multiplies by it, 1 goes towards it. On premultiplied
 * colour; alpha stays, and so does every bit where the matte is 0.
 */
export function shade(d: usize, s: usize, m: usize, r: f32, g: f32, b: f32, k: f32, mode: i32, lo: i32, hi: i32, scratch: usize): void {
  const colour = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(1), 0, r), 1, g), 2, b);
  const by = sub(colour, sp(1));
  for (let i = lo; i < hi; i++) {
    const p: usize = <usize>i * 16, c = ld(s + p);
    const share: f32 = (m ? F(m + <usize>i * 4) : 1) * k;
    if (share == 0) st(d + p, c);
    else if (!mode) st(d + p, add(c, mul(mul(c, by), sp(share))));
    else st(d + p, add(c, mul(sub(mul(colour, sp(f32x4.extract_lane(c, 3))), c), sp(share))));
  }
}

/** Of what a plane `a` covers the share that `m` covers, 0 to 1; 0 where it covers nothing. */
export function shareOf(d: usize, m: usize, a: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p: usize = <usize>i * 4, covered = F(a + p);
    store<f32>(d + p, covered > <f32>1e-6 ? min(<f32>1, F(m + p) / covered) : 0);
  }
}

/** 1 at 0, 0 from 1 on, level at both ends. */
// @ts-expect-error: decorator
@inline function fading(x: f32): f32 { const t = clamp01(1 - x * x); return t * t; }

/** By the distance from (cx, cy), rows `lo` … `hi` of a plane `w` wide: from 1 there to 0 `reach` pixels away. */
export function fadeAround(d: usize, w: i32, cx: f32, cy: f32, reach: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const dy = <f32>y - cy;
    for (let x = 0; x < w; x++) {
      const dx = <f32>x - cx;
      store<f32>(d + (<usize>(y * w + x) << 2), fading(Mathf.sqrt(dx * dx + dy * dy) / reach));
    }
  }
}

/** By distances that are given. */
export function fadeAway(d: usize, s: usize, reach: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) store<f32>(d + <usize>i * 4, fading(F(s + <usize>i * 4) / reach));
}

/**
 * Light by what a blurred picture lost beside its coverage: `s` (premultiplied, blurred) over its own alpha, under the alpha of the plane `m`;
 * nothing where the blur holds nothing.
 */
export function spreadUnder(d: usize, s: usize, m: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const c = ld(s + <usize>i * 16), a = f32x4.extract_lane(c, 3), m1 = clamp01(F(m + <usize>i * 4));
    st(d + <usize>i * 16, a > 1e-9 ? f32x4.replace_lane(mul(c, sp(m1 / a)), 3, m1) : sp(0));
  }
}
