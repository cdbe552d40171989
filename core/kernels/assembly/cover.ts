/** Outlines to a plane: exact area coverage, soft edges by distance. Rows are independent. */
import { F } from './vector';

// An edge is 6 doubles: from, to, softness at both. An outline is 8 doubles: its first edge, how many, its sort (0 added,
// 1 taken away, 2 kept), its opacity, the columns (2) and rows (2) that it can touch.
const edgeBytes: usize = 48;
const outlineBytes: usize = 64;

// @ts-expect-error: decorator
@inline function G(p: usize): f64 { return load<f64>(p); }
// @ts-expect-error: decorator
@inline function more(row: usize, i: i32, by: f64): void {
  const p = row + <usize>i * 4;
  store<f32>(p, f32(<f64>load<f32>(p) + by));
}

/**
 * What the part of an edge within one row adds to the running sum along that row, `left` … `right` being its columns: each cell
 * gets the change of covered area from the cell before. `d` is the signed height.
 */
function acrossRow(acc: usize, left: i32, right: i32, xa: f64, xb: f64, d: f64): void {
  const lo = <f64>left, hi = <f64>right;
  // What lies to the left covers whole cells from the first on; what lies to the right covers nothing here.
  if (xb <= lo) { more(acc, 0, d); return; }
  if (xa >= hi) return;
  if (xa < lo) {
    const part = d * ((lo - xa) / (xb - xa));
    more(acc, 0, part);
    d -= part;
    xa = lo;
  }
  if (xb > hi) {
    d *= (hi - xa) / (xb - xa);
    xb = hi;
  }
  const x0 = Math.floor(xa), x1 = Math.ceil(xb);
  const i = <i32>x0 - left, j = <i32>x1 - left;
  if (j <= i + 1) {
    const middle = 0.5 * (xa + xb) - x0;
    more(acc, i, d - d * middle);
    more(acc, i + 1, d * middle);
    return;
  }
  const s = 1 / (xb - xa), f0 = xa - x0, f1 = xb - x1 + 1;
  const first = 0.5 * s * (1 - f0) * (1 - f0), last = 0.5 * s * f1 * f1;
  more(acc, i, d * first);
  if (j == i + 2) more(acc, i + 1, d * (1 - first - last));
  else {
    const second = s * (1.5 - f0);
    more(acc, i + 1, d * (second - first));
    for (let k = i + 2; k < j - 1; k++) more(acc, k, d * s);
    more(acc, j - 1, d * (1 - (second + <f64>(j - i - 3) * s) - last));
  }
  more(acc, j, d * last);
}

/** The smallest distance from each pixel's middle to an edge so far, in parts of that edge's softness there. */
function nearEdge(near: usize, left: i32, right: i32, y: i32, e: usize): void {
  const x0 = G(e), y0 = G(e + 8), dx = G(e + 16) - x0, dy = G(e + 24) - y0;
  const s0 = G(e + 32), ds = G(e + 40) - s0, most = Math.max(s0, s0 + ds);
  const py = <f64>y + 0.5;
  if (py < Math.min(y0, y0 + dy) - most || py > Math.max(y0, y0 + dy) + most) return;
  const from = max(left, <i32>Math.floor(Math.min(x0, x0 + dx) - most));
  const to = min(right, <i32>Math.ceil(Math.max(x0, x0 + dx) + most) + 1);
  const square = dx * dx + dy * dy, inverse = square > 0 ? 1 / square : 0;
  for (let x = from; x < to; x++) {
    const qx = <f64>x + 0.5 - x0, qy = py - y0;
    const t = Math.min(1, Math.max(0, (qx * dx + qy * dy) * inverse));
    const rx = qx - t * dx, ry = qy - t * dy;
    const soft = Math.max(0.5, s0 + t * ds);
    const share = <f32>((rx * rx + ry * ry) / (soft * soft));
    const p = near + <usize>(x - left) * 4;
    if (share < F(p)) store<f32>(p, share);
  }
}

/** Rows `lo` … `hi` of a plane of `w` columns. `start` is what stands there before the first outline. Scratch: 2 (w + 4) floats. */
export function cover(d: usize, w: i32, outlines: usize, count: i32, edges: usize, start: f32, lo: i32, hi: i32, scratch: usize): void {
  const acc = scratch, near = scratch + <usize>(w + 4) * 4;
  for (let y = lo; y < hi; y++) {
    const out = d + <usize>y * <usize>w * 4;
    for (let x = 0; x < w; x++) store<f32>(out + <usize>x * 4, start);
    for (let k = 0; k < count; k++) {
      const o = outlines + <usize>k * outlineBytes;
      const sort = <i32>G(o + 16), opacity = <f32>G(o + 24);
      const inRows = y >= <i32>G(o + 48) && y < <i32>G(o + 56);
      if (!inRows && sort != 2) continue;
      const left = <i32>G(o + 32), right = <i32>G(o + 40);
      if (right <= left && sort != 2) continue;
      memory.fill(acc, 0, <usize>(right - left + 2) * 4);
      const first = edges + <usize>G(o) * edgeBytes, end = first + <usize>G(o + 8) * edgeBytes;
      let soft = false;
      if (inRows) for (let e = first; e < end; e += edgeBytes) {
        if (G(e + 32) > 0 || G(e + 40) > 0) soft = true;
        let ya = G(e + 8), yb = G(e + 24);
        const sign: f64 = ya < yb ? 1 : -1;
        const slope = (G(e + 16) - G(e)) / (yb - ya), x0 = G(e), from = ya;
        if (ya > yb) { const t = ya; ya = yb; yb = t; }
        const top = Math.max(ya, <f64>y), bottom = Math.min(yb, <f64>(y + 1));
        if (bottom <= top) continue;
        const xa = x0 + (top - from) * slope, xb = x0 + (bottom - from) * slope;
        acrossRow(acc, left, right, Math.min(xa, xb), Math.max(xa, xb), (bottom - top) * sign);
      }
      if (soft) {
        for (let x = left; x < right; x++) store<f32>(near + <usize>(x - left) * 4, 1);
        for (let e = first; e < end; e += edgeBytes) nearEdge(near, left, right, y, e);
      }
      // Where a kept outline does not reach, nothing is kept.
      if (sort == 2) for (let x = 0; x < w; x++) if (x < left || x >= right) {
        const p = out + <usize>x * 4;
        store<f32>(p, f32(F(p) * (1 - opacity)));
      }
      let sum: f32 = 0;
      for (let x = left; x < right; x++) {
        const p = out + <usize>x * 4;
        sum = f32(sum + F(acc + <usize>(x - left) * 4));
        let c: f32 = f32(Mathf.abs(sum));
        if (c > 1) c = 1;
        if (soft) {
          const n = F(near + <usize>(x - left) * 4);
          if (n < 1) {
            const u = f32(Mathf.sqrt(n)), ramp = f32(0.5 * u * (<f32>1.5 - <f32>0.5 * n) * 1.0);
            c = c >= 0.5 ? f32(<f32>0.5 + ramp) : f32(<f32>0.5 - ramp);
          }
        }
        const m = F(p);
        if (sort == 0) store<f32>(p, f32(Mathf.max(m, f32(c * opacity))));
        else if (sort == 1) store<f32>(p, f32(Mathf.min(m, f32(1 - c * opacity))));
        else store<f32>(p, f32(m + (Mathf.min(m, c) - m) * opacity));
      }
    }
  }
}
