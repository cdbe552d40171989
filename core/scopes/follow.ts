import { luminance } from '../colour/luminance';
import type { Picture } from '../picture/picture';

/** Follows a square patch of a picture from frame to frame, to parts of a pixel. Places are in pixels from the upper left corner, y downwards. */

/** A part of a picture as one number a pixel, from its pixel (`left`, `top`) on. */
export type Gray = { left: number; top: number; width: number; height: number; data: Float64Array };
/** What is looked for: `side` times `side` numbers about a place. */
export type Template = { side: number; data: Float64Array };
export type Located = { x: number; y: number; confidence: number };

/** Square roots of light, so that lamps do not outweigh all else, a little blurred. A pixel beyond the border is that at the border. */
export function grayOf(
  { width, height, channels, data }: Picture,
  left: number,
  top: number,
  size: number,
): Gray {
  const gray = new Float64Array(size * size);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const px = Math.min(width - 1, Math.max(0, left + x));
      const py = Math.min(height - 1, Math.max(0, top + y));
      const i = (py * width + px) * channels;
      const light = channels === 1 ? data[i] : luminance(data[i], data[i + 1], data[i + 2]);
      gray[y * size + x] = light > 0 && light < 1e30 ? Math.sqrt(light) : 0;
    }
  return { left, top, width: size, height: size, data: calm(calm(gray, size, 1), size, size) };
}

/** Quarter, half, quarter along an axis, by the distance of its neighbours: noise counts less, and nothing moves. */
function calm(gray: Float64Array, size: number, by: number): Float64Array {
  const out = new Float64Array(gray.length);
  for (let i = 0; i < gray.length; i++) {
    const at = by === 1 ? i % size : Math.floor(i / size);
    const [before, after] = [at > 0 ? i - by : i, at < size - 1 ? i + by : i];
    out[i] = (gray[before] + 2 * gray[i] + gray[after]) / 4;
  }
  return out;
}

/** Weights of four samples for a place `t` behind the second (R. G. Keys 1981, *Cubic Convolution Interpolation*, a = −1/2). */
const cubic = (t: number): readonly [number, number, number, number] => [
  ((-0.5 * t + 1) * t - 0.5) * t,
  (1.5 * t - 2.5) * t * t + 1,
  ((-1.5 * t + 2) * t + 0.5) * t,
  (0.5 * t - 0.5) * t * t,
];

/** The patch of `side` samples a side about (x, y). */
function patchAt(gray: Gray, x: number, y: number, side: number): Float64Array {
  const out = new Float64Array(side * side);
  const [fx, fy] = [x - (side - 1) / 2 - 0.5 - gray.left, y - (side - 1) / 2 - 0.5 - gray.top];
  const [ix, iy] = [Math.floor(fx), Math.floor(fy)];
  const [wx, wy] = [cubic(fx - ix), cubic(fy - iy)];
  const row = (v: number) => Math.min(gray.height - 1, Math.max(0, v)) * gray.width;
  const column = (v: number) => Math.min(gray.width - 1, Math.max(0, v));
  for (let j = 0; j < side; j++)
    for (let i = 0; i < side; i++) {
      let sum = 0;
      for (let b = 0; b < 4; b++) {
        const at = row(iy + j + b - 1);
        let line = 0;
        for (let a = 0; a < 4; a++) line += wx[a] * gray.data[at + column(ix + i + a - 1)];
        sum += wy[b] * line;
      }
      out[j * side + i] = sum;
    }
  return out;
}

export const templateAt = (gray: Gray, x: number, y: number, side: number): Template => ({
  side,
  data: patchAt(gray, x, y, side),
});

/** Normalised cross-correlation of two patches, −1 to 1; 0 where one of them is even. */
function correlation(a: Float64Array, b: Float64Array): number {
  let [sa, sb, aa, bb, ab] = [0, 0, 0, 0, 0];
  for (let i = 0; i < a.length; i++) {
    sa += a[i];
    sb += b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
    ab += a[i] * b[i];
  }
  const n = a.length;
  const [va, vb] = [aa - (sa * sa) / n, bb - (sb * sb) / n];
  return va > 1e-12 * aa && vb > 1e-12 * bb ? (ab - (sa * sb) / n) / Math.sqrt(va * vb) : 0;
}

/** Solves four equations by elimination with pivots; undefined where they do not say enough. */
function solved(m: number[][]): number[] | undefined {
  for (let c = 0; c < 4; c++) {
    let pivot = c;
    for (let r = c + 1; r < 4; r++) if (Math.abs(m[r][c]) > Math.abs(m[pivot][c])) pivot = r;
    if (Math.abs(m[pivot][c]) < 1e-14) return undefined;
    [m[c], m[pivot]] = [m[pivot], m[c]];
    for (let r = 0; r < 4; r++) {
      if (r === c) continue;
      const factor = m[r][c] / m[c][c];
      for (let k = c; k < 5; k++) m[r][k] -= factor * m[c][k];
    }
  }
  return m.map((row, i) => row[4] / row[i]);
}

/** Steps of the refinement; it is done long before where the patch says enough. */
const mostSteps = 20;

/**
 * Where a template is in a picture: the best normalised cross-correlation over whole pixels, no further than `reach` from (x, y), refined by least
 * squares on the shift, with a gain and an offset of the light (B. D. Lucas and T. Kanade 1981, *An Iterative Image Registration Technique*).
 */
export function locate({ side, data }: Template, gray: Gray, x: number, y: number, reach: number): Located {
  const at = (v: number) => Math.floor(v) + 0.5;
  let best: Located = { x: at(x), y: at(y), confidence: -2 };
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      const confidence = correlation(data, patchAt(gray, at(x) + dx, at(y) + dy, side));
      if (confidence > best.confidence) best = { x: at(x) + dx, y: at(y) + dy, confidence };
    }
  let { x: px, y: py } = best;
  for (let n = 0; n < mostSteps; n++) {
    const here = patchAt(gray, px, py, side);
    const half = 0.5;
    const [left, right] = [patchAt(gray, px - half, py, side), patchAt(gray, px + half, py, side)];
    const [above, below] = [patchAt(gray, px, py - half, side), patchAt(gray, px, py + half, side)];
    const m = Array.from({ length: 4 }, () => [0, 0, 0, 0, 0]);
    for (let i = 0; i < data.length; i++) {
      const row = [right[i] - left[i], below[i] - above[i], here[i], 1];
      for (let a = 0; a < 4; a++) {
        for (let b = 0; b < 4; b++) m[a][b] += row[a] * row[b];
        m[a][4] += row[a] * data[i];
      }
    }
    const found = solved(m);
    if (!found || !(found[2] > 0)) break;
    const [dx, dy] = [found[0] / found[2], found[1] / found[2]];
    px += Math.max(-1, Math.min(1, dx));
    py += Math.max(-1, Math.min(1, dy));
    if (Math.abs(px - best.x) > 2 || Math.abs(py - best.y) > 2) break;
    if (Math.abs(dx) + Math.abs(dy) < 1e-4) break;
  }
  const confidence = correlation(data, patchAt(gray, px, py, side));
  return confidence >= best.confidence ? { x: px, y: py, confidence } : best;
}
