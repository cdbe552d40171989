/** Pictures pushed about by smooth noise. */
import { add, F, ld, mul, sp, st, sub } from './vector';

// @ts-expect-error: decorator
@inline function ease(t: f32): f32 { return t * t * t * (t * (t * 6 - 15) + 10); }
// @ts-expect-error: decorator
@inline function eases(t: v128): v128 { return mul(mul(mul(t, t), t), add(mul(t, sub(mul(t, sp(6)), sp(15))), sp(10))); }
// @ts-expect-error: decorator
@inline function mixes(a: v128, b: v128, t: v128): v128 { return add(a, mul(sub(b, a), t)); }

/**
 * The slopes of four corners in a row of the grid along (x, y, z): each one of twelve directions to the edges of a cube (Perlin 2002,
 * *Improving Noise*), by a number that looks random from the corner's place. `x` differs; `y`, `z` and what `row` scrambles do not.
 */
// @ts-expect-error: decorator
@inline function slopes(ix: v128, row: u32, x: v128, y: f32, z: f32): v128 {
  let h = v128.xor(i32x4.mul(ix, i32x4.splat(0x9e3779b1)), i32x4.splat(row));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 15)), i32x4.splat(0x2c1b3c6d));
  h = i32x4.mul(v128.xor(h, i32x4.shr_u(h, 12)), i32x4.splat(0x297a2d39));
  h = v128.xor(h, i32x4.shr_u(h, 15));
  const k = v128.and(h, i32x4.splat(15)), ys = sp(y), zs = sp(z);
  const u = v128.bitselect(x, ys, i32x4.lt_s(k, i32x4.splat(8)));
  // Twelve and fourteen: all but their second bit.
  const far = v128.bitselect(x, zs, i32x4.eq(v128.and(k, i32x4.splat(13)), i32x4.splat(12)));
  const v = v128.bitselect(ys, far, i32x4.lt_s(k, i32x4.splat(4)));
  return add(v128.xor(u, i32x4.shl(h, 31)), v128.xor(v, i32x4.shl(v128.and(h, i32x4.splat(2)), 30)));
}

/** Gradient noise in three dimensions, about −1 … 1, 0 at whole places; of four places that differ in x alone. */
function noises(x: v128, y: f32, z: f32, seed: i32): v128 {
  const fx = f32x4.floor(x), fy = Mathf.floor(y), fz = Mathf.floor(z);
  const ix = i32x4.trunc_sat_f32x4_s(fx), next = i32x4.add(ix, i32x4.splat(1));
  const dx = sub(x, fx), before = sub(dx, sp(1)), dy = y - fy, dz = z - fz;
  const u = eases(dx), v = sp(ease(dy));
  const iy = <u32><i32>fy, iz = <u32><i32>fz;
  const base = <u32>seed * 0x27d4eb2f, here = iz * 0xc2b2ae35 ^ base, top = iy * 0x85ebca6b, under = (iy + 1) * 0x85ebca6b;
  const near = mixes(
    mixes(slopes(ix, top ^ here, dx, dy, dz), slopes(next, top ^ here, before, dy, dz), u),
    mixes(slopes(ix, under ^ here, dx, dy - 1, dz), slopes(next, under ^ here, before, dy - 1, dz), u),
    v,
  );
  if (dz == 0) return near;
  const there = (iz + 1) * 0xc2b2ae35 ^ base;
  const far = mixes(
    mixes(slopes(ix, top ^ there, dx, dy, dz - 1), slopes(next, top ^ there, before, dy, dz - 1), u),
    mixes(slopes(ix, under ^ there, dx, dy - 1, dz - 1), slopes(next, under ^ there, before, dy - 1, dz - 1), u),
    v,
  );
  return mixes(near, far, sp(ease(dz)));
}

/** Sizes in each other, each half as large and half as strong as the one before; of four places that differ in x alone. */
// @ts-expect-error: decorator
@inline export function layers(x: v128, y: f32, z: f32, octaves: i32, seed: i32): v128 {
  let sum = sp(0), amount: f32 = 1, all: f32 = 0;
  for (let k = 0; k < octaves; k++) {
    sum = add(sum, mul(noises(x, y, z, seed + k * 101), sp(amount)));
    all += amount;
    amount *= 0.5; x = add(x, x); y *= 2;
  }
  return f32x4.div(sum, sp(all));
}

/** A pixel of `s`, or what lies outside: nothing, or with `edge` the border's pixel. */
// @ts-expect-error: decorator
@inline function pixel(s: usize, w: i32, h: i32, x: i32, y: i32, edge: i32): v128 {
  if (x < 0 || y < 0 || x >= w || y >= h) {
    if (!edge) return sp(0);
    x = max(0, min(w - 1, x)); y = max(0, min(h - 1, y));
  }
  return ld(s + (<usize>(y * w + x) << 4));
}

/**
 * Rows `lo` … `hi`: each pixel is read as far beside itself as noise says. (ax, ay) is the most, in pixels: along it with `one`, else on each
 * axis by a noise of its own. `busy` says of each square of 32 pixels whether anything can come to it. The noise lies still in the frame, of which the first pixel here is at (ox, oy), its cells 1/`cells` pixels
 * wide; `z` is its third dimension.
 */
export function warp(
  out: usize, from: usize, width: i32, height: i32, ox: f32, oy: f32, ax: f32, ay: f32, one: i32, cells: f32, octaves: i32, z: f32, seed: i32, edge: i32, busy: usize, lo: i32, hi: i32, scratch: usize,
): void {
  const across = (width + 31) >> 5;
  for (let y = lo; y < hi; y++) {
    const squares = busy + <usize>((y >> 5) * across);
    let o = out + (<usize>(y * width) << 4);
    const ny = (<f32>y + oy) * cells;
    const steps = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(sp(0), 1, 1), 2, 2), 3, 3);
    for (let x4 = 0; x4 < width; x4 += 4) {
      const n = min(4, width - x4);
      // Four pixels lie in one square.
      if (!load<u8>(squares + <usize>(x4 >> 5))) { memory.fill(o, 0, <usize>n << 4); o += <usize>n << 4; continue; }
      const nx = mul(add(add(sp(<f32>x4), steps), sp(ox)), sp(cells));
      const firsts = layers(nx, ny, z, octaves, seed);
      v128.store(scratch, firsts);
      v128.store(scratch, one ? firsts : layers(nx, ny, z, octaves, seed + 5003), 16);
      for (let k = 0; k < n; k++, o += 16) {
        const fx = <f32>(x4 + k) + F(scratch + (<usize>k << 2)) * ax, fy = <f32>y + F(scratch + 16 + (<usize>k << 2)) * ay;
        const bx = Mathf.floor(fx), by = Mathf.floor(fy), ix = <i32>bx, iy = <i32>by, tx = sp(fx - bx);
        const a = pixel(from, width, height, ix, iy, edge), b = pixel(from, width, height, ix + 1, iy, edge);
        const c = pixel(from, width, height, ix, iy + 1, edge), e = pixel(from, width, height, ix + 1, iy + 1, edge);
        const top = add(a, mul(sub(b, a), tx)), bottom = add(c, mul(sub(e, c), tx));
        st(o, add(top, mul(sub(bottom, top), sp(fy - by))));
      }
    }
  }
}
