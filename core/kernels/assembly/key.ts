/** Mattes from what a pixel holds. `lo` … `hi` counts pixels. */
import { clamp01, F, finite, ld, luma } from './vector';

/** 0 … 1 with level ends. */
// @ts-expect-error: decorator
@inline function smooth(x: f32): f32 { const t = clamp01(x); return t * t * (3 - 2 * t); }

/** See `band`: one channel (4 luminance) between two values, with soft sides. Infinity lies beyond every end but an endless one. */
export function bandKey(d: usize, s: usize, c: i32, low: f32, lowSoft: f32, high: f32, highSoft: f32, lo: i32, hi: i32, scratch: usize): void {
  for (let i = lo; i < hi; i++) {
    const p = s + <usize>i * 16;
    const v = c < 4 ? F(p + <usize>c * 4) : luma(ld(p));
    let m: f32 = v != v ? 0 : 1;
    if (m > 0 && v < low) m = lowSoft > 0 && finite(v) ? smooth((v - low) / lowSoft + 1) : 0;
    if (m > 0 && v > high) m = highSoft > 0 && finite(v) ? min<f32>(m, smooth(1 - (v - high) / highSoft)) : 0;
    store<f32>(d + <usize>i * 4, m);
  }
}

/** See `colourKey`: `samples` are OKLab triples. */
export function colourKey(
  d: usize, s: usize, samples: usize, count: i32, near: f32, soft: f32, lightness: f32, lo: i32, hi: i32, scratch: usize,
): void {
  for (let i = lo; i < hi; i++) {
    const p = s + <usize>i * 16, a = F(p + 12);
    const k: f32 = a > 0 ? 1 / a : 1;
    const r = max<f32>(0, F(p)) * k, g = max<f32>(0, F(p + 4)) * k, b = max<f32>(0, F(p + 8)) * k;
    // Ottosson 2020, "A perceptual color space for image processing".
    const l = Mathf.cbrt(<f32>0.4122214708 * r + <f32>0.5363325363 * g + <f32>0.0514459929 * b);
    const m = Mathf.cbrt(<f32>0.2119034982 * r + <f32>0.6806995451 * g + <f32>0.1073969566 * b);
    const n = Mathf.cbrt(<f32>0.0883024619 * r + <f32>0.2817188376 * g + <f32>0.6299787005 * b);
    const L = <f32>0.2104542553 * l + <f32>0.793617785 * m - <f32>0.0040720468 * n;
    const A = <f32>1.9779984951 * l - <f32>2.428592205 * m + <f32>0.4505937099 * n;
    const B = <f32>0.0259040371 * l + <f32>0.7827717662 * m - <f32>0.808675766 * n;
    let least: f32 = Infinity;
    for (let j = 0; j < count; j++) {
      const q = samples + <usize>j * 12;
      const x = (L - F(q)) * lightness, y = A - F(q + 4), z = B - F(q + 8);
      least = min(least, x * x + y * y + z * z);
    }
    const away = Mathf.sqrt(least);
    let v: f32 = away <= near ? 1 : soft > 0 ? smooth(1 - (away - near) / soft) : 0;
    if (!(v > 0)) v = 0;
    store<f32>(d + <usize>i * 4, a > 0 && a < 1 ? v * a : a > 0 ? v : 0);
  }
}

/**
 * See `facingKey`. `sort`: 0 1 − |N·V|, 1 Schlick, 2 the exact reflectance. `view`: camera position where positions `q` are given, else
 * half the width and height of the view at distance 1 and the picture's place: x and y of the first pixel, columns and rows of
 * the frame.
 */
export function facingKey(
  d: usize, n: usize, q: usize, view: usize, w: i32, sort: i32, index: f32, black: f32, gamma: f32, invert: i32, lo: i32, hi: i32, scratch: usize,
): void {
  const f0 = ((index - 1) / (index + 1)) * ((index - 1) / (index + 1));
  for (let i = lo; i < hi; i++) {
    const p = n + <usize>i * 16;
    const x = F(p), y = F(p + 4), z = F(p + 8);
    const long = Mathf.sqrt(x * x + y * y + z * z);
    let m: f32 = 0;
    if (long > 0 && finite(long)) {
      let vx: f32, vy: f32, vz: f32;
      if (q) {
        const o = q + <usize>i * 16;
        vx = F(view) - F(o); vy = F(view + 4) - F(o + 4); vz = F(view + 8) - F(o + 8);
      } else {
        // Towards a camera at the origin that looks along −z.
        const px = <f32>(i % w) + F(view + 8) + 0.5, py = <f32>(i / w) + F(view + 12) + 0.5;
        vx = -(2 * px / F(view + 16) - 1) * F(view); vy = (2 * py / F(view + 20) - 1) * F(view + 4); vz = 1;
      }
      const far = Mathf.sqrt(vx * vx + vy * vy + vz * vz);
      let c: f32 = far > 0 ? Mathf.abs(x * vx + y * vy + z * vz) / (long * far) : 1;
      if (c > 1) c = 1;
      if (!finite(c)) m = 0;
      else if (sort == 0) m = 1 - c;
      else if (sort == 1) {
        const u: f32 = 1 - c, u2: f32 = u * u;
        m = f0 + (1 - f0) * u2 * u2 * u;
      } else {
        const t2: f32 = 1 - (1 - c * c) / (index * index);
        if (t2 <= 0) m = 1;
        else {
          const t = Mathf.sqrt(t2);
          const rs = (c - index * t) / (c + index * t), rp = (index * c - t) / (index * c + t);
          m = 0.5 * (rs * rs + rp * rp);
        }
      }
      m = black < 1 ? clamp01((m - black) / (1 - black)) : 0;
      if (gamma != 1 && m > 0 && m < 1) m = Mathf.pow(m, 1 / gamma);
      if (invert) m = 1 - m;
    }
    store<f32>(d + <usize>i * 4, m);
  }
}
