/** Air between things and the lens. */
import { layered } from './warp';
import { add, clamp01, F, finite, ld, luma, mul, sp, st, sub } from './vector';

/** 1 − e^(−x) for x from 0 up, to about 1e-7. The same bits on every host. */
// @ts-expect-error: decorator
@inline function lost(x: f32): f32 {
  if (x < <f32>0.02) return x * (1 - x * (<f32>0.5 - x * (<f32>0.166666667 - x * <f32>0.0416666667)));
  const t: f32 = x * <f32>-1.44269504;
  if (t < -126) return 1;
  const whole = Mathf.floor(t + 0.5), r: f32 = t - whole;
  const two: f32 = 1 + r * (<f32>0.693147181 + r * (<f32>0.240226507 + r * (<f32>0.0555041087 + r * (<f32>0.00961812911 + r * (<f32>0.00133335581 + r * <f32>0.000154035304)))));
  return 1 - two * reinterpret<f32>((<i32>whole + 127) << 23);
}

/** How dense it is `x` of the way from near to far, `z` scene units beyond near. */
// @ts-expect-error: decorator
@inline function curve(kind: i32, x: f32, z: f32, beta: f32): f32 {
  if (kind == 0) return x;
  if (kind == 1) return x * x * (3 - 2 * x);
  if (kind == 2) return x * x;
  if (kind == 3) return 1 - (1 - x) * (1 - x);
  return z > 0 ? lost(z * beta) : 0;
}

/**
 * Rows `lo` … `hi` of a veil: mist · f, and f as its alpha and once more in the plane `q`. `s` holds depth in its first channel; `table` 257
 * stops of (density, colour) from near to far; `m` the colour of another picture in place of theirs; `h` positions. `o` holds: near,
 * 1/(far − near), β, cap, sky, amount, height's base, 1/its fall, share of noise, its cells, its place x and y, its phase.
 */
export function mistVeil(
  d: usize, q: usize, s: usize, table: usize, m: usize, h: usize, w: i32, kind: i32, turned: i32, up: i32, o: usize, seed: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const near = F(o), scale = F(o + 4), beta = F(o + 8), cap = F(o + 12), sky = F(o + 16), amount = F(o + 20);
  const base = F(o + 24), fall = F(o + 28), share = F(o + 32), cells = F(o + 36), ox = F(o + 40), oy = F(o + 44), phase = F(o + 48);
  for (let y = lo; y < hi; y++) {
    for (let x = 0; x < w; x++) {
      const i = y * w + x, p = <usize>i << 4, z = F(s + p);
      let f: f32 = sky, at: f32 = 1, stop: v128;
      if (finite(z)) {
        at = clamp01((z - near) * scale);
        const t: f32 = at * 256, k = <i32>min<f32>(255, t), e = table + (<usize>k << 4), a = ld(e);
        stop = add(a, mul(sub(v128.load(e, 16), a), sp(t - <f32>k)));
        f = curve(kind, at, z - near, beta);
        if (turned) f = 1 - f;
        f = min<f32>(cap, f * f32x4.extract_lane(stop, 3));
      } else stop = ld(table + 4096);
      if (h) {
        const high = F(h + p + (<usize>up << 2)) - base;
        if (high > 0) f *= finite(high) ? 1 - lost(high * fall) : 0;
      }
      if (share > 0) f *= 1 - share * <f32>0.5 * (1 + layered((<f32>x + ox) * cells, (<f32>y + oy) * cells, phase, 3, seed));
      f = clamp01(f * amount);
      store<f32>(q + (<usize>i << 2), f);
      st(d + p, f32x4.replace_lane(mul(m ? ld(m + p) : stop, sp(f)), 3, f));
    }
  }
}

/** Densities of neighbours that lie further apart are an edge of something. */
const step: f32 = 0.03;

/** Most and least of a plane around a pixel. */
// @ts-expect-error: decorator
@inline function apart(q: usize, w: i32, h: i32, x: i32, y: i32): f32 {
  let most: f32 = -1, least: f32 = 2;
  for (let v = max(0, y - 1); v <= min(h - 1, y + 1); v++)
    for (let u = max(0, x - 1); u <= min(w - 1, x + 1); u++) {
      const f = F(q + (<usize>(v * w + u) << 2));
      most = max(most, f); least = min(least, f);
    }
  return most - least;
}

// @ts-expect-error: decorator
@inline function sum(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** A picture's colour under a veil: c(1 − f) + veil · α. */
// @ts-expect-error: decorator
@inline function under(c: v128, veil: v128): v128 {
  return add(mul(c, sp(1 - f32x4.extract_lane(veil, 3))), mul(veil, sp(f32x4.extract_lane(c, 3))));
}

/**
 * A pixel in which two things meet that lie at different depths. What is purely the one and purely the other nearby tells its share of
 * each (or `m` does, the share of the nearer), and each lies under its own veil. Where one of them is nowhere pure (a hair) the pixel is
 * what its own depth says.
 */
function meeting(p: usize, v: usize, q: usize, m: usize, w: i32, h: i32, x: i32, y: i32, turned: i32): v128 {
  const i = y * w + x, own = ld(p + (<usize>i << 4)), ownVeil = ld(v + (<usize>i << 4)), ownF = F(q + (<usize>i << 2));
  let most: f32 = -1, least: f32 = 2;
  for (let b = max(0, y - 1); b <= min(h - 1, y + 1); b++)
    for (let a = max(0, x - 1); a <= min(w - 1, x + 1); a++) {
      const f = F(q + (<usize>(b * w + a) << 2));
      most = max(most, f); least = min(least, f);
    }
  const middle: f32 = (most + least) * <f32>0.5;
  let thin = sp(0), thinVeil = sp(0), dense = sp(0), denseVeil = sp(0), thins: f32 = 0, denses: f32 = 0;
  for (let b = max(0, y - 2); b <= min(h - 1, y + 2); b++)
    for (let a = max(0, x - 2); a <= min(w - 1, x + 2); a++) {
      const k = b * w + a, c = ld(p + (<usize>k << 4));
      if (apart(q, w, h, a, b) > step || !finite(luma(c) + f32x4.extract_lane(c, 3))) continue;
      if (F(q + (<usize>k << 2)) > middle) { dense = add(dense, c); denseVeil = add(denseVeil, ld(v + (<usize>k << 4))); denses++; }
      else { thin = add(thin, c); thinVeil = add(thinVeil, ld(v + (<usize>k << 4))); thins++; }
    }
  if (thins == 0 || denses == 0) return under(own, ownVeil);
  thin = mul(thin, sp(1 / thins)); thinVeil = mul(thinVeil, sp(1 / thins));
  dense = mul(dense, sp(1 / denses)); denseVeil = mul(denseVeil, sp(1 / denses));
  const across = sub(thin, dense), far = sum(mul(across, across));
  // Share of the side with less mist.
  let c: f32 = ownF > middle ? 0 : 1;
  if (m) { const share = clamp01(F(m + (<usize>i << 2))); c = turned ? 1 - share : share; }
  else if (far > <f32>1e-6) c = clamp01(sum(mul(sub(own, dense), across)) / far);
  const one = mul(thin, sp(c)), other = mul(dense, sp(1 - c));
  const rest = sub(own, add(one, other)), veil = add(mul(thinVeil, sp(c)), mul(denseVeil, sp(1 - c)));
  return add(add(under(one, thinVeil), under(other, denseVeil)), under(rest, veil));
}

/** Rows `lo` … `hi`: the picture `p` under the veil `v`, whose densities stand in `q` too; `m` is the coverage of what is nearer, if it is known. Alpha stays. */
export function layMist(d: usize, p: usize, v: usize, q: usize, m: usize, w: i32, h: i32, turned: i32, lo: i32, hi: i32, scratch: usize): void {
  const limit = sp(step), S: usize = <usize>w << 2;
  for (let y = lo; y < hi; y++) {
    const inside = y > 0 && y < h - 1;
    for (let x = 0; x < w; ) {
      const i = y * w + x;
      // Four at once where no edge is near.
      if (inside && x > 0 && x < w - 4) {
        const r = q + (<usize>i << 2);
        let most = ld(r), least = most;
        for (let k = -1; k <= 1; k++) {
          const t = <usize>(<isize>r + <isize>k * <isize>S);
          const a = ld(t - 4), b = ld(t), c = ld(t + 4);
          most = f32x4.pmax(most, f32x4.pmax(a, f32x4.pmax(b, c)));
          least = f32x4.pmin(least, f32x4.pmin(a, f32x4.pmin(b, c)));
        }
        if (!v128.any_true(f32x4.gt(sub(most, least), limit))) {
          for (let k = 0; k < 4; k++) plain(d, p, v, i + k);
          x += 4;
          continue;
        }
      }
      if (apart(q, w, h, x, y) > step) {
        const c = ld(p + (<usize>i << 4));
        st(d + (<usize>i << 4), f32x4.replace_lane(meeting(p, v, q, m, w, h, x, y, turned), 3, f32x4.extract_lane(c, 3)));
      } else plain(d, p, v, i);
      x++;
    }
  }
}

// @ts-expect-error: decorator
@inline function plain(d: usize, p: usize, v: usize, i: i32): void {
  const at = <usize>i << 4, c = ld(p + at), veil = ld(v + at);
  // Where there is no mist no bit changes.
  st(d + at, f32x4.extract_lane(veil, 3) == 0 ? c : f32x4.replace_lane(under(c, veil), 3, f32x4.extract_lane(c, 3)));
}

/** A picture times a plane, in all four channels; what is not finite counts as nothing. `lo` … `hi` counts pixels. */
export function timesPlane(d: usize, s: usize, m: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const c = ld(s + (<usize>i << 4));
    st(d + (<usize>i << 4), finite(luma(c)) ? mul(c, sp(F(m + (<usize>i << 2)))) : sp(0));
  }
}

/**
 * A picture `s` blurred the more the denser the plane `f` is: three blurs of (picture · f) and of f, of a quarter, half and all of the radius,
 * stand as addresses in `blurs` (picture, plane, picture, …). Where f is 0 no bit changes. `lo` … `hi` counts pixels.
 */
export function softened(d: usize, s: usize, f: usize, blurs: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const at = <usize>i << 4, own = ld(s + at), k = F(f + (<usize>i << 2));
    if (k <= 0) { st(d + at, own); continue; }
    // Between which two of none, a quarter, half and all.
    const first: i32 = k < <f32>0.25 ? 0 : k < <f32>0.5 ? 1 : 2;
    const t: f32 = first == 0 ? k * 4 : first == 1 ? k * 4 - 1 : k * 2 - 1;
    const less = first == 0 ? own : blurred(blurs, first - 1, i, own), more = blurred(blurs, first, i, own);
    st(d + at, add(less, mul(sub(more, less), sp(min<f32>(1, t)))));
  }
}

// @ts-expect-error: decorator
@inline function blurred(blurs: usize, k: i32, i: i32, own: v128): v128 {
  const entry = blurs + (<usize>k << 3), weight = F(<usize>load<u32>(entry, 4) + (<usize>i << 2));
  return weight > <f32>1e-6 ? mul(ld(<usize>load<u32>(entry) + (<usize>i << 4)), sp(1 / weight)) : own;
}

/**
 * The sum of passes, each times three gains: `table` holds for each 5 words: its address, that of a matte inside which alone the gains hold
 * (0: everywhere), and the gains. Alpha is that of `a`. With `b` what is left of that picture without the sum. `lo` … `hi` counts pixels.
 */
export function mixPasses(d: usize, table: usize, count: i32, a: usize, b: usize, lo: i32, hi: i32, scratch: usize): void {
  const one = sp(1);
  for (let i = lo; i < hi; i++) {
    const at = <usize>i << 4;
    let all = sp(0);
    for (let k = 0; k < count; k++) {
      const e = table + <usize>(k * 20), c = ld(<usize>load<u32>(e) + at), m = <usize>load<u32>(e, 4);
      let gain = v128.load(e, 8);
      if (m) gain = add(one, mul(sub(gain, one), sp(clamp01(F(m + (<usize>i << 2))))));
      all = add(all, mul(c, gain));
    }
    if (b) all = sub(ld(b + at), all);
    st(d + at, f32x4.replace_lane(all, 3, F(a + at + 12)));
  }
}
