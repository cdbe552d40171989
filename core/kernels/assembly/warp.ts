/** Pictures pushed about by smooth noise. */
import { add, ld, mul, sp, st, sub } from './vector';

/** A number that looks random, from three places of a grid and a seed. */
// @ts-expect-error: decorator
@inline function scramble(x: i32, y: i32, z: i32, seed: i32): u32 {
  let h: u32 = <u32>x * 0x9e3779b1 ^ <u32>y * 0x85ebca6b ^ <u32>z * 0xc2b2ae35 ^ <u32>seed * 0x27d4eb2f;
  h = (h ^ (h >> 15)) * 0x2c1b3c6d;
  h = (h ^ (h >> 12)) * 0x297a2d39;
  return h ^ (h >> 15);
}

/** The slope of one corner along (x, y, z): one of twelve directions to the edges of a cube (Perlin 2002, *Improving Noise*). */
// @ts-expect-error: decorator
@inline function slope(h: u32, x: f32, y: f32, z: f32): f32 {
  const k = h & 15;
  const u = k < 8 ? x : y, v = k < 4 ? y : k == 12 || k == 14 ? x : z;
  return (k & 1 ? -u : u) + (k & 2 ? -v : v);
}

// @ts-expect-error: decorator
@inline function ease(t: f32): f32 { return t * t * t * (t * (t * 6 - 15) + 10); }
// @ts-expect-error: decorator
@inline function mix1(a: f32, b: f32, t: f32): f32 { return a + (b - a) * t; }

/** Gradient noise in three dimensions, about −1 … 1, 0 at whole places. */
export function noiseAt(x: f32, y: f32, z: f32, seed: i32): f32 {
  const fx = Mathf.floor(x), fy = Mathf.floor(y), fz = Mathf.floor(z);
  const ix = <i32>fx, iy = <i32>fy, iz = <i32>fz, dx = x - fx, dy = y - fy, dz = z - fz;
  const u = ease(dx), v = ease(dy);
  const near = mix1(
    mix1(slope(scramble(ix, iy, iz, seed), dx, dy, dz), slope(scramble(ix + 1, iy, iz, seed), dx - 1, dy, dz), u),
    mix1(slope(scramble(ix, iy + 1, iz, seed), dx, dy - 1, dz), slope(scramble(ix + 1, iy + 1, iz, seed), dx - 1, dy - 1, dz), u),
    v,
  );
  if (dz == 0) return near;
  const far = mix1(
    mix1(slope(scramble(ix, iy, iz + 1, seed), dx, dy, dz - 1), slope(scramble(ix + 1, iy, iz + 1, seed), dx - 1, dy, dz - 1), u),
    mix1(slope(scramble(ix, iy + 1, iz + 1, seed), dx, dy - 1, dz - 1), slope(scramble(ix + 1, iy + 1, iz + 1, seed), dx - 1, dy - 1, dz - 1), u),
    v,
  );
  return mix1(near, far, ease(dz));
}

/** Sizes in each other: each half as large and half as strong as the one before. */
export function layered(x: f32, y: f32, z: f32, octaves: i32, seed: i32): f32 {
  let sum: f32 = 0, amount: f32 = 1, all: f32 = 0;
  for (let k = 0; k < octaves; k++) {
    sum += noiseAt(x, y, z, seed + k * 101) * amount;
    all += amount;
    amount *= 0.5; x *= 2; y *= 2;
  }
  return sum / all;
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
  d: usize, s: usize, w: i32, h: i32, ox: f32, oy: f32, ax: f32, ay: f32, one: i32, cells: f32, octaves: i32, z: f32, seed: i32, edge: i32, busy: usize, lo: i32, hi: i32, scratch: usize,
): void {
  const across = (w + 31) >> 5;
  for (let y = lo; y < hi; y++) {
    const squares = busy + <usize>((y >> 5) * across);
    let o = d + (<usize>(y * w) << 4);
    const ny = (<f32>y + oy) * cells;
    for (let x = 0; x < w; x++, o += 16) {
      if (!load<u8>(squares + <usize>(x >> 5))) { st(o, sp(0)); continue; }
      const nx = (<f32>x + ox) * cells;
      const first = layered(nx, ny, z, octaves, seed);
      const second = one ? first : layered(nx, ny, z, octaves, seed + 5003);
      const fx = <f32>x + first * ax, fy = <f32>y + second * ay;
      const bx = Mathf.floor(fx), by = Mathf.floor(fy), ix = <i32>bx, iy = <i32>by, tx = sp(fx - bx);
      const a = pixel(s, w, h, ix, iy, edge), b = pixel(s, w, h, ix + 1, iy, edge);
      const c = pixel(s, w, h, ix, iy + 1, edge), e = pixel(s, w, h, ix + 1, iy + 1, edge);
      const top = add(a, mul(sub(b, a), tx)), bottom = add(c, mul(sub(e, c), tx));
      st(o, add(top, mul(sub(bottom, top), sp(fy - by))));
    }
  }
}
