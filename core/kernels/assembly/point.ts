/** Kernels that work on each pixel by itself. `lo` … `hi` counts pixels; pictures are RGBA, 16 bytes a pixel. */
import { gather } from './fours';
import { power01 } from './power';
import { add, alphas, clamp01, F, finite, L, ld, luma, mul, sp, st, sub } from './vector';

export function copy(out: usize, from: usize, lo: i32, hi: i32, scratch: usize): void {
  memory.copy(out + <usize>lo * 16, from + <usize>lo * 16, <usize>(hi - lo) * 16);
}

export function fill(out: usize, red: f32, green: f32, blue: f32, alpha: f32, lo: i32, hi: i32, scratch: usize): void {
  const v = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(red), 1, green), 2, blue), 3, alpha);
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16) st(out + i, v);
}

export function over(out: usize, a: usize, b: usize, lo: i32, hi: i32, scratch: usize): void {
  const one = sp(1);
  let i: usize = lo * 16;
  const e: usize = hi * 16;
  for (; i + 16 < e; i += 32) {
    const x = ld(a + i),
      y = v128.load(a + i, 16);
    const p = ld(b + i),
      q = v128.load(b + i, 16);
    st(out + i, add(x, mul(p, sub(one, alphas(x)))));
    v128.store(out + i, add(y, mul(q, sub(one, alphas(y)))), 16);
  }
  if (i < e) {
    const x = ld(a + i);
    st(out + i, add(x, mul(ld(b + i), sub(one, alphas(x)))));
  }
}

/** Porter-Duff plus, alpha held to 1. */
export function plus(out: usize, a: usize, b: usize, lo: i32, hi: i32, scratch: usize): void {
  const top = f32x4.replace_lane(sp(Infinity), 3, 1);
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16)
    st(out + i, f32x4.pmin(add(ld(a + i), ld(b + i)), top));
}

/** d = a · wa + b · wb. */
export function weightedSum(
  out: usize,
  a: usize,
  weightA: f32,
  b: usize,
  weightB: f32,
  lo: i32,
  hi: i32,
  scratch: usize,
): void {
  const u = sp(weightA),
    v = sp(weightB);
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16)
    st(out + i, add(mul(ld(a + i), u), mul(ld(b + i), v)));
}

export function premultiply(out: usize, from: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16) {
    const v = ld(from + i),
      a = alphas(v);
    st(out + i, f32x4.replace_lane(mul(v, a), 3, f32x4.extract_lane(v, 3)));
  }
}

/** Colour with alpha 0 is light without coverage and stays as it is. */
export function unpremultiply(out: usize, from: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16) {
    const v = ld(from + i),
      a = f32x4.extract_lane(v, 3);
    st(out + i, a > 0 ? f32x4.replace_lane(f32x4.div(v, sp(a)), 3, a) : v);
  }
}

/** See `takeLight`: r, g, b are the tint, m is a matte or 0. */
export function take(
  out: usize,
  from: usize,
  threshold: f32,
  knee: f32,
  limit: f32,
  red: f32,
  green: f32,
  blue: f32,
  mask: usize,
  lo: i32,
  hi: i32,
  scratch: usize,
): void {
  const tint = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(0), 0, red), 1, green), 2, blue);
  const low = threshold - knee,
    high = threshold + knee,
    none = sp(0);
  // Most of a picture is darker than what is taken: four such pixels are passed over at once. A hair below, for the order of the sum.
  const least = sp(low * <f32>0.99999), wr = sp(0.2126), wg = sp(0.7152), wb = sp(0.0722);
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; ) {
    if (low > 0 && i + 64 <= e) {
      const p = from + i, y = add(add(mul(gather(p, 0), wr), mul(gather(p, 1), wg)), mul(gather(p, 2), wb));
      if (i32x4.all_true(f32x4.lt(y, least))) {
        const o = out + i;
        st(o, none); v128.store(o, none, 16); v128.store(o, none, 32); v128.store(o, none, 48);
        i += 64;
        continue;
      }
    }
    for (const four = min(e, i + 64); i < four; i += 16) {
      const v = ld(from + i), y = luma(v);
      if (!(y > 0) || !finite(y)) {
        st(out + i, none);
        continue;
      }
      const capped: f32 = limit > 0 && y > limit ? limit / y : 1;
      const z = y * capped;
      let weight: f32 = 0;
      if (z >= high) weight = (z - threshold) / y;
      else if (z > low) {
        const above = z - low;
        weight = (above * above) / (<f32>4 * knee * y);
      }
      if (mask) weight *= F(mask + (i >> 2));
      st(out + i, weight > 0 ? mul(mul(v, sp(weight)), tint) : none);
    }
  }
}

/** Light by its luminance y: ((y − black)·scale)^power in its place, the colour kept; nothing up to black. */
export function strength(out: usize, from: usize, black: f32, scale: f32, power: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16) {
    const v = ld(from + i), y = luma(v);
    let to: f32 = (y - black) * scale;
    if (!(to > 0) || !finite(to)) { st(out + i, sp(0)); continue; }
    if (power != 1) to = to < 1 ? power01(to, power) : to > 1 ? 1 / power01(1 / to, power) : 1;
    st(out + i, mul(v, sp(to / y)));
  }
}

/** One colour times the luminance of a light; alpha 0. */
export function oneColour(out: usize, from: usize, red: f32, green: f32, blue: f32, lo: i32, hi: i32, scratch: usize): void {
  const c = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(0), 0, red), 1, green), 2, blue);
  for (let i: usize = lo * 16, e: usize = hi * 16; i < e; i += 16) st(out + i, mul(c, sp(luma(ld(from + i)))));
}

/** A matte of 4 bytes a pixel from alpha (`channel` 3) or luminance (`channel` 4), held to 0…1. */
export function matte(out: usize, from: usize, channel: i32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = from + <usize>i * 16;
    store<f32>(out + <usize>i * 4, clamp01(channel == 3 ? F(p + 12) : luma(ld(p))));
  }
}

/**
 * See `layLight`. `mode`: 0 add, 1 screen, 2 lighten, 3 over, 4 under. `mask` is a matte or 0, its complement if
 * `invert`.
 */
export function lay(
  out: usize,
  picture: usize,
  light: usize,
  mask: usize,
  mode: i32,
  amount: f32,
  alphaGrows: i32,
  lightAlone: i32,
  invert: i32,
  lo: i32,
  hi: i32,
  scratch: usize,
): void {
  const one = sp(1),
    zero = sp(0),
    k = sp(amount);
  if (mode == 0 && !lightAlone && !mask && !invert) {
    // The usual case without a branch: alpha grows by what the brightest channel covers.
    for (let p: usize = lo * 16, e: usize = hi * 16; p < e; p += 16) {
      const a = ld(picture + p),
        added = mul(ld(light + p), k);
      // Not a number stays that, and covers nothing.
      const two = f32x4.max(added, v128.shuffle<f32>(added, added, 1, 1, 1, 1));
      const most = f32x4.max(two, v128.shuffle<f32>(added, added, 2, 2, 2, 2));
      const covers = f32x4.pmin(one, f32x4.pmax(zero, v128.shuffle<f32>(most, most, 0, 0, 0, 0)));
      // Where there is no light no bit changes.
      const grown = sub(one, mul(sub(one, a), sub(one, covers)));
      const alpha = alphaGrows ? v128.bitselect(grown, a, f32x4.gt(covers, zero)) : a;
      st(out + p, v128.shuffle<f32>(add(a, added), alpha, 0, 1, 2, 7));
    }
    return;
  }
  for (let i = lo; i < hi; i++) {
    const p: usize = <usize>i * 16;
    let where: f32 = mask ? F(mask + <usize>i * 4) : 1;
    if (invert) where = <f32>1 - where;
    const a = ld(picture + p);
    const added = mul(ld(light + p), k);
    if (lightAlone) {
      st(out + p, f32x4.replace_lane(mul(added, sp(where)), 3, 1));
      continue;
    }
    if (!(where > 0)) {
      st(out + p, a);
      continue;
    }
    const alpha = f32x4.extract_lane(a, 3);
    const covers = clamp01(
      max(max(f32x4.extract_lane(added, 0), f32x4.extract_lane(added, 1)), f32x4.extract_lane(added, 2)),
    );
    let laid: v128;
    if (mode == 0) laid = add(a, added);
    else if (mode == 1) laid = add(a, mul(added, sub(one, f32x4.pmin(one, f32x4.pmax(zero, a)))));
    else if (mode == 2) laid = f32x4.pmax(a, added);
    else if (mode == 3) laid = add(added, mul(a, sp(<f32>1 - covers)));
    else laid = add(a, mul(added, sp(<f32>1 - clamp01(alpha))));
    laid = f32x4.replace_lane(laid, 3, alphaGrows && covers > 0 ? <f32>1 - (<f32>1 - alpha) * (<f32>1 - covers) : alpha);
    st(out + p, where == 1 ? laid : add(a, mul(sp(where), sub(laid, a))));
  }
}
