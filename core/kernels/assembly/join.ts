/** Two pictures into one: see `core/kernels/join.ts` for the modes and their formulas. */
import { add, clamp01, F, ld, luma, mul, sp, st, sub } from './vector';

const half: f32 = 0.5;
const one: f32 = 1;
const two: f32 = 2;

/** Blend functions of one channel on [0, 1]: b the backdrop, s the source (W3C Compositing and Blending Level 1, 9.1). */
function separable(mode: i32, b: f32, s: f32): f32 {
  // 19 overlay is 20 hard light with the two exchanged.
  if (mode == 19) {
    const t = b;
    b = s;
    s = t;
  }
  if (mode <= 20) return s <= half ? b * two * s : b + (two * s - one) - b * (two * s - one);
  if (mode == 21) return b == 0 ? 0 : s >= one ? one : min(one, b / (one - s));
  if (mode == 22) return b >= one ? one : s <= 0 ? 0 : one - min(one, (one - b) / s);
  // 23 soft light.
  if (s <= half) return b - (one - two * s) * b * (one - b);
  const d: f32 = b <= <f32>0.25 ? ((<f32>16 * b - <f32>12) * b + <f32>4) * b : sqrt(b);
  return b + (two * s - one) * (d - b);
}

/** Luminosity with that standard's own weights (9.2). */
// @ts-expect-error: decorator
@inline
function lum(r: f32, g: f32, b: f32): f32 { return <f32>0.3 * r + <f32>0.59 * g + <f32>0.11 * b; }
// @ts-expect-error: decorator
@inline
function sat(r: f32, g: f32, b: f32): f32 { return max(max(r, g), b) - min(min(r, g), b); }

/** SetLum: the colour at `p` with luminosity `l`, brought back into [0, 1]. */
function setLum(p: usize, l: f32): void {
  const d = l - lum(F(p), F(p + 4), F(p + 8));
  let r = F(p) + d, g = F(p + 4) + d, b = F(p + 8) + d;
  const n = min(min(r, g), b), x = max(max(r, g), b), m = lum(r, g, b);
  if (n < 0) {
    const k = m / (m - n);
    r = m + (r - m) * k; g = m + (g - m) * k; b = m + (b - m) * k;
  }
  if (x > one) {
    const k = (one - m) / (x - m);
    r = m + (r - m) * k; g = m + (g - m) * k; b = m + (b - m) * k;
  }
  store<f32>(p, r); store<f32>(p, g, 4); store<f32>(p, b, 8);
}

/** SetSat: the colour at `p` with saturation `s`; its least channel becomes 0. */
function setSat(p: usize, s: f32): void {
  const r = F(p), g = F(p + 4), b = F(p + 8);
  const n = min(min(r, g), b), x = max(max(r, g), b);
  const k: f32 = x > n ? s / (x - n) : 0;
  store<f32>(p, (r - n) * k); store<f32>(p, (g - n) * k, 4); store<f32>(p, (b - n) * k, 8);
}

/** B(cb, cs) of the modes that need colours of their own, on [0, 1], into `scratch`. */
function blended(mode: i32, cb: v128, cs: v128, scratch: usize): void {
  const p = scratch, q = scratch + 16, o = scratch + 32;
  st(p, cb); st(q, cs);
  if (mode < 24) {
    for (let c: usize = 0; c < 12; c += 4) store<f32>(o + c, separable(mode, F(p + c), F(q + c)));
    return;
  }
  const lb = lum(F(p), F(p + 4), F(p + 8)), ls = lum(F(q), F(q + 4), F(q + 8));
  const sb = sat(F(p), F(p + 4), F(p + 8));
  if (mode == 24) { st(o, cs); setSat(o, sb); setLum(o, lb); } // hue
  else if (mode == 25) { st(o, cb); setSat(o, sat(F(q), F(q + 4), F(q + 8))); setLum(o, lb); } // saturation
  else if (mode == 26) { st(o, cs); setLum(o, lb); } // colour
  else { st(o, cb); setLum(o, ls); } // luminosity
}

/** Colour of a premultiplied pixel, held to [0, 1]; light without coverage has none. */
// @ts-expect-error: decorator
@inline
function colour(v: v128, a: f32): v128 {
  return a > 0 ? f32x4.pmin(sp(1), f32x4.pmax(sp(0), f32x4.div(v, sp(a)))) : sp(0);
}

/** Pixels `lo` … `hi`: `source` onto `backdrop`. Scratch: 64 bytes. */
export function join(out: usize, backdrop: usize, source: usize, mode: i32, lo: i32, hi: i32, scratch: usize): void {
  const zero = sp(0), unit = sp(1);
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16) {
    const x = ld(backdrop + i), y = ld(source + i);
    const ab = clamp01(f32x4.extract_lane(x, 3)), as_ = clamp01(f32x4.extract_lane(y, 3));
    if (mode < 12) {
      // Porter & Duff 1984: source · fs + backdrop · fb.
      let fs: f32 = 0, fb: f32 = 0;
      if (mode == 1 || mode == 3 || mode == 11) fs = 1;
      if (mode == 2 || mode == 4 || mode == 11) fb = 1;
      if (mode == 3) fb = one - as_;
      if (mode == 4) fs = one - ab;
      if (mode == 5) fs = ab;
      if (mode == 6) fb = as_;
      if (mode == 7) fs = one - ab;
      if (mode == 8) fb = one - as_;
      if (mode == 9) { fs = ab; fb = one - as_; }
      if (mode == 10) { fs = one - ab; fb = as_; }
      if (mode == 11) { fs = one - ab; fb = one - as_; }
      st(out + i, add(mul(y, sp(fs)), mul(x, sp(fb))));
      continue;
    }
    let v: v128;
    if (mode == 12) v = add(x, y);
    else if (mode == 13) v = add(add(mul(y, sp(one - ab)), mul(x, sp(one - as_))), mul(x, y));
    else if (mode == 14) v = add(x, mul(y, sub(unit, f32x4.pmin(unit, f32x4.pmax(zero, x)))));
    else if (mode <= 17) {
      // Of colours over the coverage of both: the less, the more, or their difference.
      const p = mul(y, sp(ab)), q = mul(x, sp(as_));
      const less = f32x4.pmin(p, q);
      if (mode == 15) v = sub(add(x, y), f32x4.pmax(p, q));
      else if (mode == 16) v = sub(add(x, y), less);
      else v = sub(add(x, y), mul(sp(2), less));
    } else if (mode == 18) v = sub(add(x, y), mul(sp(2), mul(x, y)));
    else {
      blended(mode, colour(x, ab), colour(y, as_), scratch);
      v = add(add(mul(y, sp(one - ab)), mul(x, sp(one - as_))), mul(ld(scratch + 32), sp(ab * as_)));
    }
    const alpha = mode == 12 ? min(one, ab + as_) : ab + as_ - ab * as_;
    st(out + i, f32x4.replace_lane(v, 3, alpha));
  }
}

/**
 * before + (after − before) · amount · mask: `before` bit for bit where that is 0, `after` where it is 1. Beyond 1 the difference goes on, and alpha stays
 * within 0 to 1. `mask` is a matte or 0, its complement if `invert`.
 */
export function mix(out: usize, before: usize, after: usize, mask: usize, amount: f32, invert: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p: usize = <usize>i * 16;
    let k: f32 = mask ? F(mask + <usize>i * 4) : 1;
    if (invert && mask) k = one - k;
    k *= amount;
    const x = ld(before + p), y = ld(after + p);
    if (k == 0 || k == 1) st(out + p, k == 0 ? x : y);
    else {
      const m = add(x, mul(sub(y, x), sp(k)));
      st(out + p, k > 1 ? f32x4.replace_lane(m, 3, clamp01(f32x4.extract_lane(m, 3))) : m);
    }
  }
}

/** One channel: 0 to 3 of a pixel, 4 its luminance, 5 nothing, 6 one; 8 to 12 the same of the other picture. */
// @ts-expect-error: decorator
@inline
function channel(which: i32, s: usize, t: usize): f32 {
  const p = which >= 8 ? t : s;
  const c = which & 7;
  return c < 4 ? F(p + <usize>c * 4) : c == 4 ? luma(ld(p)) : c == 5 ? 0 : 1;
}

/** Pixels `lo` … `hi` of chosen channels of `from` and `other`. */
export function pick(out: usize, from: usize, other: usize, red: i32, green: i32, blue: i32, alpha: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = from + <usize>i * 16, q = other + <usize>i * 16, o = out + <usize>i * 16;
    const x = channel(red, p, q), y = channel(green, p, q), z = channel(blue, p, q), w = channel(alpha, p, q);
    store<f32>(o, x); store<f32>(o, y, 4); store<f32>(o, z, 8); store<f32>(o, clamp01(w), 12);
  }
}

/**
 * Rows `lo` … `hi` of a ramp between two colours: by (x, y) · (ux, uy) + u0, held to 0 … 1. `stops` points at the colours, 8 floats.
 */
export function ramp(out: usize, width: i32, alongX: f32, alongY: f32, first: f32, stops: usize, lo: i32, hi: i32, scratch: usize): void {
  const from = ld(stops), to = v128.load(stops, 16);
  for (let y = lo; y < hi; y++) {
    let o = out + <usize>y * <usize>width * 16;
    const start = <f32>y * alongY + first;
    for (let x = 0; x < width; x++, o += 16) st(o, add(from, mul(sub(to, from), sp(clamp01(<f32>x * alongX + start)))));
  }
}

/** Rows `lo` … `hi` of squares of `size` pixels in two greys, opaque; (ox, oy) is where the picture lies in its frame. */
export function checker(out: usize, width: i32, size: i32, x0: i32, y0: i32, dark: f32, light: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    let o = out + <usize>y * <usize>width * 16;
    for (let x = 0; x < width; x++, o += 16) {
      const v: f32 = (((x + x0) / size) ^ ((y + y0) / size)) & 1 ? light : dark;
      st(o, f32x4.replace_lane(sp(v), 3, 1));
    }
  }
}
