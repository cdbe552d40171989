/** Distance and dilation of mattes: planes of 4 bytes a pixel, whose width the caller has padded to four with `stride` floats a row. */
import { add, F, ld, sp, st } from './vector';

/** Columns `lo` … `hi` (fours): rows to the nearest pixel above 0.5 in the same column; far where there is none. */
export function distanceColumns(
  out: usize,
  from: usize,
  stride: i32,
  height: i32,
  lo: i32,
  hi: i32,
  scratch: usize,
): void {
  const one = sp(1),
    far = sp(1e6),
    zero = sp(0),
    half = sp(0.5),
    S: usize = stride * 4;
  for (let x = lo; x < hi; x += 4) {
    let v = far,
      p = from + <usize>x * 4,
      o = out + <usize>x * 4;
    for (let y = 0; y < height; y++, p += S, o += S) {
      v = v128.bitselect(zero, add(v, one), f32x4.gt(ld(p), half));
      st(o, v);
    }
    v = far;
    for (let y = 0; y < height; y++) {
      o -= S;
      v = f32x4.pmin(ld(o), add(v, one));
      st(o, v);
    }
  }
}

/**
 * The lower envelope of parabolas over a row of column distances at `r` (Felzenszwalb & Huttenlocher 2012): their places at
 * `scratch`, where each begins behind them, then the squared distances. 3 (w + 4) floats.
 */
function envelope(r: usize, w: i32, scratch: usize): void {
  const V = scratch,
    Z = scratch + <usize>(w + 4) * 4,
    f = scratch + <usize>(w + 4) * 8;
  for (let i = 0; i < w; i++) {
    const t = F(r + <usize>i * 4);
    store<f32>(f + <usize>i * 4, t * t);
  }
  let k = 0;
  store<i32>(V, 0);
  store<f32>(Z, -1e20);
  store<f32>(Z + 4, 1e20);
  for (let q = 1; q < w; q++) {
    const fq = F(f + <usize>q * 4);
    let cross: f32;
    for (;;) {
      const v = load<i32>(V + <usize>k * 4);
      // (fq + q²) − (fv + v²), without the loss of adding squares of places to far larger distances.
      cross = (fq - F(f + <usize>v * 4) + f32((q - v) * (q + v))) / f32(q - v + q - v);
      if (cross > F(Z + <usize>k * 4) || k == 0) break;
      k--;
    }
    if (cross <= F(Z + <usize>k * 4)) {
      store<i32>(V, q);
      store<f32>(Z + 4, 1e20);
    } else {
      k++;
      store<i32>(V + <usize>k * 4, q);
      store<f32>(Z + <usize>k * 4, cross);
      store<f32>(Z + <usize>k * 4 + 4, 1e20);
    }
  }
}

/** Rows `lo` … `hi`: exact Euclidean distance from the rows' distances. Scratch: 3 (w + 4) floats. */
export function distanceRows(out: usize, stride: i32, width: i32, lo: i32, hi: i32, scratch: usize): void {
  const Z = scratch + <usize>(width + 4) * 4,
    f = scratch + <usize>(width + 4) * 8;
  for (let y = lo; y < hi; y++) {
    const r = out + <usize>y * <usize>stride * 4;
    envelope(r, width, scratch);
    let k = 0;
    for (let q = 0; q < width; q++) {
      while (F(Z + <usize>k * 4 + 4) < <f32>q) k++;
      const v = load<i32>(scratch + <usize>k * 4),
        dx = q - v;
      store<f32>(r + <usize>q * 4, f32(Math.sqrt(<f64>(<f32>(dx * dx) + F(f + <usize>v * 4)))));
    }
  }
}

/**
 * Rows `lo` … `hi` of a matte grown by `radius` pixels. `columns` holds the rows to the nearest pixel above 0.5 of each column, `matte` the matte. The
 * edge runs through a pixel where its coverage says, and through the next one towards the pixel that asks: so the distance is taken to
 * there. Never below the matte itself. Scratch: 3 (w + 4) floats.
 */
export function growRows(out: usize, columns: usize, matte: usize, stride: i32, width: i32, height: i32, radius: f32, lo: i32, hi: i32, scratch: usize): void {
  const Z = scratch + <usize>(width + 4) * 4,
    f = scratch + <usize>(width + 4) * 8;
  const half: f32 = 0.5;
  const surely: f32 = radius > half ? (radius - half) * (radius - half) : -1, never: f32 = (radius + 2) * (radius + 2);
  for (let y = lo; y < hi; y++) {
    envelope(columns + <usize>y * <usize>stride * 4, width, scratch);
    let k = 0;
    for (let q = 0; q < width; q++) {
      while (F(Z + <usize>k * 4 + 4) < <f32>q) k++;
      const v = load<i32>(scratch + <usize>k * 4), dx = q - v;
      const own = F(matte + (<usize>y * <usize>stride + q) * 4);
      const square = <f32>(dx * dx) + F(f + <usize>v * 4);
      let value: f32 = own;
      // Only near the new edge does the old one's place within its pixels count.
      if (square <= surely) value = 1;
      else if (square < never) {
        const far = Mathf.sqrt(square);
        const dv = <i32>Mathf.sqrt(F(f + <usize>v * 4));
        // The lit pixel of that column: above or below, whichever is lit.
        let ly = y - dv;
        if (ly < 0 || !(F(matte + (<usize>ly * <usize>stride + v) * 4) > half)) ly = y + dv;
        const lit = F(matte + (<usize>ly * <usize>stride + v) * 4);
        let edge: f32 = lit - half;
        if (far > 0) {
          const nx = v + <i32>Mathf.round(<f32>dx / far), ny = ly + <i32>Mathf.round(<f32>(y - ly) / far);
          if (nx >= 0 && nx < width && ny >= 0 && ny < height) {
            const next = F(matte + (<usize>ny * <usize>stride + nx) * 4);
            if (next <= half) edge += next;
          }
        }
        value = max(own, min<f32>(1, max<f32>(0, radius + half - (far - edge))));
      }
      store<f32>(out + (<usize>y * <usize>stride + q) * 4, value);
    }
  }
}

/**
 * Rows `lo` … `hi`: the largest value within a disc of whole radius R; `half` holds, for each row offset 0 … R, how far
 * the disc reaches to each side. Running maxima of 2, 4, 8 … pixels along rows. Scratch: 9 rows of 2048 bytes and (2R + 1) of 1024; R ≤ 120.
 */
export function dilate(
  out: usize,
  from: usize,
  stride: i32,
  width: i32,
  height: i32,
  radius: i32,
  half: usize,
  lo: i32,
  hi: i32,
  scratch: usize,
): void {
  const line = scratch,
    ring = scratch + 9 * 2048,
    K = 2 * radius + 1,
    none = sp(-3e38);
  for (let x0 = 0; x0 < width; x0 += 256) {
    const tw = min(width - x0, 256),
      ext = tw + 2 * radius,
      te: usize = ((tw + 3) & ~3) * 4;
    for (let i: usize = 0, e: usize = <usize>K * 1024; i < e; i += 16) st(ring + i, none);
    for (let y = lo - radius; y < hi + radius; y++) {
      if (y >= 0 && y < height) {
        const r = from + <usize>y * <usize>stride * 4;
        for (let i = 0; i < ext; i++) {
          const x = x0 - radius + i;
          store<f32>(line + <usize>i * 4, x < 0 || x >= width ? <f32>-3e38 : F(r + <usize>x * 4));
        }
        for (let i = ext; i < ext + 64; i++) store<f32>(line + <usize>i * 4, -3e38);
        for (let k = 0; k < 7 && 2 << k <= K; k++) {
          const a = line + <usize>k * 2048,
            b = a + 2048;
          const o: usize = 4 << k;
          for (let i: usize = 0, e: usize = 2048 - o; i < e; i += 16)
            st(b + i, f32x4.pmax(ld(a + i), ld(a + i + o)));
        }
        for (let t = 0; t <= radius; t++) {
          const hw = load<i32>(half + <usize>t * 4),
            len = 2 * hw + 1;
          let k = 0;
          while (2 << k <= len) k++;
          const M = line + <usize>k * 2048 + <usize>(radius - hw) * 4;
          const o: usize = (len - (1 << k)) * 4;
          const A = ring + <usize>((y + t + 4 * K) % K) * 1024,
            B = ring + <usize>((y - t + 4 * K) % K) * 1024;
          if (t) {
            for (let i: usize = 0; i < te; i += 16) {
              const m = f32x4.pmax(ld(M + i), ld(M + i + o));
              st(A + i, f32x4.pmax(ld(A + i), m));
              st(B + i, f32x4.pmax(ld(B + i), m));
            }
          } else for (let i: usize = 0; i < te; i += 16) st(A + i, f32x4.pmax(ld(A + i), f32x4.pmax(ld(M + i), ld(M + i + o))));
        }
      }
      const yo = y - radius;
      const A = ring + <usize>((yo + 4 * K) % K) * 1024;
      if (yo >= lo && yo < hi) memory.copy(out + (<usize>yo * <usize>stride + x0) * 4, A, tw * 4);
      for (let i: usize = 0; i < te; i += 16) st(A + i, none);
    }
  }
}

/** d = a + (b − a) · t, planes of `n` floats by fours. */
export function blendPlanes(out: usize, a: usize, b: usize, share: f32, lo: i32, hi: i32, scratch: usize): void {
  const k = sp(share);
  for (let i: usize = lo * 4, e: usize = hi * 4; i < e; i += 16) {
    const x = ld(a + i);
    st(out + i, add(x, f32x4.mul(f32x4.sub(ld(b + i), x), k)));
  }
}
