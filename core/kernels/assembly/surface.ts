/** Operations on surfaces inside a matte. `lo` … `hi` counts pixels unless stated. */
import { add, clamp01, F, ld, mul, sp, st, sub } from './vector';

/**
 * A colour brought onto `from` where `matte` is (everywhere without one), by `amount`: 0 multiplies by it, 1 goes towards it. On premultiplied
 * colour; alpha stays, and so does every bit where the matte is 0.
 */
export function shade(out: usize, from: usize, matte: usize, red: f32, green: f32, blue: f32, amount: f32, mode: i32, lo: i32, hi: i32, scratch: usize): void {
  const colour = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(1), 0, red), 1, green), 2, blue);
  const by = sub(colour, sp(1));
  for (let i = lo; i < hi; i++) {
    const p: usize = <usize>i * 16, c = ld(from + p);
    const share: f32 = (matte ? F(matte + <usize>i * 4) : 1) * amount;
    if (share == 0) st(out + p, c);
    else if (!mode) st(out + p, add(c, mul(mul(c, by), sp(share))));
    else st(out + p, add(c, mul(sub(mul(colour, sp(f32x4.extract_lane(c, 3))), c), sp(share))));
  }
}

/** The ratio part/all of two coverages, 0 to 1; 0 where `all` is 0. */
export function shareOf(out: usize, part: usize, all: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p: usize = <usize>i * 4, covered = F(all + p);
    store<f32>(out + p, covered > <f32>1e-6 ? min(<f32>1, F(part + p) / covered) : 0);
  }
}

/** 1 at 0, 0 from 1 on, level at both ends. */
// @ts-expect-error: decorator
@inline function fading(x: f32): f32 { const t = clamp01(1 - x * x); return t * t; }

/** By the distance from (cx, cy), rows `lo` … `hi` of a plane `width` wide: from 1 there to 0 `reach` pixels away. */
export function fadeAround(out: usize, width: i32, cx: f32, cy: f32, reach: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const dy = <f32>y - cy;
    for (let x = 0; x < width; x++) {
      const dx = <f32>x - cx;
      store<f32>(out + (<usize>(y * width + x) << 2), fading(Mathf.sqrt(dx * dx + dy * dy) / reach));
    }
  }
}

/** By distances that are given. */
export function fadeAway(out: usize, from: usize, reach: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) store<f32>(out + <usize>i * 4, fading(F(from + <usize>i * 4) / reach));
}

/**
 * Light by what a blurred picture lost beside its coverage: `from` (premultiplied, blurred) over its own alpha, under the alpha of the plane `matte`;
 * nothing where the blur holds nothing.
 */
export function spreadUnder(out: usize, from: usize, matte: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const c = ld(from + <usize>i * 16), a = f32x4.extract_lane(c, 3), m1 = clamp01(F(matte + <usize>i * 4));
    st(out + <usize>i * 16, a > 1e-9 ? f32x4.replace_lane(mul(c, sp(m1 / a)), 3, m1) : sp(0));
  }
}
