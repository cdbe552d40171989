/**
 * Programs of colour: a list of operations that each pixel goes through, one after the other, on colour that is not multiplied by its alpha. A record of
 * an operation is 80 bytes: its code, 16 parameters, the address of its table, the table's size. `lo` … `hi` counts pixels.
 */
import { gather } from './fours';
import { exps2, logs2, powers } from './power';
import { add, F, ld, mul, sp, st, sub } from './vector';

/** Pixels that are worked on at a time, in planes of red, green, blue and alpha in the scratch. */
const tile: i32 = 256;
const plane: usize = 1024;
const record: usize = 80;

// @ts-expect-error: decorator
@inline function par(op: usize, i: i32): v128 { return v128.load_splat<f32>(op + 4 + (<usize>i << 2)); }
// @ts-expect-error: decorator
@inline function lumas(r: v128, g: v128, b: v128): v128 {
  return add(add(mul(r, sp(<f32>0.2126)), mul(g, sp(<f32>0.7152))), mul(b, sp(<f32>0.0722)));
}

/** red, green, blue by three rows of four numbers each. */
function matrix(op: usize, s: usize, fours: i32): void {
  for (let i = 0; i < fours; i++, s += 16) {
    const r = ld(s), g = ld(s + plane), b = ld(s + 2 * plane);
    for (let c = 0; c < 3; c++)
      st(s + <usize>c * plane, add(add(mul(r, par(op, 4 * c)), mul(g, par(op, 4 * c + 1))), add(mul(b, par(op, 4 * c + 2)), par(op, 4 * c + 3))));
  }
}

/** Each channel to its own power; `clamps` holds it to 0 … 1 before, else what is below 0 stays. */
function power(op: usize, s: usize, fours: i32): void {
  const clamps = F(op + 4 + 12) != 0, zero = sp(0), one = sp(1);
  for (let c = 0; c < 3; c++) {
    const p: f32 = F(op + 4 + (<usize>c << 2));
    const q = s + <usize>c * plane, end = q + (<usize>fours << 4);
    if (clamps) for (let t = q; t < end; t += 16) st(t, f32x4.pmin(one, f32x4.pmax(zero, ld(t))));
    if (p != 1) for (let t = q; t < end; t += 16) st(t, powers(ld(t), p));
  }
}

/** What one step gives to the next: multiplied by alpha and divided by it again, as if a picture lay between them. */
function between(s: usize, fours: i32): void {
  const zero = sp(0);
  for (let i = 0; i < fours; i++, s += 16) {
    const a = ld(s + 3 * plane), some = f32x4.gt(a, zero);
    for (let c = 0; c < 3; c++) {
      const q = s + <usize>c * plane, x = ld(q);
      st(q, v128.bitselect(f32x4.div(mul(x, a), a), x, some));
    }
  }
}

/** Four values of a table at `at` entries from its first, each between two by its share; held to its ends. The table has one entry more than `size`. */
// @ts-expect-error: decorator
@inline function entries(table: usize, size: i32, at: v128): v128 {
  const held = f32x4.pmin(sp(<f32>(size - 1)), f32x4.pmax(sp(0), at));
  const whole = i32x4.trunc_sat_f32x4_s(held), t = sub(held, f32x4.convert_i32x4_s(whole));
  const i = i32x4.shl(whole, 2);
  let low = v128.load64_zero(table + <usize>i32x4.extract_lane(i, 0)), high = v128.load64_zero(table + <usize>i32x4.extract_lane(i, 2));
  low = v128.load64_lane(table + <usize>i32x4.extract_lane(i, 1), low, 1);
  high = v128.load64_lane(table + <usize>i32x4.extract_lane(i, 3), high, 1);
  const a = v128.shuffle<f32>(low, high, 0, 2, 4, 6), b = v128.shuffle<f32>(low, high, 1, 3, 5, 7);
  return add(a, mul(sub(b, a), t));
}

/** Mid-grey, from which stops are counted. */
const grey: f32 = 0.18;

/**
 * Light by a curve over stops: `table` says the stops of what comes out. Below the first entry light keeps its proportion, so that 0 stays 0 and what is
 * below it is mirrored; above the last the curve goes on by `slope`.
 */
// @ts-expect-error: decorator
@inline function curved(x: v128, op: usize, table: usize, size: i32, slope: v128): v128 {
  const first = par(op, 0), perStop = par(op, 1);
  const lowest = F(op + 4 + 8), least = sp(lowest);
  const inside = v128.and(f32x4.gt(x, least), f32x4.lt(x, sp(Infinity)));
  const stops = logs2(v128.bitselect(mul(x, sp(1 / grey)), sp(1), inside));
  const at = mul(sub(stops, first), perStop);
  const past = f32x4.pmax(sp(0), sub(at, sp(<f32>(size - 1))));
  const to = add(entries(table, size, at), mul(f32x4.div(past, perStop), slope));
  const proportion = exps2(sub(sp(F(table)), first));
  return v128.bitselect(mul(exps2(to), sp(grey)), mul(x, proportion), inside);
}

function curves(op: usize, s: usize, fours: i32): void {
  const table: usize = load<u32>(op + 68), size = load<i32>(op + 72);
  for (let c = 0; c < 3; c++) {
    let q = s + <usize>c * plane;
    const own = table + (<usize>(c * (size + 1)) << 2), slope = par(op, 3 + c);
    for (let i = 0; i < fours; i++, q += 16) st(q, curved(ld(q), op, own, size, slope));
  }
}

/** All channels by one factor, that of a curve on their luminance. */
function luminanceCurve(op: usize, s: usize, fours: i32): void {
  const table: usize = load<u32>(op + 68), size = load<i32>(op + 72), slope = par(op, 3);
  const least = sp(F(op + 4 + 8)), proportion = exps2(sub(sp(F(table)), par(op, 0)));
  for (let i = 0; i < fours; i++, s += 16) {
    const r = ld(s), g = ld(s + plane), b = ld(s + 2 * plane), y = lumas(r, g, b);
    const bright = v128.and(f32x4.gt(y, least), f32x4.lt(y, sp(Infinity)));
    const factor = v128.bitselect(f32x4.div(curved(y, op, table, size, slope), v128.bitselect(y, sp(1), bright)), proportion, bright);
    st(s, mul(r, factor));
    st(s + plane, mul(g, factor));
    st(s + 2 * plane, mul(b, factor));
  }
}

/** Distance from luminance by a factor that goes by luminance in stops. */
function saturationCurve(op: usize, s: usize, fours: i32): void {
  const table: usize = load<u32>(op + 68), size = load<i32>(op + 72);
  const first = par(op, 0), perStop = par(op, 1), least = sp(F(op + 4 + 8));
  for (let i = 0; i < fours; i++, s += 16) {
    const r = ld(s), g = ld(s + plane), b = ld(s + 2 * plane), y = lumas(r, g, b);
    const bright = v128.and(f32x4.gt(y, least), f32x4.lt(y, sp(Infinity)));
    const stops = v128.bitselect(logs2(v128.bitselect(mul(y, sp(1 / grey)), sp(1), bright)), first, bright);
    const factor = entries(table, size, mul(sub(stops, first), perStop));
    st(s, add(y, mul(sub(r, y), factor)));
    st(s + plane, add(y, mul(sub(g, y), factor)));
    st(s + 2 * plane, add(y, mul(sub(b, y), factor)));
  }
}

// @ts-expect-error: decorator
@inline function root3(x: v128): v128 {
  const size = f32x4.abs(x);
  return v128.or(powers(size, <f32>0.33333334), v128.and(x, i32x4.splat(<i32>0x80000000)));
}
// @ts-expect-error: decorator
@inline function row3(a: v128, b: v128, c: v128, x: f32, y: f32, z: f32): v128 {
  return add(add(mul(a, sp(x)), mul(b, sp(y))), mul(c, sp(z)));
}

/** Hue turned and chroma scaled in OKLab; the matrices of `colour/oklab.ts`. */
function oklch(op: usize, s: usize, fours: i32): void {
  // The turn times the chroma.
  const cos = par(op, 0), sin = par(op, 1);
  for (let i = 0; i < fours; i++, s += 16) {
    const r = ld(s), g = ld(s + plane), b = ld(s + 2 * plane);
    const l = root3(row3(r, g, b, <f32>0.4122214708, <f32>0.5363325363, <f32>0.0514459929));
    const m = root3(row3(r, g, b, <f32>0.2119034982, <f32>0.6806995451, <f32>0.1073969566));
    const z = root3(row3(r, g, b, <f32>0.0883024619, <f32>0.2817188376, <f32>0.6299787005));
    const light = row3(l, m, z, <f32>0.2104542553, <f32>0.793617785, <f32>-0.0040720468);
    const u = row3(l, m, z, <f32>1.9779984951, <f32>-2.428592205, <f32>0.4505937099);
    const v = row3(l, m, z, <f32>0.0259040371, <f32>0.7827717662, <f32>-0.808675766);
    const a = sub(mul(u, cos), mul(v, sin)), e = add(mul(u, sin), mul(v, cos));
    const l1 = add(light, add(mul(a, sp(<f32>0.3963377774)), mul(e, sp(<f32>0.2158037573))));
    const m1 = sub(light, add(mul(a, sp(<f32>0.1055613458)), mul(e, sp(<f32>0.0638541728))));
    const z1 = sub(light, add(mul(a, sp(<f32>0.0894841775)), mul(e, sp(<f32>1.291485548))));
    const l3 = mul(mul(l1, l1), l1), m3 = mul(mul(m1, m1), m1), z3 = mul(mul(z1, z1), z1);
    st(s, row3(l3, m3, z3, <f32>4.0767416621, <f32>-3.3077115913, <f32>0.2309699292));
    st(s + plane, row3(l3, m3, z3, <f32>-1.2684380046, <f32>2.6097574011, <f32>-0.3413193965));
    st(s + 2 * plane, row3(l3, m3, z3, <f32>-0.0041960863, <f32>-0.7034186147, <f32>1.707614701));
  }
}

/** Hable's curve of x: ((x (A x + C B) + D E) / (x (A x + B) + D F)) − E/F. */
// @ts-expect-error: decorator
@inline function filmic(x: v128): v128 {
  const a: f32 = 0.15, b: f32 = 0.5, c: f32 = 0.1, d: f32 = 0.2, e: f32 = 0.02, f: f32 = 0.3;
  const up = add(mul(x, add(mul(x, sp(a)), sp(c * b))), sp(d * e));
  return sub(f32x4.div(up, add(mul(x, add(mul(x, sp(a)), sp(b))), sp(d * f))), sp(e / f));
}
/** A tone curve of light from 0 up; below 0 it goes on straight. Parameters: which, white, and what white becomes by the curve alone. */
// @ts-expect-error: decorator
@inline function toned(x: v128, type: i32, over: v128, scale: v128): v128 {
  const zero = sp(0), light = f32x4.pmax(zero, x);
  // Reinhard and others: L (1 + L/w²) / (1 + L).
  const to = type == 0 ? f32x4.div(mul(light, add(sp(1), mul(light, over))), add(sp(1), light)) : mul(filmic(mul(light, sp(2))), scale);
  return v128.bitselect(to, mul(x, type == 0 ? sp(1) : mul(scale, sp(<f32>0.5555556))), f32x4.ge(x, zero));
}

/** A picture for the screen from scene light: by each channel, by luminance, or a mix of both. */
function tone(op: usize, s: usize, fours: i32): void {
  const type = <i32>F(op + 4), over = par(op, 1), scale = par(op, 2), share = par(op, 3);
  const rest = sub(sp(1), share), least = sp(<f32>1e-20);
  for (let i = 0; i < fours; i++, s += 16) {
    const r = ld(s), g = ld(s + plane), b = ld(s + 2 * plane), y = lumas(r, g, b);
    const some = f32x4.gt(y, least);
    const factor = v128.bitselect(f32x4.div(toned(y, type, over, scale), v128.bitselect(y, sp(1), some)), sp(0), some);
    for (let c = 0; c < 3; c++) {
      const x = c == 0 ? r : c == 1 ? g : b;
      const alone = toned(x, type, over, scale);
      st(s + <usize>c * plane, add(mul(alone, rest), mul(v128.bitselect(mul(x, factor), alone, some), share)));
    }
  }
}

/** Codes of light by IEC 61966-2-1, mirrored below 0. */
function srgbCodes(s: usize, fours: i32): void {
  const signs = i32x4.splat(<i32>0x80000000);
  for (let c = 0; c < 3; c++) {
    let q = s + <usize>c * plane;
    for (let i = 0; i < fours; i++, q += 16) {
      const x = ld(q), size = f32x4.abs(x);
      const curved = sub(mul(powers(size, <f32>(1 / 2.4)), sp(<f32>1.055)), sp(<f32>0.055));
      st(q, v128.or(v128.and(x, signs), v128.bitselect(mul(size, sp(<f32>12.92)), curved, f32x4.le(size, sp(<f32>0.0031308)))));
    }
  }
}

/** Light of such codes. */
function srgbLight(s: usize, fours: i32): void {
  const signs = i32x4.splat(<i32>0x80000000);
  for (let c = 0; c < 3; c++) {
    let q = s + <usize>c * plane;
    for (let i = 0; i < fours; i++, q += 16) {
      const x = ld(q), size = f32x4.abs(x);
      const curved = powers(mul(add(size, sp(<f32>0.055)), sp(<f32>(1 / 1.055))), <f32>2.4);
      st(q, v128.or(v128.and(x, signs), v128.bitselect(mul(size, sp(<f32>(1 / 12.92))), curved, f32x4.le(size, sp(<f32>0.04045)))));
    }
  }
}

/** Stops from mid-grey as codes from `low` over `span`, and light of such codes. */
function stopCodes(op: usize, s: usize, fours: i32): void {
  const low = par(op, 2), scale = f32x4.div(sp(1), par(op, 3));
  for (let c = 0; c < 3; c++) {
    let q = s + <usize>c * plane;
    for (let i = 0; i < fours; i++, q += 16) {
      const light = f32x4.pmin(sp(<f32>1e30), f32x4.pmax(sp(<f32>1e-30), mul(ld(q), sp(1 / grey))));
      st(q, mul(sub(logs2(light), low), scale));
    }
  }
}
function stopLight(op: usize, s: usize, fours: i32): void {
  const low = par(op, 2), span = par(op, 3);
  for (let c = 0; c < 3; c++) {
    let q = s + <usize>c * plane;
    for (let i = 0; i < fours; i++, q += 16) st(q, mul(exps2(add(mul(ld(q), span), low)), sp(grey)));
  }
}

/** Codes from light, or light from codes: 1 sRGB, 2 stops. */
function transfer(op: usize, s: usize, fours: i32): void {
  const back = F(op + 8) != 0;
  if (F(op + 4) == 1) {
    if (back) srgbLight(s, fours);
    else srgbCodes(s, fours);
  } else if (back) stopLight(op, s, fours);
  else stopCodes(op, s, fours);
}

/** Three tables of one channel each, one after the other; from `low` to `high` of each channel, held to the ends. */
function table1(op: usize, s: usize, fours: i32): void {
  const table: usize = load<u32>(op + 68), size = load<i32>(op + 72);
  for (let c = 0; c < 3; c++) {
    let q = s + <usize>c * plane;
    const low = par(op, c), scale = mul(par(op, 3 + c), sp(<f32>(size - 1)));
    const own = table + (<usize>(c * (size + 1)) << 2);
    for (let i = 0; i < fours; i++, q += 16) st(q, entries(own, size, mul(sub(ld(q), low), scale)));
  }
}

/** A place in a cube along one axis, in entries. */
// @ts-expect-error: decorator
@inline function along(x: v128, op: usize, c: i32, last: v128): v128 {
  return f32x4.pmin(last, f32x4.pmax(sp(0), mul(mul(sub(x, par(op, c)), par(op, 3 + c)), last)));
}
/** The colour of one of four pixels between the four corners of its tetrahedron. */
// @ts-expect-error: decorator
@inline function corners(at: usize, a: usize, b: usize, far: usize, w0: f32, w1: f32, w2: f32): v128 {
  return add(add(mul(ld(at), sp(1 - w0)), mul(ld(at + a), sp(w0 - w1))), add(mul(ld(at + b), sp(w1 - w2)), mul(ld(at + far), sp(w2))));
}

/**
 * A cube of colours, red running fastest, by the tetrahedron that a colour lies in (J. M. Kasson, S. I. Nin, W. Plouffe and J. L. Hafner 1995,
 * *Performing Color Space Conversions with Three-Dimensional Linear Interpolation*); held to its faces.
 */
function table3(op: usize, s: usize, fours: i32): void {
  const table: usize = load<u32>(op + 68), size = load<i32>(op + 72), last = sp(<f32>(size - 1)), cell = i32x4.splat(size - 2);
  const right = 16, deep = size * 16, high = size * size * 16, far = right + deep + high;
  const rights = i32x4.splat(right), deeps = i32x4.splat(deep), highs = i32x4.splat(high), all = i32x4.splat(far);
  for (let i = 0; i < fours; i++, s += 16) {
    const x = along(ld(s), op, 0, last), y = along(ld(s + plane), op, 1, last), z = along(ld(s + 2 * plane), op, 2, last);
    const ix = i32x4.min_s(i32x4.trunc_sat_f32x4_s(x), cell), iy = i32x4.min_s(i32x4.trunc_sat_f32x4_s(y), cell), iz = i32x4.min_s(i32x4.trunc_sat_f32x4_s(z), cell);
    const fx = sub(x, f32x4.convert_i32x4_s(ix)), fy = sub(y, f32x4.convert_i32x4_s(iy)), fz = sub(z, f32x4.convert_i32x4_s(iz));
    // The corners on the way from the nearest to the furthest: along the largest part first, along the smallest last.
    const w0 = f32x4.max(fx, f32x4.max(fy, fz)), w2 = f32x4.min(fx, f32x4.min(fy, fz)), w1 = sub(sub(add(add(fx, fy), fz), w0), w2);
    const a = v128.bitselect(rights, v128.bitselect(deeps, highs, f32x4.eq(fy, w0)), f32x4.eq(fx, w0));
    const b = i32x4.sub(all, v128.bitselect(highs, v128.bitselect(deeps, rights, f32x4.eq(fy, w2)), f32x4.eq(fz, w2)));
    const at = i32x4.add(i32x4.shl(ix, 4), i32x4.add(i32x4.mul(iy, deeps), i32x4.mul(iz, highs)));
    const p = corners(table + <usize>i32x4.extract_lane(at, 0), <usize>i32x4.extract_lane(a, 0), <usize>i32x4.extract_lane(b, 0), <usize>far, f32x4.extract_lane(w0, 0), f32x4.extract_lane(w1, 0), f32x4.extract_lane(w2, 0));
    const q = corners(table + <usize>i32x4.extract_lane(at, 1), <usize>i32x4.extract_lane(a, 1), <usize>i32x4.extract_lane(b, 1), <usize>far, f32x4.extract_lane(w0, 1), f32x4.extract_lane(w1, 1), f32x4.extract_lane(w2, 1));
    const r = corners(table + <usize>i32x4.extract_lane(at, 2), <usize>i32x4.extract_lane(a, 2), <usize>i32x4.extract_lane(b, 2), <usize>far, f32x4.extract_lane(w0, 2), f32x4.extract_lane(w1, 2), f32x4.extract_lane(w2, 2));
    const t = corners(table + <usize>i32x4.extract_lane(at, 3), <usize>i32x4.extract_lane(a, 3), <usize>i32x4.extract_lane(b, 3), <usize>far, f32x4.extract_lane(w0, 3), f32x4.extract_lane(w1, 3), f32x4.extract_lane(w2, 3));
    const pq = v128.shuffle<f32>(p, q, 0, 4, 1, 5), rt = v128.shuffle<f32>(r, t, 0, 4, 1, 5);
    st(s, v128.shuffle<f32>(pq, rt, 0, 1, 4, 5));
    st(s + plane, v128.shuffle<f32>(pq, rt, 2, 3, 6, 7));
    st(s + 2 * plane, v128.shuffle<f32>(v128.shuffle<f32>(p, q, 2, 6, 2, 6), v128.shuffle<f32>(r, t, 2, 6, 2, 6), 0, 1, 4, 5));
  }
}

/** Pixels `lo` … `hi` through `count` operations. Alpha stays; light without coverage is worked on as it is. */
export function colourProgram(out: usize, from: usize, program: usize, count: i32, lo: i32, hi: i32, scratch: usize): void {
  const zero = sp(0);
  for (let start = lo; start < hi; start += tile) {
    const n = min(tile, hi - start), fours = (n + 3) >> 2;
    for (let i = 0; i < fours; i++) {
      const p = from + (<usize>(start + i * 4) << 4), s = scratch + (<usize>i << 4);
      const a = gather(p, 3), some = f32x4.gt(a, zero);
      const r = gather(p, 0), g = gather(p, 1), b = gather(p, 2);
      st(s, v128.bitselect(f32x4.div(r, a), r, some));
      st(s + plane, v128.bitselect(f32x4.div(g, a), g, some));
      st(s + 2 * plane, v128.bitselect(f32x4.div(b, a), b, some));
      st(s + 3 * plane, a);
    }
    for (let k = 0; k < count; k++) {
      const op = program + <usize>k * record, code = load<i32>(op);
      if (code == 1) matrix(op, scratch, fours);
      else if (code == 2) power(op, scratch, fours);
      else if (code == 3) between(scratch, fours);
      else if (code == 4) curves(op, scratch, fours);
      else if (code == 5) luminanceCurve(op, scratch, fours);
      else if (code == 6) saturationCurve(op, scratch, fours);
      else if (code == 7) oklch(op, scratch, fours);
      else if (code == 8) tone(op, scratch, fours);
      else if (code == 9) transfer(op, scratch, fours);
      else if (code == 10) table1(op, scratch, fours);
      else if (code == 11) table3(op, scratch, fours);
    }
    for (let i = 0; i < fours; i++) {
      const s = scratch + (<usize>i << 4);
      const a = ld(s + 3 * plane), some = f32x4.gt(a, zero);
      let r = ld(s), g = ld(s + plane), b = ld(s + 2 * plane);
      // Where nothing is, nothing comes: an offset does not light what is empty.
      const from4 = from + (<usize>(start + i * 4) << 4);
      const filled = v128.or(v128.or(f32x4.ne(gather(from4, 0), zero), f32x4.ne(gather(from4, 1), zero)), v128.or(f32x4.ne(gather(from4, 2), zero), f32x4.ne(a, zero)));
      r = v128.and(r, filled);
      g = v128.and(g, filled);
      b = v128.and(b, filled);
      r = v128.bitselect(mul(r, a), r, some);
      g = v128.bitselect(mul(g, a), g, some);
      b = v128.bitselect(mul(b, a), b, some);
      const rg0 = v128.shuffle<f32>(r, g, 0, 4, 1, 5), rg1 = v128.shuffle<f32>(r, g, 2, 6, 3, 7);
      const ba0 = v128.shuffle<f32>(b, a, 0, 4, 1, 5), ba1 = v128.shuffle<f32>(b, a, 2, 6, 3, 7);
      const p = out + (<usize>(start + i * 4) << 4), left = n - i * 4;
      st(p, v128.shuffle<f32>(rg0, ba0, 0, 1, 4, 5));
      if (left > 1) st(p + 16, v128.shuffle<f32>(rg0, ba0, 2, 3, 6, 7));
      if (left > 2) st(p + 32, v128.shuffle<f32>(rg1, ba1, 0, 1, 4, 5));
      if (left > 3) st(p + 48, v128.shuffle<f32>(rg1, ba1, 2, 3, 6, 7));
    }
  }
}
