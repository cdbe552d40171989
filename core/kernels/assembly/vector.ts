/** Short names for the four-lane float operations that every kernel is written in. */

// @ts-expect-error: decorator
@inline export function ld(p: usize): v128 { return v128.load(p); }
// @ts-expect-error: decorator
@inline export function st(p: usize, v: v128): void { v128.store(p, v); }
// @ts-expect-error: decorator
@inline export function sp(x: f32): v128 { return f32x4.splat(x); }
// @ts-expect-error: decorator
@inline export function add(a: v128, b: v128): v128 { return f32x4.add(a, b); }
// @ts-expect-error: decorator
@inline export function sub(a: v128, b: v128): v128 { return f32x4.sub(a, b); }
// @ts-expect-error: decorator
@inline export function mul(a: v128, b: v128): v128 { return f32x4.mul(a, b); }
// @ts-expect-error: decorator
@inline export function F(p: usize): f32 { return load<f32>(p); }
/** One float in all four lanes. */
// @ts-expect-error: decorator
@inline export function L(p: usize): v128 { return v128.load_splat<f32>(p); }
/** Start of row `i` of a picture whose rows are `stride` bytes long. */
// @ts-expect-error: decorator
@inline export function row(base: usize, i: i32, stride: usize): usize { return base + <usize>i * stride; }
// @ts-expect-error: decorator
@inline export function clampi(v: i32, lo: i32, hi: i32): i32 { return v < lo ? lo : v > hi ? hi : v; }
/** To 0…1; what is not a number becomes 0. */
// @ts-expect-error: decorator
@inline export function clamp01(v: f32): f32 { return v > 1 ? 1 : v > 0 ? v : 0; }
// @ts-expect-error: decorator
@inline export function finite(v: f32): bool { return v - v == 0; }
/** Luminance of ITU-R BT.709 of a pixel's first three lanes. */
// @ts-expect-error: decorator
@inline export function luma(v: v128): f32 {
  return <f32>0.2126 * f32x4.extract_lane(v, 0) + <f32>0.7152 * f32x4.extract_lane(v, 1) + <f32>0.0722 * f32x4.extract_lane(v, 2);
}
// @ts-expect-error: decorator
@inline export function alphas(v: v128): v128 { return v128.shuffle<f32>(v, v, 3, 3, 3, 3); }
