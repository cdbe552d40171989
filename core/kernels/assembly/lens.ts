/** What a lens, a shutter and film do to a picture. Rows `lo` … `hi` unless stated; pixel centres are at whole numbers. */
import { add, F, finite, ld, luma, mul, sp, st, sub } from './vector';

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

/** The mean of `count` pictures of it about the middle: each record of `samples` is a scale (four times) and its weights of red, green, blue and alpha. */
export function fringe(out: usize, from: usize, width: i32, height: i32, cx: f32, cy: f32, samples: usize, count: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let y = lo; y < hi; y++) {
    for (let x = 0; x < width; x++) {
      const dx = <f32>x - cx, dy = <f32>y - cy;
      let sum = sp(0);
      // Scales run one way: where the first and the last lie inside, all do.
      const s0 = F(samples), s1 = F(samples + (<usize>(count - 1) << 5));
      const x0 = cx + dx * s0, x1 = cx + dx * s1, y0 = cy + dy * s0, y1 = cy + dy * s1;
      if (min(x0, x1) >= 0 && min(y0, y1) >= 0 && max(x0, x1) < <f32>(width - 1) && max(y0, y1) < <f32>(height - 1)) {
        for (let k = 0; k < count; k++) {
          const s = samples + (<usize>k << 5), scale = F(s), fx = cx + dx * scale, fy = cy + dy * scale;
          const ix = <i32>fx, iy = <i32>fy, u = sp(fx - <f32>ix), v = sp(fy - <f32>iy);
          const p = from + (<usize>(iy * width + ix) << 4), q = p + (<usize>width << 4);
          const a = ld(p), b = ld(q), top = add(a, mul(sub(v128.load(p, 16), a), u)), low = add(b, mul(sub(v128.load(q, 16), b), u));
          sum = add(sum, mul(add(top, mul(sub(low, top), v)), ld(s + 16)));
        }
      } else for (let k = 0; k < count; k++) {
        const s = samples + (<usize>k << 5), scale = F(s);
        sum = add(sum, mul(between4(from, width, height, cx + dx * scale, cy + dy * scale, true), ld(s + 16)));
      }
      const a = f32x4.extract_lane(sum, 3);
      st(out + (<usize>(y * width + x) << 4), f32x4.replace_lane(sum, 3, a > 1 ? 1 : a > 0 ? a : 0));
    }
  }
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

/** The longest vector of squares of `side` pixels, and of the squares around: `out` has two floats a square. One row of squares at a time. */
export function longestVectors(out: usize, vectors: usize, width: i32, height: i32, side: i32, across: i32, ax: f32, ay: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let ty = lo; ty < hi; ty++) {
    for (let tx = 0; tx < across; tx++) {
      let bx: f32 = 0, by: f32 = 0, most: f32 = 0;
      for (let y = ty * side; y < min(height, ty * side + side); y++)
        for (let x = tx * side; x < min(width, tx * side + side); x++) {
          const p = vectors + (<usize>(y * width + x) << 4), vx = F(p) * ax, vy = F(p + 4) * ay, size = vx * vx + vy * vy;
          if (finite(size) && size > most) { most = size; bx = vx; by = vy; }
        }
      const o = out + (<usize>(ty * across + tx) << 3);
      store<f32>(o, bx);
      store<f32>(o, by, 4);
    }
  }
}

let vectorX: f32 = 0, vectorY: f32 = 0, isOne: bool = false;
/**
 * The vector at a place, into the first two above: straight between four that agree, which is what `isOne` says, else the nearest.
 */
// @ts-expect-error: decorator
@inline function vectorAt(vectors: usize, width: i32, height: i32, ax: f32, ay: f32, x: f32, y: f32): void {
  const fx = min(<f32>(width - 1), max(<f32>0, x)), fy = min(<f32>(height - 1), max(<f32>0, y));
  const ix = min(<i32>fx, max(0, width - 2)), iy = min(<i32>fy, max(0, height - 2));
  const right: usize = width > 1 ? 16 : 0, below: usize = height > 1 ? <usize>width << 4 : 0;
  const p = vectors + (<usize>(iy * width + ix) << 4);
  const a = F(p) * ax, b = F(p + right) * ax, c = F(p + below) * ax, d = F(p + below + right) * ax;
  const e = F(p + 4) * ay, f = F(p + right + 4) * ay, g = F(p + below + 4) * ay, h = F(p + below + right + 4) * ay;
  const besideX: f32 = fx - <f32>ix, besideY: f32 = fy - <f32>iy;
  const spread = max(max(max(a, b), max(c, d)) - min(min(a, b), min(c, d)), max(max(e, f), max(g, h)) - min(min(e, f), min(g, h)));
  isOne = spread <= <f32>0.5 + <f32>0.05 * (Mathf.abs(a) + Mathf.abs(e));
  if (isOne) {
    const top: f32 = a + (b - a) * besideX, low: f32 = c + (d - c) * besideX, upper: f32 = e + (f - e) * besideX, lower: f32 = g + (h - g) * besideX;
    vectorX = top + (low - top) * besideY;
    vectorY = upper + (lower - upper) * besideY;
    return;
  }
  const q = p + (besideX >= <f32>0.5 ? right : 0) + (besideY >= <f32>0.5 ? below : 0);
  vectorX = F(q) * ax;
  vectorY = F(q + 4) * ay;
}

/** How far beside a pixel, in pixels, what is found may come to lie and still be there. */
const besideWay: f32 = 0.75;

/** A pixel along its own way: at each moment what is there then, which comes from where its own vector leads back to, looked for twice. */
// @ts-expect-error: decorator
@inline function alongOwn(from: usize, vectors: usize, width: i32, height: i32, ax: f32, ay: f32, x: i32, y: i32, ownX: f32, ownY: f32, begin: f32, open: f32, count: i32, own: v128): v128 {
  let sum = sp(0), still = sp(0), here: f32 = 0, stills: f32 = 0;
  const px = <f32>x, py = <f32>y, alike: f32 = <f32>0.5 + <f32>0.2 * (Mathf.abs(ownX) + Mathf.abs(ownY));
  for (let k = 0; k < count; k++) {
    const t: f32 = begin + open * ((<f32>k + <f32>0.5) / <f32>count);
    const firstX: f32 = px - ownX * t, firstY: f32 = py - ownY * t;
    vectorAt(vectors, width, height, ax, ay, firstX, firstY);
    if (isOne && Mathf.abs(vectorX - ownX) + Mathf.abs(vectorY - ownY) <= alike) {
      // In one field with the pixel: what is led back to by its vector is there.
      sum = add(sum, between4(from, width, height, px - vectorX * t, py - vectorY * t, true));
      here += 1;
      continue;
    }
    const qx: f32 = px - vectorX * t, qy: f32 = py - vectorY * t;
    vectorAt(vectors, width, height, ax, ay, qx, qy);
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
  const rest = stills > 0 ? mul(still, sp(1 / stills)) : here > 0 ? mul(sum, sp(1 / here)) : own;
  return mul(add(sum, mul(rest, sp(<f32>count - here))), sp(1 / <f32>count));
}

/**
 * What moves while the shutter is open: a pixel that moves itself along its own way, and what is faster along the longest vector nearby (after M. McGuire,
 * P. Hennessy, M. Bukowski and B. Osman 2012, *A Reconstruction Filter for Plausible Motion Blur*): a sample that passes this pixel covers it for its share of the way, and what is left is what stands still.
 * The way of a vector v goes from v · `begin` to v · `end`. `vectors` 0: all moves by (ax, ay). `squares` are of `longestVectors`.
 */
export function smear(
  out: usize, from: usize, vectors: usize, width: i32, height: i32, ax: f32, ay: f32, begin: f32, end: f32, squares: usize, side: i32, across: i32, down: i32, most: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const open: f32 = end - begin;
  for (let y = lo; y < hi; y++) {
    for (let x = 0; x < width; x++) {
      const p = <usize>(y * width + x) << 4, own = ld(from + p);
      let vx = ax, vy = ay;
      if (vectors) {
        vx = 0; vy = 0;
        let longest: f32 = 0;
        const tx = x / side, ty = y / side;
        for (let j = max(0, ty - 1); j <= min(down - 1, ty + 1); j++)
          for (let i = max(0, tx - 1); i <= min(across - 1, tx + 1); i++) {
            const q = squares + (<usize>(j * across + i) << 3), ux = F(q), uy = F(q + 4), size = ux * ux + uy * uy;
            if (size > longest) { longest = size; vx = ux; vy = uy; }
          }
      }
      const length: f32 = Mathf.sqrt(vx * vx + vy * vy) * open;
      if (length < <f32>0.5) { st(out + p, own); continue; }
      // What the pixel is by its own motion; whether anything that is faster passes before it is seen below.
      let mine = own, moves = false, mineX: f32 = 0, mineY: f32 = 0;
      if (vectors) {
        mineX = F(vectors + p) * ax;
        mineY = F(vectors + p + 4) * ay;
        const way: f32 = Mathf.sqrt(mineX * mineX + mineY * mineY) * open;
        moves = finite(way) && way >= <f32>0.5;
        if (moves) mine = alongOwn(from, vectors, width, height, ax, ay, x, y, mineX, mineY, begin, open, min(most, <i32>Mathf.ceil(way * <f32>0.75) + 1), own);
        if (moves && way * 2 >= length) { st(out + p, mine); continue; }
      }
      const count = min(most, <i32>Mathf.ceil(length) + 1), step: f32 = length / <f32>count;
      const dx = vx / (length / open), dy = vy / (length / open);
      if (!vectors) {
        let sum = sp(0);
        for (let k = 0; k < count; k++) {
          // What is here at a moment was back along its way.
          const t: f32 = begin + open * ((<f32>k + <f32>0.5) / <f32>count);
          sum = add(sum, between4(from, width, height, <f32>x - vx * t, <f32>y - vy * t, true));
        }
        st(out + p, mul(sum, sp(1 / <f32>count)));
        continue;
      }
      let moving = sp(0), covered: f32 = 0;
      // Whatever may come to this pixel comes from no further than the longest way, on either side.
      const reach: f32 = (length / open) * max(Mathf.abs(begin), Mathf.abs(end));
      const all = min(2 * most, 2 * <i32>Mathf.ceil(reach) + 1), apart: f32 = (2 * reach) / <f32>(all - 1);
      for (let k = 0; k < all; k++) {
        const s: f32 = -reach + apart * <f32>k, fx = <f32>x + dx * s, fy = <f32>y + dy * s;
        const ix = <i32>nearest<f32>(fx), iy = <i32>nearest<f32>(fy);
        if (<u32>ix >= <u32>width || <u32>iy >= <u32>height) continue;
        const q = vectors + (<usize>(iy * width + ix) << 4), ux = F(q) * ax, uy = F(q + 4) * ay;
        const along: f32 = finite(ux) && finite(uy) ? ux * dx + uy * dy : 0, way: f32 = Mathf.abs(along) * open;
        const c = ld(from + (<usize>(iy * width + ix) << 4));
        if (way < <f32>0.5) continue;
        // It is here at the moment t at which s + along · t is 0.
        const slow: f32 = 1 / along, t: f32 = -s * slow, edge: f32 = Mathf.abs(<f32>0.5 * apart * slow);
        const from0 = max(begin, t - edge), to0 = min(end, t + edge);
        if (to0 <= from0) continue;
        if (moves) {
          // Of the pixel's own field, which it has been given already, or passing by beside it.
          const beside: f32 = (ux * dy - uy * dx) * t, fieldX: f32 = dx * s + mineX * t, fieldY: f32 = dy * s + mineY * t;
          if (Mathf.abs(beside) > 1 || fieldX * fieldX + fieldY * fieldY < <f32>6.25) continue;
        }
        const share: f32 = (to0 - from0) / open;
        moving = add(moving, mul(c, sp(share)));
        covered += share;
      }
      if (covered >= 1) st(out + p, mul(moving, sp(1 / covered)));
      else st(out + p, add(moving, mul(mine, sp(1 - covered))));
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
