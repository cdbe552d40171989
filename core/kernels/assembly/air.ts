/** Air between things and the lens. */
import { gather, some } from './fours';
import { add, alphas, clamp01, F, finite, L, ld, luma, mul, sp, st, sub } from './vector';
import { layers } from './warp';

/** 1 − e^(−x) of four numbers from 0 up, to about 1e-7. The same bits on every host. */
// @ts-expect-error: decorator
@inline function losts(x: v128): v128 {
  const t = f32x4.pmax(sp(-126), mul(x, sp(<f32>-1.44269504)));
  const whole = f32x4.nearest(t), r = sub(t, whole);
  // 2^r = 1 + u; without the 1 nothing is lost where the difference is small.
  let u = sp(<f32>0.000154035304);
  u = add(mul(u, r), sp(<f32>0.00133335581));
  u = add(mul(u, r), sp(<f32>0.00961812911));
  u = add(mul(u, r), sp(<f32>0.0555041087));
  u = add(mul(u, r), sp(<f32>0.240226507));
  u = mul(add(mul(u, r), sp(<f32>0.693147181)), r);
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return sub(sub(sp(1), power), mul(power, u));
}
function lost(x: f32): f32 { return f32x4.extract_lane(losts(sp(x)), 0); }

/** How dense it is `x` of the way from near to far, `z` scene units beyond near. */
// @ts-expect-error: decorator
@inline function curves(kind: i32, x: v128, z: v128, beta: f32): v128 {
  const one = sp(1);
  if (kind == 0) return x;
  if (kind == 1) return mul(mul(x, x), sub(sp(3), add(x, x)));
  if (kind == 2) return mul(x, x);
  if (kind == 3) { const y = sub(one, x); return sub(one, mul(y, y)); }
  return losts(mul(f32x4.pmax(sp(0), z), sp(beta)));
}

/** Interpolates 257 stops (colour, density) from near to far. */
// @ts-expect-error: decorator
@inline function stopAt(table: usize, x: f32): v128 {
  const t: f32 = x * 256, k = <i32>min<f32>(255, t), e = table + (<usize>k << 4), a = ld(e);
  return add(a, mul(sub(v128.load(e, 16), a), sp(t - <f32>k)));
}

/**
 * Densities to the plane `out`, and to the plane `places` (if there is one) the places from near to far, of pixels `lo` … `hi`. `depth` holds depth in
 * its first channel, `stops` the table of stops (0: all of density 1). `options` holds: near, 1/(far − near), β, cap, sky,
 * amount, height's base, 1/its fall, share of noise, its cells, its place x and y, its phase.
 */
export function mistDensity(
  out: usize, places: usize, depth: usize, stops: usize, positions: usize, width: i32, curve: i32, invert: i32, up: i32, options: usize, seed: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const near = L(options), scale = L(options + 4), beta = F(options + 8), cap = L(options + 12), sky = L(options + 16), amount = L(options + 20);
  const base = F(options + 24), fall = F(options + 28), share = F(options + 32), cells = F(options + 36), ox = F(options + 40), oy = F(options + 44), phase = F(options + 48);
  const one = sp(1), none = sp(0), steps = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(0), 1, 1), 2, 2), 3, 3);
  for (let i = lo; i < hi; i += 4) {
    const z = gather(depth + (<usize>i << 4), 0), count = hi - i;
    // What is finite: less itself it is 0.
    const there = f32x4.eq(sub(z, z), none), beyond = sub(z, near);
    const x = v128.bitselect(f32x4.pmin(one, f32x4.pmax(none, mul(beyond, scale))), one, there);
    let f = curves(curve, x, beyond, beta);
    if (invert) f = sub(one, f);
    if (stops) {
      const k = f32x4.replace_lane(
        f32x4.replace_lane(
          f32x4.replace_lane(sp(dense(stops, f32x4.extract_lane(x, 0))), 1, dense(stops, f32x4.extract_lane(x, 1))),
          2, dense(stops, f32x4.extract_lane(x, 2)),
        ),
        3, dense(stops, f32x4.extract_lane(x, 3)),
      );
      f = mul(f, k);
    }
    f = v128.bitselect(f32x4.pmin(cap, f), sky, there);
    if (positions) {
      v128.store(scratch, f);
      for (let k = 0; k < min(4, count); k++) {
        const high = F(positions + (<usize>(i + k) << 4) + (<usize>up << 2)) - base;
        if (high > 0) store<f32>(scratch + (<usize>k << 2), F(scratch + (<usize>k << 2)) * (finite(high) ? 1 - lost(high * fall) : 0));
      }
      f = v128.load(scratch);
    }
    if (share > 0) {
      // Four pixels of one row, or of two.
      const px = i % width, y = (<f32>(i / width) + oy) * cells;
      let n = layers(mul(add(add(sp(<f32>px), steps), sp(ox)), sp(cells)), y, phase, 3, seed);
      if (px > width - 4) {
        const next = layers(mul(add(add(sp(<f32>(px - width)), steps), sp(ox)), sp(cells)), (<f32>(i / width + 1) + oy) * cells, phase, 3, seed);
        n = v128.bitselect(n, next, f32x4.lt(add(sp(<f32>px), steps), sp(<f32>width)));
      }
      f = mul(f, sub(one, mul(sp(share * <f32>0.5), add(one, n))));
    }
    f = f32x4.pmin(one, f32x4.pmax(none, mul(f, amount)));
    if (count >= 4) { st(out + (<usize>i << 2), f); if (places) st(places + (<usize>i << 2), x); }
    else { some(out + (<usize>i << 2), f, count); if (places) some(places + (<usize>i << 2), x, count); }
  }
}
// @ts-expect-error: decorator
@inline function dense(table: usize, x: f32): f32 { return f32x4.extract_lane(stopAt(table, x), 3); }

/** Difference of neighbouring densities that counts as an edge. */
const step: f32 = 0.03;

/** Most less least of a plane around a pixel. */
function apart(q: usize, w: i32, h: i32, x: i32, y: i32): f32 {
  let most: f32 = -1, least: f32 = 2;
  for (let v = max(0, y - 1); v <= min(h - 1, y + 1); v++)
    for (let u = max(0, x - 1); u <= min(w - 1, x + 1); u++) {
      const f = F(q + (<usize>(v * w + u) << 2));
      most = max(most, f); least = min(least, f);
    }
  return most - least;
}

/** Rows `lo` … `hi` of bytes: 1 if the densities around a pixel differ by more than `step`, else 0. */
export function mistEdges(out: usize, density: usize, width: i32, height: i32, lo: i32, hi: i32, scratch: usize): void {
  const limit = sp(step), S: usize = <usize>width << 2;
  for (let y = lo; y < hi; y++) {
    let x = 0;
    if (y > 0 && y < height - 1 && width >= 12) {
      store<u8>(out + <usize>(y * width), apart(density, width, height, 0, y) > step ? 1 : 0);
      // Most and least of three rows, of the four columns before, here and after.
      let r = density + <usize>(y * width + 1) * 4;
      let a = ld(r - S), b = ld(r), c = ld(r + S);
      const u = max(F(r - S - 4), max(F(r - 4), F(r + S - 4))), l = min(F(r - S - 4), min(F(r - 4), F(r + S - 4)));
      let most0 = sp(u), least0 = sp(l);
      let most1 = f32x4.pmax(a, f32x4.pmax(b, c)), least1 = f32x4.pmin(a, f32x4.pmin(b, c));
      for (x = 1; x < width - 8; x += 4, r += 16) {
        a = v128.load(r - S, 16); b = v128.load(r, 16); c = v128.load(r + S, 16);
        const most2 = f32x4.pmax(a, f32x4.pmax(b, c)), least2 = f32x4.pmin(a, f32x4.pmin(b, c));
        const most = f32x4.pmax(most1, f32x4.pmax(v128.shuffle<f32>(most0, most1, 3, 4, 5, 6), v128.shuffle<f32>(most1, most2, 1, 2, 3, 4)));
        const least = f32x4.pmin(least1, f32x4.pmin(v128.shuffle<f32>(least0, least1, 3, 4, 5, 6), v128.shuffle<f32>(least1, least2, 1, 2, 3, 4)));
        const bits = i32x4.bitmask(f32x4.gt(sub(most, least), limit));
        store<u32>(out + <usize>(y * width + x), (bits & 1) | ((bits & 2) << 7) | ((bits & 4) << 14) | ((bits & 8) << 21));
        most0 = most1; least0 = least1; most1 = most2; least1 = least2;
      }
    }
    for (; x < width; x++) store<u8>(out + <usize>(y * width + x), apart(density, width, height, x, y) > step ? 1 : 0);
  }
}

// @ts-expect-error: decorator
@inline function sum(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/**
 * The mist before pixel `i`: its light times its density, its density as alpha. The colour is that of the picture `m`, or of the stops in
 * `table` at the place in the plane `at`, or the one at `table` where there is no such plane.
 */
// @ts-expect-error: decorator
@inline function mistAt(q: usize, at: usize, table: usize, m: usize, i: i32): v128 {
  const f = F(q + (<usize>i << 2));
  return f32x4.replace_lane(mul(lightAt(at, table, m, i), sp(f)), 3, f);
}
// @ts-expect-error: decorator
@inline function lightAt(at: usize, table: usize, m: usize, i: i32): v128 {
  return m ? ld(m + (<usize>i << 4)) : at ? stopAt(table, F(at + (<usize>i << 2))) : ld(table);
}
/** A pixel in mist of a density; where that is 0 no bit changes, and alpha nowhere. */
// @ts-expect-error: decorator
@inline function misty(c: v128, f: v128, light: v128): v128 {
  const there = add(mul(c, sub(sp(1), f)), mul(mul(light, f), alphas(c)));
  return v128.shuffle<f32>(v128.bitselect(there, c, f32x4.gt(f, sp(0))), c, 0, 1, 2, 7);
}

/** A colour c in mist: c(1 − f) + mist·α. `mist` holds colour·f, and f as its alpha. */
// @ts-expect-error: decorator
@inline function under(c: v128, mist: v128): v128 {
  return add(mul(c, sp(1 - f32x4.extract_lane(mist, 3))), mul(mist, sp(f32x4.extract_lane(c, 3))));
}
// @ts-expect-error: decorator
@inline function mixed(a: v128, b: v128, share: f32): v128 { return add(mul(a, sp(share)), mul(b, sp(1 - share))); }

/** True if the densities around a pixel change in one step and not gradually: two neighbours differ by most of the range of all nine. */
function parts(q: usize, w: i32, h: i32, x: i32, y: i32, range: f32): bool {
  for (let b = max(0, y - 1); b <= min(h - 1, y + 1); b++)
    for (let a = max(0, x - 1); a <= min(w - 1, x + 1); a++) {
      const at = q + (<usize>(b * w + a) << 2), f = F(at);
      if (a < min(w - 1, x + 1) && Mathf.abs(F(at + 4) - f) > range * <f32>0.75) return true;
      if (b < min(h - 1, y + 1) && Mathf.abs(F(at + (<usize>w << 2)) - f) > range * <f32>0.75) return true;
    }
  return false;
}

/**
 * A pixel at an edge between two surfaces of different depth. Its coverage of each is estimated from the colours of pure pixels of both within two pixels,
 * or given by `m` (coverage of the nearer one). Each part gets the mist density next to the pixel on its side. Light that neither explains, an
 * emitter, gets the density of the neighbours that emit likewise. The result is bounded by the pixel's colour in either density and by the two
 * surfaces in theirs. Without a step of density, or without pure pixels of one surface (a hair), the pixel's own density is used.
 */
function meeting(e: usize, p: usize, q: usize, at: usize, table: usize, colour: usize, m: usize, w: i32, h: i32, x: i32, y: i32, turned: i32): v128 {
  const i = y * w + x, own = ld(p + (<usize>i << 4)), ownMist = mistAt(q, at, table, colour, i), ownF = F(q + (<usize>i << 2)), alone = under(own, ownMist);
  let most: f32 = -1, least: f32 = 2;
  for (let b = max(0, y - 1); b <= min(h - 1, y + 1); b++)
    for (let a = max(0, x - 1); a <= min(w - 1, x + 1); a++) {
      const f = F(q + (<usize>(b * w + a) << 2));
      most = max(most, f); least = min(least, f);
    }
  if (!parts(q, w, h, x, y, most - least) || !finite(sum(own))) return alone;
  const middle: f32 = (most + least) * <f32>0.5, ownDense = ownF > middle;
  let thin = sp(0), dense = sp(0), otherMist = sp(0), thins: f32 = 0, denses: f32 = 0, others: f32 = 0;
  for (let b = max(0, y - 2); b <= min(h - 1, y + 2); b++)
    for (let a = max(0, x - 2); a <= min(w - 1, x + 2); a++) {
      const k = b * w + a, c = ld(p + (<usize>k << 4)), isDense = F(q + (<usize>k << 2)) > middle;
      if (isDense != ownDense && a >= x - 1 && a <= x + 1 && b >= y - 1 && b <= y + 1) { otherMist = add(otherMist, mistAt(q, at, table, colour, k)); others++; }
      if (load<u8>(e + <usize>k) || !finite(sum(c))) continue;
      if (isDense) { dense = add(dense, c); denses++; }
      else { thin = add(thin, c); thins++; }
    }
  if (thins == 0 || denses == 0 || others == 0) return alone;
  thin = mul(thin, sp(1 / thins)); dense = mul(dense, sp(1 / denses)); otherMist = mul(otherMist, sp(1 / others));
  const thinMist = ownDense ? otherMist : ownMist, denseMist = ownDense ? ownMist : otherMist;
  const across = sub(thin, dense), far = sum(mul(across, across));
  // Coverage of the surface with less mist.
  let c: f32 = ownDense ? 0 : 1;
  if (m) { const share = clamp01(F(m + (<usize>i << 2))); c = turned ? 1 - share : share; }
  else if (far > <f32>1e-6) c = clamp01(sum(mul(sub(own, dense), across)) / far);
  const base = mixed(thin, dense, c), rest = sub(own, base), restSize = sum(mul(rest, rest));
  // Neighbours that are brighter in the direction of the rest are its source: the rest gets their density. Without any it gets the pixel's own.
  let all: f32 = 0.05, inThin: f32 = ownDense ? 0 : all;
  if (restSize > <f32>1e-6)
    for (let b = max(0, y - 1); b <= min(h - 1, y + 1); b++)
      for (let a = max(0, x - 1); a <= min(w - 1, x + 1); a++) {
        const k = b * w + a, like = sum(mul(sub(ld(p + (<usize>k << 4)), base), rest)) / restSize;
        if (!(like > 1) || !finite(like)) continue;
        const weight = (like - 1) * (like - 1);
        all += weight;
        if (F(q + (<usize>k << 2)) <= middle) inThin += weight;
      }
  const whole = under(own, mixed(thinMist, denseMist, inThin / all));
  // How well the two surfaces explain the pixel's colour, 0 to 1.
  const explained = far > <f32>1e-6 ? clamp01(2 - 2 * restSize / far) : m && restSize < <f32>1e-6 ? <f32>1 : <f32>0;
  if (explained == 0) return whole;
  const one = under(thin, thinMist), two = under(dense, denseMist), lower = under(own, thinMist), upper = under(own, denseMist);
  const parted = add(mixed(one, two, c), mul(rest, sp(1 - f32x4.extract_lane(mixed(thinMist, denseMist, inThin / all), 3))));
  const low = f32x4.pmin(f32x4.pmin(one, two), f32x4.pmin(lower, upper)), high = f32x4.pmax(f32x4.pmax(one, two), f32x4.pmax(lower, upper));
  return mixed(f32x4.pmin(f32x4.pmax(parted, low), high), whole, explained);
}

/**
 * Rows `lo` … `hi`: `picture` in mist of `density`, whose edges `edges` marks and whose colours `mistAt` tells; `coverage` is the coverage of what is nearer, if it
 * is known. Alpha stays.
 */
export function layMist(
  out: usize, edges: usize, picture: usize, density: usize, places: usize, stops: usize, colour: usize, coverage: usize, width: i32, height: i32, invert: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const even = ld(stops), varied = colour != 0 || places != 0;
  for (let y = lo; y < hi; y++)
    for (let x = 0; x < width; ) {
      const i = y * width + x, o: usize = <usize>i << 4;
      // Four at once where no edge is near.
      if (x <= width - 4 && load<u32>(edges + <usize>i) == 0) {
        const f = ld(density + (<usize>i << 2)), f0 = v128.shuffle<f32>(f, f, 0, 0, 0, 0), f1 = v128.shuffle<f32>(f, f, 1, 1, 1, 1);
        const f2 = v128.shuffle<f32>(f, f, 2, 2, 2, 2), f3 = v128.shuffle<f32>(f, f, 3, 3, 3, 3);
        const from = picture + o, to = out + o;
        if (varied) {
          st(to, misty(ld(from), f0, lightAt(places, stops, colour, i)));
          v128.store(to, misty(v128.load(from, 16), f1, lightAt(places, stops, colour, i + 1)), 16);
          v128.store(to, misty(v128.load(from, 32), f2, lightAt(places, stops, colour, i + 2)), 32);
          v128.store(to, misty(v128.load(from, 48), f3, lightAt(places, stops, colour, i + 3)), 48);
        } else {
          st(to, misty(ld(from), f0, even));
          v128.store(to, misty(v128.load(from, 16), f1, even), 16);
          v128.store(to, misty(v128.load(from, 32), f2, even), 32);
          v128.store(to, misty(v128.load(from, 48), f3, even), 48);
        }
        x += 4;
        continue;
      }
      const c = ld(picture + o);
      if (load<u8>(edges + <usize>i)) st(out + o, f32x4.replace_lane(meeting(edges, picture, density, places, stops, colour, coverage, width, height, x, y, invert), 3, f32x4.extract_lane(c, 3)));
      else st(out + o, misty(c, L(density + (<usize>i << 2)), lightAt(places, stops, colour, i)));
      x++;
    }
}

/** A picture times a plane, in all four channels; what is not finite counts as nothing. `lo` … `hi` counts pixels. */
export function timesPlane(out: usize, from: usize, plane: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const c = ld(from + (<usize>i << 4));
    st(out + (<usize>i << 4), finite(luma(c)) ? mul(c, sp(F(plane + (<usize>i << 2)))) : sp(0));
  }
}

/**
 * A picture `from` blurred the more the denser the plane `density` is: three blurs of (picture · f) and of f, of a quarter, half and all of the radius,
 * stand as addresses in `blurs` (picture, plane, picture, …). Where f is 0 no bit changes. `lo` … `hi` counts pixels.
 */
export function softened(out: usize, from: usize, density: usize, blurs: usize, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const at = <usize>i << 4, own = ld(from + at), k = F(density + (<usize>i << 2));
    if (k <= 0) { st(out + at, own); continue; }
    // Between which two of none, a quarter, half and all.
    const first: i32 = k < <f32>0.25 ? 0 : k < <f32>0.5 ? 1 : 2;
    const t: f32 = first == 0 ? k * 4 : first == 1 ? k * 4 - 1 : k * 2 - 1;
    const less = first == 0 ? own : blurred(blurs, first - 1, i, own), more = blurred(blurs, first, i, own);
    st(out + at, add(less, mul(sub(more, less), sp(min<f32>(1, t)))));
  }
}

// @ts-expect-error: decorator
@inline function blurred(blurs: usize, k: i32, i: i32, own: v128): v128 {
  const entry = blurs + (<usize>k << 3), weight = F(<usize>load<u32>(entry, 4) + (<usize>i << 2));
  return weight > <f32>1e-6 ? mul(ld(<usize>load<u32>(entry) + (<usize>i << 4)), sp(1 / weight)) : own;
}

/**
 * The sum of passes, each times three gains: `passes` holds for each 5 words: its address, that of a matte inside which alone the gains hold
 * (0: everywhere), and the gains. Alpha is that of `alpha`. With `beauty` what is left of that picture without the sum. `lo` … `hi` counts pixels.
 * A short piece of one pass after the other: pictures of one size lie so that all at once would push each other out of the cache.
 */
export function mixPasses(out: usize, passes: usize, count: i32, alpha: usize, beauty: usize, lo: i32, hi: i32, scratch: usize): void {
  const one = sp(1);
  for (let from = lo; from < hi; from += 256) {
    const n = min(256, hi - from), bytes = <usize>n << 4, at = <usize>from << 4;
    for (let k = 0; k < count; k++) {
      const e = passes + <usize>(k * 20), s = <usize>load<u32>(e) + at, m = <usize>load<u32>(e, 4);
      // The last lane is not used: what stands behind the gains would be slow to multiply by.
      const gain = f32x4.replace_lane(v128.load(e, 8), 3, 1);
      if (m) {
        const more = sub(gain, one);
        for (let i = 0; i < n; i++) {
          const o: usize = <usize>i << 4, c = mul(ld(s + o), add(one, mul(more, sp(clamp01(F(m + (<usize>(from + i) << 2)))))));
          st(scratch + o, k ? add(ld(scratch + o), c) : c);
        }
      } else if (k) for (let o: usize = 0; o < bytes; o += 16) st(scratch + o, add(ld(scratch + o), mul(ld(s + o), gain)));
      else for (let o: usize = 0; o < bytes; o += 16) st(scratch + o, mul(ld(s + o), gain));
    }
    if (beauty) for (let o: usize = 0; o < bytes; o += 16) st(scratch + o, sub(ld(beauty + at + o), ld(scratch + o)));
    for (let o: usize = 0; o < bytes; o += 16) st(out + at + o, f32x4.replace_lane(ld(scratch + o), 3, F(alpha + at + o + 12)));
  }
}
