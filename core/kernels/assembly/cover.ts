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

/** The smallest distance from each pixel's middle in a row to an edge so far, in parts of that edge's softness there, squared. */
function nearEdge(near: usize, left: i32, right: i32, y: i32, e: usize, most: f64): void {
  const x0 = G(e), y0 = G(e + 8), dx = G(e + 16) - x0, dy = G(e + 24) - y0;
  const s0 = G(e + 32), ds = G(e + 40) - s0;
  const py = <f64>y + 0.5;
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

/** Lays one row of an outline's coverage onto the plane; `acc` holds its changes, `near` the distances if its edge is soft. */
function layRow(out: usize, acc: usize, near: usize, soft: bool, left: i32, right: i32, type: i32, opacity: f32): void {
  let sum: f32 = 0;
  for (let x = left; x < right; x++) {
    const p = out + <usize>x * 4, k = <usize>(x - left) * 4;
    sum += F(acc + k);
    let c: f32 = Mathf.abs(sum);
    if (c > 1) c = 1;
    if (soft) {
      const n = F(near + k);
      if (n < 1) {
        const ramp: f32 = <f32>0.5 * Mathf.sqrt(n) * (<f32>1.5 - <f32>0.5 * n);
        c = c >= 0.5 ? <f32>0.5 + ramp : <f32>0.5 - ramp;
      }
    }
    const m = F(p);
    if (type == 0) store<f32>(p, max(m, c * opacity));
    else if (type == 1) store<f32>(p, min(m, 1 - c * opacity));
    else store<f32>(p, m + (min(m, c) - m) * opacity);
  }
}

/** Rows that are worked on at once, so that each edge is looked at once for all of them. */
const strip: i32 = 32;

/**
 * Rows `lo` … `hi` of a plane of `width` columns. `start` is what stands there before the first outline. Scratch: 64 (width + 4) floats, for as
 * many columns as it holds; wider rows are worked on fewer at a time.
 */
export function cover(out: usize, width: i32, outlines: usize, count: i32, edges: usize, start: f32, lo: i32, hi: i32, scratch: usize): void {
  const rowBytes: usize = <usize>(width + 4) * 4;
  const rows = min(strip, max(1, 1048576 / <i32>rowBytes));
  const accs = scratch, nears = scratch + <usize>rows * rowBytes;
  for (let top = lo; top < hi; top += rows) {
    const bottom = min(hi, top + rows);
    for (let y = top; y < bottom; y++) {
      const write = out + <usize>y * <usize>width * 4;
      for (let x = 0; x < width; x++) store<f32>(write + <usize>x * 4, start);
    }
    for (let k = 0; k < count; k++) {
      const o = outlines + <usize>k * outlineBytes;
      const type = <i32>G(o + 16), opacity = <f32>G(o + 24);
      const left = <i32>G(o + 32), right = <i32>G(o + 40);
      const y0 = max(top, <i32>G(o + 48)), y1 = min(bottom, <i32>G(o + 56));
      // Where a kept outline does not reach, nothing is kept.
      if (type == 2) for (let y = top; y < bottom; y++) {
        const write = out + <usize>y * <usize>width * 4;
        const inside = y >= y0 && y < y1;
        for (let x = 0; x < width; x++) if (!inside || x < left || x >= right) {
          const p = write + <usize>x * 4;
          store<f32>(p, F(p) * (1 - opacity));
        }
      }
      if (y1 <= y0 || right <= left) continue;
      const length = <usize>(right - left + 2) * 4;
      for (let y = y0; y < y1; y++) memory.fill(accs + <usize>(y - top) * rowBytes, 0, length);
      const first = edges + <usize>G(o) * edgeBytes, end = first + <usize>G(o + 8) * edgeBytes;
      let soft = false;
      for (let e = first; e < end; e += edgeBytes) {
        if (G(e + 32) > 0 || G(e + 40) > 0) soft = true;
        const x0 = G(e), from = G(e + 8), to = G(e + 24);
        const down = from < to;
        const ya = down ? from : to, yb = down ? to : from;
        // What is as good as level covers nothing, and its slope would be no number.
        if (yb <= <f64>y0 || ya >= <f64>y1 || yb - ya < 1e-12) continue;
        const slope = (G(e + 16) - x0) / (to - from);
        const last = min(y1, <i32>Math.ceil(yb));
        for (let y = max(y0, <i32>Math.floor(ya)); y < last; y++) {
          const upper = Math.max(ya, <f64>y), lower = Math.min(yb, <f64>(y + 1));
          if (lower <= upper) continue;
          const xa = x0 + (upper - from) * slope, xb = x0 + (lower - from) * slope;
          const height = down ? lower - upper : upper - lower;
          acrossRow(accs + <usize>(y - top) * rowBytes, left, right, Math.min(xa, xb), Math.max(xa, xb), height);
        }
      }
      if (soft) {
        for (let y = y0; y < y1; y++) {
          const near = nears + <usize>(y - top) * rowBytes;
          for (let x = left; x < right; x++) store<f32>(near + <usize>(x - left) * 4, 1);
        }
        for (let e = first; e < end; e += edgeBytes) {
          const most = Math.max(0.5, Math.max(G(e + 32), G(e + 40)));
          const ya = Math.min(G(e + 8), G(e + 24)) - most, yb = Math.max(G(e + 8), G(e + 24)) + most;
          const last = min(y1, <i32>Math.ceil(yb) + 1);
          for (let y = max(y0, <i32>Math.floor(ya) - 1); y < last; y++)
            nearEdge(nears + <usize>(y - top) * rowBytes, left, right, y, e, most);
        }
      }
      for (let y = y0; y < y1; y++) {
        const at = <usize>(y - top) * rowBytes;
        layRow(out + <usize>y * <usize>width * 4, accs + at, nears + at, soft, left, right, type, opacity);
      }
    }
  }
}
