/** Mattes from what a pixel holds. `lo` … `hi` counts pixels. */
import { gather, some } from './fours';
import { powers01 } from './power';
import { add, clamp01, F, finite, ld, luma, mul, sp, sub } from './vector';

/** 0 … 1 with level ends. */
// @ts-expect-error: decorator
@inline function smooth(x: f32): f32 { const t = clamp01(x); return t * t * (3 - 2 * t); }

/** See `band`: one channel (4 luminance) between two values, with soft sides. Infinity lies beyond every end but an endless one. */
export function rangeKey(out: usize, from: usize, channel: i32, low: f32, lowSoft: f32, high: f32, highSoft: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = from + <usize>i * 16;
    const v = channel < 4 ? F(p + <usize>channel * 4) : luma(ld(p));
    let m: f32 = v != v ? 0 : 1;
    if (m > 0 && v < low) m = lowSoft > 0 && finite(v) ? smooth((v - low) / lowSoft + 1) : 0;
    if (m > 0 && v > high) m = highSoft > 0 && finite(v) ? min<f32>(m, smooth(1 - (v - high) / highSoft)) : 0;
    store<f32>(out + <usize>i * 4, m);
  }
}

/** Cube roots of four numbers from 0 up: a third of the exponent, then three steps of Newton's. */
// @ts-expect-error: decorator
@inline function roots(v: v128): v128 {
  const third = f32x4.splat(<f32>0.333333333), two = f32x4.splat(2);
  const bits = f32x4.mul(f32x4.convert_i32x4_s(v), third);
  let y = i32x4.add(i32x4.trunc_sat_f32x4_s(bits), i32x4.splat(0x2a514067));
  for (let k = 0; k < 3; k++) y = f32x4.mul(third, f32x4.add(f32x4.mul(two, y), f32x4.div(v, f32x4.mul(y, y))));
  return v128.and(y, f32x4.gt(v, f32x4.splat(0)));
}

/** Smoothstep of four numbers. */
// @ts-expect-error: decorator
@inline function smooths(x: v128): v128 {
  const t = f32x4.pmin(sp(1), f32x4.pmax(sp(0), x));
  return mul(mul(t, t), sub(sp(3), add(t, t)));
}
// @ts-expect-error: decorator
@inline function dot(x: v128, a: f32, y: v128, b: f32, z: v128, c: f32): v128 {
  return add(add(mul(x, sp(a)), mul(y, sp(b))), mul(z, sp(c)));
}

/** See `colourKey`: `samples` are OKLab and a number more each; with `whole` not times alpha. */
export function colourKey(
  out: usize, from: usize, samples: usize, count: i32, near: f32, soft: f32, lightness: f32, whole: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const none = sp(0), one = sp(1), inner = sp(near), scale = sp(soft > 0 ? 1 / soft : 1e9);
  for (let i = lo; i < hi; i += 4) {
    const p = from + <usize>i * 16;
    const alpha = gather(p, 3), covered = f32x4.gt(alpha, none);
    // Colour, not multiplied by alpha.
    const k = f32x4.div(one, v128.bitselect(alpha, one, covered));
    const r = mul(f32x4.pmax(none, gather(p, 0)), k), g = mul(f32x4.pmax(none, gather(p, 1)), k), b = mul(f32x4.pmax(none, gather(p, 2)), k);
    // Ottosson 2020, "A perceptual color space for image processing".
    const l = roots(dot(r, 0.4122214708, g, 0.5363325363, b, 0.0514459929));
    const m = roots(dot(r, 0.2119034982, g, 0.6806995451, b, 0.1073969566));
    const n = roots(dot(r, 0.0883024619, g, 0.2817188376, b, 0.6299787005));
    const L = mul(sp(lightness), dot(l, 0.2104542553, m, 0.793617785, n, -0.0040720468));
    const A = dot(l, 1.9779984951, m, -2.428592205, n, 0.4505937099);
    const B = dot(l, 0.0259040371, m, 0.7827717662, n, -0.808675766);
    let least = sp(Infinity);
    for (let j = 0; j < count; j++) {
      const q = samples + <usize>j * 16;
      const x = sub(L, sp(F(q))), y = sub(A, sp(F(q + 4))), z = sub(B, sp(F(q + 8)));
      least = f32x4.pmin(least, add(add(mul(x, x), mul(y, y)), mul(z, z)));
    }
    const away = f32x4.sqrt(least);
    const inside = f32x4.le(away, inner);
    const v = v128.bitselect(one, smooths(sub(one, mul(sub(away, inner), scale))), inside);
    // NaN compares false to itself.
    const sound = v128.and(covered, f32x4.eq(away, away));
    some(out + <usize>i * 4, v128.and(whole ? v : mul(v, f32x4.pmin(one, alpha)), sound), hi - i);
  }
}

/**
 * See `facingKey`; rows `lo` … `hi`. `sort`: 0 1 − |N·V|, 1 Schlick, 2 the exact reflectance. `view`: the camera's position where positions
 * `positions` are given, else half the width and height of the view at distance 1 and the picture's place: x and y of the first pixel, columns and
 * rows of the frame.
 */
export function facingKey(
  out: usize, normals: usize, positions: usize, view: usize, width: i32, type: i32, index: f32, black: f32, gamma: f32, invert: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const f0 = ((index - 1) / (index + 1)) * ((index - 1) / (index + 1));
  const none = sp(0), one = sp(1), half = sp(0.5);
  const span = sp(black < 1 ? 1 / (1 - black) : 0), power: f32 = 1 / gamma;
  const inverse = sp(1 / (index * index)), by = sp(index), part = sp(1 / index);
  let vx = none, vy = none, vz = one, across: f32 = 0, start: f32 = 0;
  for (let y = lo; y < hi; y++) {
    if (!positions) {
      // Towards a camera at the origin that looks along −z.
      vy = sp((2 * (<f32>y + F(view + 12) + <f32>0.5) / F(view + 20) - 1) * F(view + 4));
      across = -2 * F(view) / F(view + 16);
      start = F(view) + across * (F(view + 8) + <f32>0.5);
    }
    for (let x = 0; x < width; x += 4) {
      const i = y * width + x, p = normals + <usize>i * 16;
      const nx = gather(p, 0), ny = gather(p, 1), nz = gather(p, 2);
      if (positions) {
        const o = positions + <usize>i * 16;
        vx = sub(sp(F(view)), gather(o, 0)); vy = sub(sp(F(view + 4)), gather(o, 1)); vz = sub(sp(F(view + 8)), gather(o, 2));
      } else vx = add(sp(start + across * <f32>x), mul(sp(across), f32x4(0, 1, 2, 3)));
      const squares = mul(add(add(mul(nx, nx), mul(ny, ny)), mul(nz, nz)), add(add(mul(vx, vx), mul(vy, vy)), mul(vz, vz)));
      const sound = v128.and(f32x4.gt(squares, none), f32x4.lt(squares, sp(Infinity)));
      const long = f32x4.sqrt(v128.bitselect(squares, one, sound));
      const c = f32x4.pmin(one, f32x4.div(f32x4.abs(add(add(mul(nx, vx), mul(ny, vy)), mul(nz, vz))), long));
      const u = sub(one, c);
      let m = u;
      if (type == 1) {
        const u2 = mul(u, u);
        m = add(sp(f0), mul(sp(1 - f0), mul(mul(u2, u2), u)));
      } else if (type == 2) {
        const cosine = f32x4.sqrt(f32x4.pmax(none, sub(one, mul(sub(one, mul(c, c)), inverse))));
        const t = mul(by, cosine), rs = f32x4.div(sub(c, t), add(c, t));
        const g = mul(part, cosine), rp = f32x4.div(sub(c, g), add(c, g));
        m = mul(half, add(mul(rs, rs), mul(rp, rp)));
      }
      m = f32x4.pmin(one, f32x4.pmax(none, mul(sub(m, sp(black)), span)));
      if (gamma != 1) m = powers01(m, power);
      if (invert) m = sub(one, m);
      some(out + <usize>i * 4, v128.and(m, sound), width - x);
    }
  }
}

/**
 * 1 inside a sphere (`kind` 0), a box (1) or behind a plane (2) about the place `options` holds (x, y, z; then radius, or half sides, or normal),
 * falling to 0 over `soft` beyond. Nothing where the position is not finite.
 */
export function positionKey(out: usize, from: usize, kind: i32, options: usize, soft: f32, lo: i32, hi: i32, scratch: usize): void {
  const cx = F(options), cy = F(options + 4), cz = F(options + 8), a = F(options + 12), b = F(options + 16), c = F(options + 20);
  for (let i = lo; i < hi; i++) {
    const p = from + <usize>i * 16, x = F(p) - cx, y = F(p + 4) - cy, z = F(p + 8) - cz;
    let m: f32 = 0;
    if (finite(x + y + z)) {
      let far: f32;
      if (kind == 0) far = Mathf.sqrt(x * x + y * y + z * z) - a;
      else if (kind == 1) {
        const u = max<f32>(0, Mathf.abs(x) - a), v = max<f32>(0, Mathf.abs(y) - b), w = max<f32>(0, Mathf.abs(z) - c);
        far = Mathf.sqrt(u * u + v * v + w * w);
      } else far = x * a + y * b + z * c;
      m = far <= 0 ? 1 : soft > 0 ? smooth(1 - far / soft) : 0;
    }
    store<f32>(out + <usize>i * 4, m);
  }
}
