/** What a lens, a shutter and film do to a picture. Rows `lo` … `hi` unless stated; pixel centres are at whole numbers. */
import { add, clampi, F, finite, ld, luma, mul, sp, st, sub } from './vector';

/** A pixel of a picture; outside there is nothing, or the border where `held`. */
// @ts-expect-error: decorator
@inline function at(from: usize, width: i32, height: i32, x: i32, y: i32, held: bool): v128 {
  if (held) {
    x = x < 0 ? 0 : x >= width ? width - 1 : x;
    y = y < 0 ? 0 : y >= height ? height - 1 : y;
  } else if (<u32>x >= <u32>width || <u32>y >= <u32>height) return sp(0);
  return ld(from + (<usize>(y * width + x) << 4));
}

/** Between four pixels. */
// @ts-expect-error: decorator
@inline function between4(from: usize, width: i32, height: i32, x: f32, y: f32, held: bool): v128 {
  const fx = Mathf.floor(x), fy = Mathf.floor(y), ix = <i32>fx, iy = <i32>fy;
  const u = sp(x - fx), v = sp(y - fy);
  if (ix >= 0 && iy >= 0 && ix < width - 1 && iy < height - 1) {
    const p = from + (<usize>(iy * width + ix) << 4), q = p + (<usize>width << 4);
    const a = ld(p), b = ld(q), top = add(a, mul(sub(v128.load(p, 16), a), u)), low = add(b, mul(sub(v128.load(q, 16), b), u));
    return add(top, mul(sub(low, top), v));
  }
  const a = at(from, width, height, ix, iy, held), b = at(from, width, height, ix, iy + 1, held);
  const top = add(a, mul(sub(at(from, width, height, ix + 1, iy, held), a), u));
  const low = add(b, mul(sub(at(from, width, height, ix + 1, iy + 1, held), b), u));
  return add(top, mul(sub(low, top), v));
}

/**
 * Unsharp masking of pixels `lo` … `hi`: c + amount · w · (c − blurred), with w 0 up to `threshold` of the difference in luminance and one share of it
 * for all channels; no more than `limit` of the pixel's own luminance is added or taken (0: no limit). Alpha stays.
 */
export function unsharp(out: usize, from: usize, blurred: usize, amount: f32, threshold: f32, limit: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = <usize>i << 4, c = ld(from + p), b = ld(blurred + p), d = sub(c, b), y: f32 = Mathf.abs(luma(d));
    let s: f32 = y > threshold ? (amount * (y - threshold)) / y : 0;
    if (limit > 0) {
      const most: f32 = limit * max(<f32>0, luma(c));
      if (s * y > most) s = most / y;
    }
    st(out + p, f32x4.replace_lane(add(c, mul(d, sp(s))), 3, f32x4.extract_lane(c, 3)));
  }
}

/** Light that falls off towards the corners: by cos⁴ of the angle (`mode` 0, `a` the focal length in pixels), or by a smooth edge (1) from distance `a` on over `b`, `amount` of it. */
export function vignette(out: usize, from: usize, width: i32, x0: f32, y0: f32, sx: f32, sy: f32, mode: i32, a: f32, b: f32, amount: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const dy = (<f32>y - y0) * sy;
    for (let x = 0; x < width; x++) {
      const dx = (<f32>x - x0) * sx, r2 = dx * dx + dy * dy;
      let gain: f32;
      if (mode == 0) {
        const c = (a * a) / (a * a + r2);
        gain = 1 - amount * (1 - c * c);
      } else {
        let t: f32 = (Mathf.sqrt(r2) - a) / b;
        t = t < 0 ? 0 : t > 1 ? 1 : t;
        gain = 1 - amount * t * t * (3 - 2 * t);
      }
      const p = <usize>(y * width + x) << 4, c = ld(from + p);
      st(out + p, f32x4.replace_lane(mul(c, sp(gain)), 3, f32x4.extract_lane(c, 3)));
    }
  }
}

/** Weights of four samples a place `t` behind the second (R. G. Keys 1981, a = −1/2). */
// @ts-expect-error: decorator
@inline function keys(t: f32): v128 {
  const s: f32 = 1 - t;
  return f32x4(-<f32>0.5 * t * s * s, 1 + t * t * (<f32>1.5 * t - <f32>2.5), 1 + s * s * (<f32>1.5 * s - <f32>2.5), -<f32>0.5 * s * t * t);
}

/**
 * A picture read at another distance from the middle: `table` says for each `1/perRadius` of a distance by how much it is multiplied. Cubic convolution,
 * alpha held to 0 … 1; outside there is nothing.
 */
export function radial(out: usize, from: usize, width: i32, height: i32, cx: f32, cy: f32, table: usize, size: i32, perRadius: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    for (let x = 0; x < width; x++) {
      const dx = <f32>x - cx, dy = <f32>y - cy, r: f32 = Mathf.sqrt(dx * dx + dy * dy) * perRadius;
      const i = min(<i32>r, size - 2), p = table + (<usize>i << 2), by: f32 = F(p) + (F(p + 4) - F(p)) * (r - <f32>i);
      const fx = cx + dx * by, fy = cy + dy * by;
      let sum = sp(0);
      if (fx > -2 && fy > -2 && fx < <f32>(width + 2) && fy < <f32>(height + 2)) {
        const ix = <i32>Mathf.floor(fx), iy = <i32>Mathf.floor(fy), wx = keys(fx - <f32>ix), wy = keys(fy - <f32>iy);
        for (let j = 0; j < 4; j++) {
          const v: f32 = j == 0 ? f32x4.extract_lane(wy, 0) : j == 1 ? f32x4.extract_lane(wy, 1) : j == 2 ? f32x4.extract_lane(wy, 2) : f32x4.extract_lane(wy, 3);
          let line = mul(at(from, width, height, ix - 1, iy + j - 1, false), sp(f32x4.extract_lane(wx, 0)));
          line = add(line, mul(at(from, width, height, ix, iy + j - 1, false), sp(f32x4.extract_lane(wx, 1))));
          line = add(line, mul(at(from, width, height, ix + 1, iy + j - 1, false), sp(f32x4.extract_lane(wx, 2))));
          line = add(line, mul(at(from, width, height, ix + 2, iy + j - 1, false), sp(f32x4.extract_lane(wx, 3))));
          sum = add(sum, mul(line, sp(v)));
        }
        const a = f32x4.extract_lane(sum, 3);
        if (a > 1) sum = mul(sum, sp(1 / a));
        else if (a < 0) sum = sp(0);
      }
      st(out + (<usize>(y * width + x) << 4), sum);
    }
  }
}

/**
 * The mean of `count` pictures of it about the middle, each a little larger or smaller: each record of `samples` is how far out it is read (a share of the
 * distance from the middle, four times) and its weights of red, green, blue and alpha. Straight between pixels; the border goes on.
 */
export function fringe(out: usize, from: usize, width: i32, height: i32, cx: f32, cy: f32, samples: usize, count: i32, lo: i32, hi: i32, scratch: usize): void {
  const stride = <usize>width << 4;
  for (let y = lo; y < hi; y++) {
    const o = out + <usize>y * stride, dy: f32 = <f32>y - cy;
    memory.fill(o, 0, stride);
    for (let s = samples, end = samples + (<usize>count << 5); s < end; s += 32) {
      const far = F(s), weights = ld(s + 16);
      // Of a row and a sample, how far below is the same for all pixels.
      const below = Mathf.floor(dy * far), v: f32 = dy * far - below, iy = y + <i32>below;
      const p = from + <usize>clampi(iy, 0, height - 1) * stride, q = from + <usize>clampi(iy + 1, 0, height - 1) * stride;
      fringeRow(o, p, q, width, cx, far, mul(weights, sp(1 - v)), mul(weights, sp(v)));
    }
    for (let x: usize = 0; x < stride; x += 16) {
      const a = F(o + x + 12);
      store<f32>(o + x + 12, a > 1 ? 1 : a > 0 ? a : 0);
    }
  }
}

/** Adds one sample to a row: pixels from between two rows with their weights, each read `far` of its distance from `cx` further out. */
function fringeRow(o: usize, p: usize, q: usize, width: i32, cx: f32, far: f32, upper: v128, lower: v128): void {
  const beyond = width - 1, step = sp(far), one = sp(1);
  for (let x = 0; x < width; ) {
    // As long as it is read as many whole pixels further, one column is the left of the next pixel and the right of this.
    const away = Mathf.floor((<f32>x - cx) * far), ix = <i32>away;
    let end = width;
    if (far != 0) {
      const next: f32 = cx + (far > 0 ? away + 1 : away) / far;
      end = next < <f32>width ? max(x + 1, <i32>Mathf.ceil(next)) : width;
    }
    let out = sp(<f32>x - cx), left = fringeColumn(p, q, clampi(x + ix, 0, beyond), upper, lower);
    const whole = sp(away);
    for (; x < end; x++) {
      const right = fringeColumn(p, q, clampi(x + ix + 1, 0, beyond), upper, lower), at = o + (<usize>x << 4);
      st(at, add(ld(at), add(left, mul(sub(right, left), sub(mul(out, step), whole)))));
      left = right;
      out = add(out, one);
    }
  }
}

// @ts-expect-error: decorator
@inline function fringeColumn(p: usize, q: usize, x: i32, upper: v128, lower: v128): v128 {
  const at = <usize>x << 4;
  return add(mul(ld(p + at), upper), mul(ld(q + at), lower));
}

// @ts-expect-error: decorator
@inline function scramble(h: u32): u32 {
  h = (h ^ (h >> 16)) * 0x7feb352d;
  h = (h ^ (h >> 15)) * 0x846ca68b;
  return h ^ (h >> 16);
}
// @ts-expect-error: decorator
@inline function scrambles(h: v128): v128 {
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 16)), i32x4.splat(0x7feb352d));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 15)), i32x4.splat(0x846ca68b));
  return v128.xor(h, i32x4.shr_u(h, 16));
}

/** White noise of places in the frame, of mean 0 and variance 1, sums of four even numbers each: three channels of their own, and one in the fourth. */
export function whiteNoise(out: usize, width: i32, x0: i32, y0: i32, seed: i32, lo: i32, hi: i32, scratch: usize): void {
  const low = i32x4.splat(0xffff), apart = i32x4(0, 0x68bc21eb, 0x02e5be93, 0x167a889b);
  // Four numbers of 0 … 65535: mean 131070, variance 4 · (2³² − 1)/12.
  const mean = sp(131070), scale = sp(<f32>(1 / 37837.22));
  for (let y = lo; y < hi; y++) {
    const line = scramble(<u32>(y + y0) * 0x85ebca6b + <u32>seed * 0x27d4eb2f);
    for (let x = 0; x < width; x++) {
      const a = scrambles(v128.xor(i32x4.splat(<u32>(x + x0) * 0x9e3779b1 ^ line), apart)), b = scrambles(i32x4.add(a, i32x4.splat(0x9e3779b9)));
      const sum = i32x4.add(i32x4.add(v128.and(a, low), i32x4.shr_u(a, 16)), i32x4.add(v128.and(b, low), i32x4.shr_u(b, 16)));
      st(out + (<usize>(y * width + x) << 4), mul(sub(f32x4.convert_i32x4_s(sum), mean), scale));
    }
  }
}

/**
 * Light of pixels `lo` … `hi` times 1 + noise, by its brightness: `table` says for each `1/perStop` of a stop from `first` on how strong. `own` is the
 * share of each channel's own noise, `shared` that of the one they have together.
 */
export function grained(out: usize, from: usize, noise: usize, own: f32, shared: f32, table: usize, size: i32, first: f32, perStop: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = <usize>i << 4, c = ld(from + p), n = ld(noise + p), a = f32x4.extract_lane(c, 3);
    const y: f32 = a > 0 ? luma(c) / a : luma(c);
    // The stops of a number from its bits: straight between powers of two, off by 0.09 of a stop at the most.
    const bits = reinterpret<i32>(max(<f32>1e-30, y * <f32>(1 / 0.18)));
    const stops: f32 = <f32>(bits - 0x3f800000) * <f32>(1.0 / 8388608.0);
    const t: f32 = min(<f32>(size - 1), max(<f32>0, (stops - first) * perStop));
    const k = min(<i32>t, size - 2), q = table + (<usize>k << 2), strong: f32 = F(q) + (F(q + 4) - F(q)) * (t - <f32>k);
    const by = mul(add(mul(n, sp(own)), sp(f32x4.extract_lane(n, 3) * shared)), sp(strong));
    const gain = f32x4.pmax(sp(0), add(sp(1), by));
    st(out + p, f32x4.replace_lane(mul(c, gain), 3, a));
  }
}

/** What differs by no more from a vector belongs to one field with it: of neighbours, in pixels and as a share. */
// @ts-expect-error: decorator
@inline function alikeBeside(x: f32, y: f32): f32 { return <f32>0.5 + <f32>0.05 * (Mathf.abs(x) + Mathf.abs(y)); }

/** Bytes of a square of `longestVectors`. */
const square: usize = 16;

/**
 * Squares of `side` pixels, four floats each: their longest vector, and whether the field breaks in them or towards the next (1; 0 where all neighbours
 * belong together). One row of squares at a time.
 */
export function longestVectors(out: usize, vectors: usize, width: i32, height: i32, side: i32, across: i32, ax: f32, ay: f32, lo: i32, hi: i32, scratch: usize): void {
  const scale = f32x4(ax, ay, 0, 0), stride = <usize>width << 4;
  for (let ty = lo; ty < hi; ty++) {
    for (let tx = 0; tx < across; tx++) {
      let bx: f32 = 0, by: f32 = 0, most: f32 = 0, breaks: f32 = 0;
      for (let y = ty * side; y < min(height, ty * side + side); y++)
        for (let x = tx * side; x < min(width, tx * side + side); x++) {
          const p = vectors + (<usize>(y * width + x) << 4), v = mul(ld(p), scale), vx = f32x4.extract_lane(v, 0), vy = f32x4.extract_lane(v, 1), size = vx * vx + vy * vy;
          if (finite(size) && size > most) { most = size; bx = vx; by = vy; }
          const d = f32x4.max(f32x4.abs(sub(mul(ld(x + 1 < width ? p + 16 : p), scale), v)), f32x4.abs(sub(mul(ld(y + 1 < height ? p + stride : p), scale), v)));
          const apart: f32 = max(f32x4.extract_lane(d, 0), f32x4.extract_lane(d, 1));
          // What is not a number breaks it as well.
          if (!(apart <= alikeBeside(vx, vy))) breaks = 1;
        }
      const o = out + <usize>(ty * across + tx) * square;
      store<f32>(o, bx);
      store<f32>(o, by, 4);
      store<f32>(o, breaks, 8);
    }
  }
}

let vectorX: f32 = 0, vectorY: f32 = 0, isOne: bool = false;
/**
 * The vector at a place, into the first two above: straight between four that agree, which is what `isOne` says, else the nearest.
 */
// @ts-expect-error: decorator
@inline function vectorAt(vectors: usize, width: i32, height: i32, scale: v128, x: f32, y: f32): void {
  const fx = min(<f32>(width - 1), max(<f32>0, x)), fy = min(<f32>(height - 1), max(<f32>0, y));
  const ix = min(<i32>fx, max(0, width - 2)), iy = min(<i32>fy, max(0, height - 2));
  const right: usize = width > 1 ? 16 : 0, below: usize = height > 1 ? <usize>width << 4 : 0;
  const p = vectors + (<usize>(iy * width + ix) << 4);
  const a = mul(ld(p), scale), b = mul(ld(p + right), scale), c = mul(ld(p + below), scale), d = mul(ld(p + below + right), scale);
  const besideX: f32 = fx - <f32>ix, besideY: f32 = fy - <f32>iy;
  const spread = sub(f32x4.max(f32x4.max(a, b), f32x4.max(c, d)), f32x4.min(f32x4.min(a, b), f32x4.min(c, d)));
  const alike = alikeBeside(f32x4.extract_lane(a, 0), f32x4.extract_lane(a, 1));
  isOne = f32x4.extract_lane(spread, 0) <= alike && f32x4.extract_lane(spread, 1) <= alike;
  let found: v128;
  if (isOne) {
    const u = sp(besideX), top = add(a, mul(sub(b, a), u)), low = add(c, mul(sub(d, c), u));
    found = add(top, mul(sub(low, top), sp(besideY)));
  } else found = mul(ld(p + (besideX >= <f32>0.5 ? right : 0) + (besideY >= <f32>0.5 ? below : 0)), scale);
  vectorX = f32x4.extract_lane(found, 0);
  vectorY = f32x4.extract_lane(found, 1);
}

/** A way crosses another from this angle on: the square of its sine, of 20°. */
const crossing: f32 = 0.117;
/** How far beside a pixel, in pixels, what is found may come to lie and still be there. */
const besideWay: f32 = 0.75;

/** Whether the field goes on without a break between two places: in all squares between them. */
// @ts-expect-error: decorator
@inline function isWhole(squares: usize, side: i32, across: i32, down: i32, x0: f32, y0: f32, x1: f32, y1: f32): bool {
  const left = <i32>min(x0, x1) / side, right = min(across - 1, <i32>max(x0, x1) / side), top = <i32>min(y0, y1) / side, low = min(down - 1, <i32>max(y0, y1) / side);
  for (let j = top; j <= low; j++)
    for (let i = left; i <= right; i++) if (F(squares + <usize>(j * across + i) * square + 8) != 0) return false;
  return true;
}

/**
 * A pixel along its own way, where the field is whole between its ends (x0, y0) and (x1, y1) inside the picture: vectors are read at both ends, and lie
 * straight between these and the pixel's own.
 */
// @ts-expect-error: decorator
@inline function alongWhole(from: usize, vectors: usize, width: i32, height: i32, scale: v128, x: i32, y: i32, ownX: f32, ownY: f32, begin: f32, open: f32, count: i32, x0: f32, y0: f32, x1: f32, y1: f32): v128 {
  const px = <f32>x, py = <f32>y, end: f32 = begin + open;
  vectorAt(vectors, width, height, scale, x0, y0);
  const earlyX: f32 = begin != 0 ? (vectorX - ownX) / begin : 0, earlyY: f32 = begin != 0 ? (vectorY - ownY) / begin : 0;
  vectorAt(vectors, width, height, scale, x1, y1);
  const lateX: f32 = end != 0 ? (vectorX - ownX) / end : 0, lateY: f32 = end != 0 ? (vectorY - ownY) / end : 0;
  let sum = sp(0);
  for (let k = 0; k < count; k++) {
    const t: f32 = begin + open * ((<f32>k + <f32>0.5) / <f32>count);
    const bendX: f32 = t < 0 ? earlyX : lateX, bendY: f32 = t < 0 ? earlyY : lateY;
    sum = add(sum, between4(from, width, height, px - (ownX + bendX * t) * t, py - (ownY + bendY * t) * t, true));
  }
  return mul(sum, sp(1 / <f32>count));
}

let ownShare: f32 = 0, behind: v128 = f32x4.splat(0);
/**
 * A pixel along its own way: at each moment what is there then, which comes from where its own vector leads back to, looked for twice. Gives the light by
 * the time in which it is there, and into the two above that time and what stands still behind it.
 */
// @ts-expect-error: decorator
@inline function alongOwn(from: usize, vectors: usize, width: i32, height: i32, ax: f32, ay: f32, x: i32, y: i32, ownX: f32, ownY: f32, begin: f32, open: f32, count: i32, own: v128): v128 {
  const scale = f32x4(ax, ay, 0, 0);
  let sum = sp(0), still = sp(0), here: f32 = 0, stills: f32 = 0;
  const px = <f32>x, py = <f32>y, alike: f32 = <f32>0.5 + <f32>0.2 * (Mathf.abs(ownX) + Mathf.abs(ownY));
  for (let k = 0; k < count; k++) {
    const t: f32 = begin + open * ((<f32>k + <f32>0.5) / <f32>count);
    const firstX: f32 = px - ownX * t, firstY: f32 = py - ownY * t;
    vectorAt(vectors, width, height, scale, firstX, firstY);
    if (isOne && Mathf.abs(vectorX - ownX) + Mathf.abs(vectorY - ownY) <= alike) {
      // In one field with the pixel: what is led back to by its vector is there.
      sum = add(sum, between4(from, width, height, px - vectorX * t, py - vectorY * t, true));
      here += 1;
      continue;
    }
    const qx: f32 = px - vectorX * t, qy: f32 = py - vectorY * t;
    vectorAt(vectors, width, height, scale, qx, qy);
    const offX: f32 = qx + vectorX * t - px, offY: f32 = qy + vectorY * t - py;
    if (offX * offX + offY * offY <= besideWay * besideWay) {
      const lx: f32 = px - vectorX * t, ly: f32 = py - vectorY * t;
      sum = add(sum, isOne ? between4(from, width, height, lx, ly, true) : at(from, width, height, <i32>nearest<f32>(lx), <i32>nearest<f32>(ly), true));
      here += 1;
      continue;
    }
    const ix = <i32>nearest<f32>(firstX), iy = <i32>nearest<f32>(firstY);
    if (<u32>ix >= <u32>width || <u32>iy >= <u32>height) continue;
    const q = vectors + (<usize>(iy * width + ix) << 4), ux = F(q) * ax, uy = F(q + 4) * ay;
    if (finite(ux) && finite(uy) && (ux * ux + uy * uy) * open * open >= <f32>0.25) continue;
    still = add(still, ld(from + (<usize>(iy * width + ix) << 4)));
    stills += 1;
  }
  ownShare = here / <f32>count;
  behind = stills > 0 ? mul(still, sp(1 / stills)) : here > 0 ? mul(sum, sp(1 / here)) : own;
  return mul(sum, sp(1 / <f32>count));
}

/** Along one vector alone: what is here at each moment was back along its way. */
// @ts-expect-error: decorator
@inline function alongOne(from: usize, width: i32, height: i32, x: i32, y: i32, vx: f32, vy: f32, begin: f32, open: f32, count: i32): v128 {
  let sum = sp(0);
  for (let k = 0; k < count; k++) {
    const t: f32 = begin + open * ((<f32>k + <f32>0.5) / <f32>count);
    sum = add(sum, between4(from, width, height, <f32>x - vx * t, <f32>y - vy * t, true));
  }
  return mul(sum, sp(1 / <f32>count));
}

/** Places on both sides of a pixel along a direction, no further than `reach`: how far along, and the pixels beside, twelve bytes each. */
// @ts-expect-error: decorator
@inline function placesAlong(places: usize, all: i32, reach: f32, dx: f32, dy: f32): void {
  const apart: f32 = (2 * reach) / <f32>(all - 1);
  for (let k = 0; k < all; k++) {
    const s: f32 = -reach + apart * <f32>k, at = places + <usize>k * 12;
    store<f32>(at, s);
    store<i32>(at, <i32>nearest<f32>(dx * s), 4);
    store<i32>(at, <i32>nearest<f32>(dy * s), 8);
  }
}

let passingLight: v128 = f32x4.splat(0), passingShare: f32 = 0;
/**
 * Adds what passes over a pixel from the places along (dx, dy) to the two above: each covers the pixel for its share of the time. What moves rather along
 * (ex, ey) is looked for there.
 */
// @ts-expect-error: decorator
@inline function passing(from: usize, vectors: usize, width: i32, height: i32, ax: f32, ay: f32, x: i32, y: i32, dx: f32, dy: f32, ex: f32, ey: f32, begin: f32, end: f32, places: usize, all: i32, apart: f32, moves: bool, mineX: f32, mineY: f32): void {
  const open: f32 = end - begin;
  for (let at = places, past = places + <usize>all * 12; at < past; at += 12) {
    const s = F(at), ix = x + load<i32>(at, 4), iy = y + load<i32>(at, 8);
    if (<u32>ix >= <u32>width || <u32>iy >= <u32>height) continue;
    const i = <usize>(iy * width + ix) << 4, ux = F(vectors + i) * ax, uy = F(vectors + i + 4) * ay;
    const along: f32 = finite(ux) && finite(uy) ? ux * dx + uy * dy : 0, across: f32 = Mathf.abs(ux * dy - uy * dx);
    if (Mathf.abs(along) * open < <f32>0.5 || Mathf.abs(ux * ey - uy * ex) < across) continue;
    // It is here at the moment t at which s + along · t is 0.
    const slow: f32 = 1 / along, t: f32 = -s * slow, edge: f32 = Mathf.abs(<f32>0.5 * apart * slow);
    const first = max(begin, t - edge), last = min(end, t + edge);
    if (last <= first || (moves && across * Mathf.abs(t) > 1)) continue;
    if (moves) {
      // Of the pixel's own field, which it has been given already.
      const fieldX: f32 = dx * s + mineX * t, fieldY: f32 = dy * s + mineY * t;
      if (fieldX * fieldX + fieldY * fieldY < <f32>6.25) continue;
    }
    const share: f32 = (last - first) / open;
    passingLight = add(passingLight, mul(ld(from + i), sp(share)));
    passingShare += share;
  }
}

/**
 * What moves while the shutter is open: a pixel that moves itself along its own way, and where the field breaks nearby what is faster along the longest
 * vector there (after M. McGuire, P. Hennessy, M. Bukowski and B. Osman 2012, *A Reconstruction Filter for Plausible Motion Blur*). The way of a vector v
 * goes from v · `begin` to v · `end`. `vectors` 0: all moves by (ax, ay). `squares` are of `longestVectors`.
 */
export function smear(
  out: usize, from: usize, vectors: usize, width: i32, height: i32, ax: f32, ay: f32, begin: f32, end: f32, squares: usize, side: i32, across: i32, down: i32, most: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const open: f32 = end - begin, furthest = max(Mathf.abs(begin), Mathf.abs(end)), scale = f32x4(ax, ay, 0, 0);
  const right = <f32>(width - 1), bottom = <f32>(height - 1), others = scratch + <usize>(2 * most + 1) * 12;
  for (let y = lo; y < hi; y++) {
    const ty = y / side;
    let length: f32 = Mathf.sqrt(ax * ax + ay * ay), reach: f32 = 0, apart: f32 = 0, dx: f32 = 0, dy: f32 = 0, all = 0;
    let otherApart: f32 = 0, ex: f32 = 0, ey: f32 = 0, otherAll = 0;
    for (let x = 0; x < width; x++) {
      const p = <usize>(y * width + x) << 4, own = ld(from + p);
      // The longest nearby is one for all of a square, and so is the longest that crosses it.
      if (vectors && x % side == 0) {
        const tx = x / side, left = max(0, tx - 1), beyond = min(across - 1, tx + 1), top = max(0, ty - 1), low = min(down - 1, ty + 1);
        length = 0; otherAll = 0; ex = 0; ey = 0;
        for (let j = top; j <= low; j++)
          for (let i = left; i <= beyond; i++) {
            const q = squares + <usize>(j * across + i) * square, ux = F(q), uy = F(q + 4), size = ux * ux + uy * uy;
            if (size > length) { length = size; dx = ux; dy = uy; }
          }
        length = Mathf.sqrt(length);
        if (length * open >= <f32>0.5) {
          dx /= length;
          dy /= length;
          let other: f32 = 0;
          for (let j = top; j <= low; j++)
            for (let i = left; i <= beyond; i++) {
              const q = squares + <usize>(j * across + i) * square, ux = F(q), uy = F(q + 4), size = ux * ux + uy * uy, aside: f32 = ux * dy - uy * dx;
              if (size > other && aside * aside > crossing * size) { other = size; ex = ux; ey = uy; }
            }
          reach = length * furthest;
          all = min(2 * most, 2 * <i32>Mathf.ceil(reach) + 1);
          apart = (2 * reach) / <f32>(all - 1);
          placesAlong(scratch, all, reach, dx, dy);
          other = Mathf.sqrt(other);
          if (other * open >= <f32>0.5) {
            ex /= other;
            ey /= other;
            otherAll = min(2 * most, 2 * <i32>Mathf.ceil(other * furthest) + 1);
            otherApart = (2 * other * furthest) / <f32>(otherAll - 1);
            placesAlong(others, otherAll, other * furthest, ex, ey);
          } else { ex = 0; ey = 0; }
        }
      }
      if (length * open < <f32>0.5) { st(out + p, own); continue; }
      if (!vectors) { st(out + p, alongOne(from, width, height, x, y, ax, ay, begin, open, min(most, <i32>Mathf.ceil(length * open) + 1))); continue; }
      const mineX = F(vectors + p) * ax, mineY = F(vectors + p + 4) * ay, way: f32 = Mathf.sqrt(mineX * mineX + mineY * mineY) * open;
      const moves = finite(way) && way >= <f32>0.5;
      let mine = sp(0);
      ownShare = 0;
      behind = own;
      if (moves) {
        const count = min(most, <i32>Mathf.ceil(way * <f32>0.75) + 1), x0: f32 = <f32>x - mineX * begin, y0: f32 = <f32>y - mineY * begin, x1: f32 = <f32>x - mineX * end, y1: f32 = <f32>y - mineY * end;
        const isInside = min(x0, x1) >= 0 && min(y0, y1) >= 0 && max(x0, x1) <= right && max(y0, y1) <= bottom;
        // The pixel itself may lie beside its way: a shutter may open after the frame's moment.
        const fx = <f32>x, fy = <f32>y;
        if (isInside && isWhole(squares, side, across, down, min(fx, min(x0, x1)), min(fy, min(y0, y1)), max(fx, max(x0, x1)), max(fy, max(y0, y1)))) {
          mine = alongWhole(from, vectors, width, height, scale, x, y, mineX, mineY, begin, open, count, x0, y0, x1, y1);
          ownShare = 1;
        } else mine = alongOwn(from, vectors, width, height, ax, ay, x, y, mineX, mineY, begin, open, count, own);
      }
      // What may come to this pixel comes from no further than the longest way; where nothing breaks in between, it moves with the pixel.
      passingLight = sp(0);
      passingShare = 0;
      const wide: f32 = otherAll ? reach : Mathf.abs(dx) * reach, high: f32 = otherAll ? reach : Mathf.abs(dy) * reach;
      if (!isWhole(squares, side, across, down, max(<f32>0, <f32>x - wide), max(<f32>0, <f32>y - high), min(right, <f32>x + wide), min(bottom, <f32>y + high))) {
        passing(from, vectors, width, height, ax, ay, x, y, dx, dy, ex, ey, begin, end, scratch, all, apart, moves, mineX, mineY);
        if (otherAll) passing(from, vectors, width, height, ax, ay, x, y, ex, ey, dx, dy, begin, end, others, otherAll, otherApart, moves, mineX, mineY);
      }
      const moving = add(mine, passingLight), share: f32 = ownShare + passingShare;
      st(out + p, share >= 1 ? mul(moving, sp(1 / share)) : add(moving, mul(behind, sp(1 - share))));
    }
  }
}

/** Convolution of a picture with `count` taps: records of how far beside, in pixels, and a weight. Outside there is nothing. */
export function convolveSmall(out: usize, from: usize, width: i32, height: i32, taps: usize, count: i32, reach: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    const inside = y >= reach && y < height - reach;
    let x = 0;
    while (x < width) {
      const p = out + (<usize>(y * width + x) << 4);
      if (inside && x >= reach && x + 3 < width - reach) {
        const here = from + (<usize>(y * width + x) << 4);
        let a = sp(0), b = sp(0), c = sp(0), d = sp(0);
        for (let t = taps, e = taps + (<usize>count << 4); t < e; t += 16) {
          const q = here + <usize>load<i32>(t, 8), w = v128.load_splat<f32>(t + 12);
          a = add(a, mul(ld(q), w));
          b = add(b, mul(v128.load(q, 16), w));
          c = add(c, mul(v128.load(q, 32), w));
          d = add(d, mul(v128.load(q, 48), w));
        }
        st(p, a);
        v128.store(p, b, 16);
        v128.store(p, c, 32);
        v128.store(p, d, 48);
        x += 4;
        continue;
      }
      let sum = sp(0);
      for (let t = taps, e = taps + (<usize>count << 4); t < e; t += 16)
        sum = add(sum, mul(at(from, width, height, x + load<i32>(t), y + load<i32>(t, 4), false), v128.load_splat<f32>(t + 12)));
      st(p, sum);
      x++;
    }
  }
}
