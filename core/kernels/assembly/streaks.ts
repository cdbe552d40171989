/**
 * Light drawn out along parallel lines by exponentials, straight onto a picture: the state of each line is carried along with it, so that no
 * line is stored. Line k runs at k + slope·a across the picture, `a` along it; it is sampled between two pixels, and a pixel takes from the two
 * lines beside it. `p` holds for each way a wide and a narrow exponential, as a decay and a weight a channel: 8 vectors; `ways` which
 * of both have any light: 1, 2 or 3.
 */
import { quiet } from './gaussian';
import { add, ld, mul, sp, st, sub } from './vector';

/** Lines `lo` … `hi`, counted from `least` on, down a picture of `width` by `height`. Scratch: 2 (hi − lo + 1) pixels, and some. */
export function streaks(
  out: usize, from: usize, width: i32, height: i32, slope: f64, least: i32, values: usize, ways: i32, lo: i32, hi: i32, scratch: usize,
): void {
  if (ways & 1) down(out, from, width, height, slope, least + lo, hi - lo, values, 1, scratch);
  if (ways & 2) down(out, from, width, height, slope, least + lo, hi - lo, values + 64, -1, scratch);
}

function down(d: usize, s: usize, w: i32, h: i32, slope: f64, first: i32, count: i32, p: usize, way: i32, state: usize): void {
  const S: usize = <usize>w * 16, zero = sp(0);
  const a = ld(p), aw = v128.load(p, 16), b = v128.load(p, 32), bw = v128.load(p, 48);
  // Lines 1 … 8, 9 … 16 and so on go together; a byte for each eight says whether there is light on them.
  const lit = state + (<usize>count + 1) * 32;
  memory.fill(state, 0, (<usize>count + 1) * 32 + (<usize>count >> 3) + 1);
  for (let k = 0, y = way > 0 ? 0 : h - 1; k < h; k++, y += way) {
    const x = slope * <f64>y, low = Math.floor(x), i = first + <i32>low;
    const f = sp(<f32>(x - low)), e = sub(sp(1), f);
    const quieten = (k & 31) == 31;
    // Lines from … to lie beside pixels of the row; line j between pixels i + j and i + j + 1. The first gives to the second one's pixel alone.
    const from = max(0, -1 - i), to = min(count, w - 1 - i);
    if (from > to) continue;
    let before = zero;
    let at = s + <usize>y * S + <usize>(i + from) * 16, o = d + <usize>y * S + <usize>(i + from) * 16, q = state + <usize>from * 32;
    for (let j = from; j <= to; ) {
      const eight = lit + <usize>((j - 1) >> 3);
      if (j > from && !((j - 1) & 7) && j + 7 <= to && i + j + 8 < w) {
        if (!load<u8>(eight) && dark(at)) {
          if (v128.any_true(before)) st(o, add(ld(o), mul(before, f)));
          before = zero;
          j += 8; at += 128; o += 128; q += 256;
          continue;
        }
        let left = ld(at), any = zero;
        for (const end = at + 128; at < end; at += 16, o += 16, q += 32) {
          const right = v128.load(at, 16), v = add(left, mul(sub(right, left), f));
          let far = add(mul(ld(q), a), v), near = add(mul(v128.load(q, 16), b), v);
          if (quieten) { far = quiet(far); near = quiet(near); any = v128.or(any, v128.or(far, near)); }
          st(q, far);
          v128.store(q, near, 16);
          const now = add(mul(far, aw), mul(near, bw));
          st(o, add(ld(o), add(mul(before, f), mul(now, e))));
          before = now;
          left = right;
        }
        j += 8;
        store<u8>(eight, !quieten || v128.any_true(any) ? 1 : 0);
        continue;
      }
      const left = i + j >= 0 ? ld(at) : zero, right = i + j + 1 < w ? v128.load(at, 16) : zero, v = add(left, mul(sub(right, left), f));
      const far = quiet(add(mul(ld(q), a), v)), near = quiet(add(mul(v128.load(q, 16), b), v));
      st(q, far);
      v128.store(q, near, 16);
      if (j) store<u8>(eight, 1);
      const now = add(mul(far, aw), mul(near, bw));
      if (j > from) st(o, add(ld(o), add(mul(before, f), mul(now, e))));
      before = now;
      j++; at += 16; o += 16; q += 32;
    }
  }
}

/** True where nine pixels are all 0. */
// @ts-expect-error: decorator
@inline function dark(p: usize): bool {
  const one = v128.or(v128.or(ld(p), v128.load(p, 16)), v128.or(v128.load(p, 32), v128.load(p, 48)));
  const two = v128.or(v128.or(v128.load(p, 64), v128.load(p, 80)), v128.or(v128.load(p, 96), v128.load(p, 112)));
  return !v128.any_true(v128.or(v128.or(one, two), v128.load(p, 128)));
}

/** Rows `lo` … `hi` of the picture `out`, `width` wide: what are the columns of `from`, `height` wide; added to what is there if `adds`. */
export function transpose(out: usize, from: usize, width: i32, height: i32, adds: i32, lo: i32, hi: i32, scratch: usize): void {
  const S: usize = <usize>width * 16, T: usize = <usize>height * 16;
  // A block at a time: whole lines of the cache each way.
  for (let y = lo; y < hi; y += 16) {
    const rows = min(16, hi - y);
    for (let x = 0; x < width; x += 4) {
      const columns = width - x;
      let o = out + <usize>y * S + <usize>x * 16, p = from + <usize>x * T + <usize>y * 16;
      for (let j = 0; j < rows; j++, o += S, p += 16) {
        if (columns < 4) {
          for (let i: usize = 0; i < <usize>columns; i++) st(o + i * 16, adds ? add(ld(o + i * 16), ld(p + i * T)) : ld(p + i * T));
          continue;
        }
        let v0 = ld(p), v1 = ld(p + T), v2 = ld(p + 2 * T), v3 = ld(p + 3 * T);
        if (adds) { v0 = add(v0, ld(o)); v1 = add(v1, v128.load(o, 16)); v2 = add(v2, v128.load(o, 32)); v3 = add(v3, v128.load(o, 48)); }
        st(o, v0); v128.store(o, v1, 16); v128.store(o, v2, 32); v128.store(o, v3, 48);
      }
    }
  }
}
