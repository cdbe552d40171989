/** Samples of files, as they lie in planes, to pixels. */
import { ld, st } from './vector';

/** Four halves at `p` as floats, exactly (IEEE 754): infinities and what is not a number keep their bits. */
// @ts-expect-error: decorator
@inline function widened(p: usize): v128 {
  const h = i32x4.extend_low_i16x8_u(v128.load64_zero(p));
  const size = v128.and(h, i32x4.splat(0x7fff));
  // The exponent's bias is made good by 2^112: exact, also for what is below the least normal half.
  const real = f32x4.mul(i32x4.shl(size, 13), f32x4.splat(<f32>5.192296858534828e33));
  const full = v128.and(i32x4.gt_s(size, i32x4.splat(0x7bff)), i32x4.splat(0x7f800000));
  const endless = v128.or(i32x4.shl(size, 13), full);
  const value = v128.bitselect(endless, real, i32x4.ne(full, i32x4.splat(0)));
  return v128.or(value, i32x4.shl(i32x4.shr_u(h, 15), 31));
}

/** Four samples, from the `i`-th on, of a plane of halves or floats; of no plane, ones. */
// @ts-expect-error: decorator
@inline function four(plane: usize, half: bool, i: i32): v128 {
  return plane == 0 ? f32x4.splat(1) : half ? widened(plane + (<usize>i << 1)) : ld(plane + (<usize>i << 2));
}

/**
 * Rows `lo` … `hi` of RGBA from planes of samples that are light as they stand. Bit c of `halves` says that plane c holds halves, else floats; without a
 * plane a channel is 1. A row of a plane has `source` samples, of which `count` are placed; sample `first` of the planes goes to pixel
 * `start` of the picture, whose rows are `width` long. Planes have 16 bytes to spare behind them.
 */
export function placeSamples(
  out: usize, red: usize, green: usize, blue: usize, alpha: usize, halves: i32, source: i32, first: i32, width: i32, start: i32, count: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const h0 = (halves & 1) != 0, h1 = (halves & 2) != 0, h2 = (halves & 4) != 0, h3 = (halves & 8) != 0;
  for (let y = lo; y < hi; y++) {
    const from = first + y * source, to = out + (<usize>(start + y * width) << 4);
    for (let x = 0; x < count; x += 4) {
      const r = four(red, h0, from + x), g = four(green, h1, from + x), b = four(blue, h2, from + x), a = four(alpha, h3, from + x);
      const rg = v128.shuffle<f32>(r, g, 0, 4, 1, 5), ba = v128.shuffle<f32>(b, a, 0, 4, 1, 5);
      const d = to + (<usize>x << 4), left = count - x;
      st(d, v128.shuffle<f32>(rg, ba, 0, 1, 4, 5));
      if (left > 1) v128.store(d, v128.shuffle<f32>(rg, ba, 2, 3, 6, 7), 16);
      const rg2 = v128.shuffle<f32>(r, g, 2, 6, 3, 7), ba2 = v128.shuffle<f32>(b, a, 2, 6, 3, 7);
      if (left > 2) v128.store(d, v128.shuffle<f32>(rg2, ba2, 0, 1, 4, 5), 32);
      if (left > 3) v128.store(d, v128.shuffle<f32>(rg2, ba2, 2, 3, 6, 7), 48);
    }
  }
}

/** Four floats as halves in the low words of lanes, rounded to the nearest, ties to even. Those past 65504 that are finite become 65504. */
// @ts-expect-error: decorator
@inline function narrowed(bits: v128): v128 {
  const size = v128.and(bits, i32x4.splat(0x7fffffff)), endless = i32x4.splat(0x7f800000);
  const held = i32x4.min_s(size, i32x4.splat(0x477fe000));
  const odd = v128.and(i32x4.shr_u(held, 13), i32x4.splat(1));
  const normal = i32x4.shr_u(i32x4.add(held, i32x4.add(odd, i32x4.splat(0xfff - 0x38000000))), 13);
  // Below the least normal half: added to 0.5, a float rounds at the place where such a half ends.
  const small = i32x4.sub(f32x4.add(held, f32x4.splat(0.5)), i32x4.splat(0x3f000000));
  let half = v128.bitselect(small, normal, i32x4.lt_s(held, i32x4.splat(0x38800000)));
  const none = v128.or(i32x4.splat(0x7e00), v128.and(i32x4.shr_u(size, 13), i32x4.splat(0x1ff)));
  half = v128.bitselect(i32x4.splat(0x7c00), half, i32x4.eq(size, endless));
  half = v128.bitselect(none, half, i32x4.gt_s(size, endless));
  return v128.or(half, v128.and(i32x4.shr_u(bits, 16), i32x4.splat(0x8000)));
}

/**
 * Rows `lo` … `hi` of RGBA floats as four planes of halves, one after another at `out`. The number of finite values of each row that are past the largest
 * half, and are held there, goes to `held`. The planes have 16 bytes to spare behind them, and so has the picture.
 */
export function halvesOf(out: usize, held: usize, from: usize, width: i32, height: i32, lo: i32, hi: i32, scratch: usize): void {
  const plane = <usize>(width * height) << 1, endless = i32x4.splat(0x7f800000), largest = i32x4.splat(0x477fe000), all = i32x4.splat(0x7fffffff);
  for (let y = lo; y < hi; y++) {
    let count = 0;
    for (let x = 0; x < width; x += 4) {
      const p = from + (<usize>(y * width + x) << 4), d = out + (<usize>(y * width + x) << 1), left = width - x;
      const a = ld(p), b = v128.load(p, 16), e = v128.load(p, 32), f = v128.load(p, 48);
      // Pixels to channels, four by four.
      const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5), ef = v128.shuffle<f32>(e, f, 0, 4, 1, 5), ab2 = v128.shuffle<f32>(a, b, 2, 6, 3, 7), ef2 = v128.shuffle<f32>(e, f, 2, 6, 3, 7);
      const seen = left >= 4 ? i32x4.splat(-1) : i32x4.lt_s(i32x4(0, 1, 2, 3), i32x4.splat(left));
      for (let c = 0; c < 4; c++) {
        const v = c == 0 ? v128.shuffle<f32>(ab, ef, 0, 1, 4, 5) : c == 1 ? v128.shuffle<f32>(ab, ef, 2, 3, 6, 7) : c == 2 ? v128.shuffle<f32>(ab2, ef2, 0, 1, 4, 5) : v128.shuffle<f32>(ab2, ef2, 2, 3, 6, 7);
        const size = v128.and(v, all);
        count += popcnt(i32x4.bitmask(v128.and(seen, v128.and(i32x4.gt_s(size, largest), i32x4.lt_s(size, endless)))));
        const h = narrowed(v), q = d + plane * <usize>c;
        if (left >= 4) v128.store64_lane(q, i8x16.shuffle(h, h, 0, 1, 4, 5, 8, 9, 12, 13, 0, 1, 4, 5, 8, 9, 12, 13), 0);
        else {
          store<u16>(q, i32x4.extract_lane(h, 0));
          if (left > 1) store<u16>(q, i32x4.extract_lane(h, 1), 2);
          if (left > 2) store<u16>(q, i32x4.extract_lane(h, 2), 4);
        }
      }
    }
    store<i32>(held + (<usize>y << 2), count);
  }
}

/** A code of one or two bytes, the `i`-th of a plane, by its table; 1 without a plane. */
// @ts-expect-error: decorator
@inline function decoded(plane: usize, wide: bool, i: i32, table: usize): f32 {
  if (plane == 0) return 1;
  const code = wide ? <usize>load<u16>(plane + (<usize>i << 1)) : <usize>load<u8>(plane + <usize>i);
  return load<f32>(table + (code << 2));
}

/**
 * Rows `lo` … `hi` of RGBA from planes of codes of one byte, or of two where `wide`: colours by the table `light`, alpha by the table `share`, and with
 * `straight` colours times alpha. Planes and rows as in `placeSamples`.
 */
export function placeCodes(
  out: usize, red: usize, green: usize, blue: usize, alpha: usize, light: usize, share: usize, wide: i32, straight: i32, source: i32, first: i32, width: i32, start: i32, count: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const two = wide != 0, grey = red == green && green == blue;
  for (let y = lo; y < hi; y++) {
    let i = first + y * source, d = out + (<usize>(start + y * width) << 4);
    for (let x = 0; x < count; x++, i++, d += 16) {
      const a = decoded(alpha, two, i, share), by: f32 = straight ? a : 1;
      const r = decoded(red, two, i, light) * by;
      store<f32>(d, r);
      store<f32>(d, grey ? r : decoded(green, two, i, light) * by, 4);
      store<f32>(d, grey ? r : decoded(blue, two, i, light) * by, 8);
      store<f32>(d, a, 12);
    }
  }
}
