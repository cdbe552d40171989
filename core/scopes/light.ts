import { luminance, midGrey } from '../colour/luminance';
import type { Picture } from '../picture/picture';

/** Luminance of a picture on a scale in stops about mid-grey. */
export type LightHistogram = {
  /** Stops at the left edge of the first bin and the right edge of the last. */
  from: number;
  to: number;
  /** Pixels by bin, parts of pixels where a mask is soft. What is brighter than `to` is counted in the last bin. */
  counts: number[];
  /** Pixels at or below zero or dimmer than `from`, and what a mask leaves out. */
  below: number;
  /** Pixels that are not finite. */
  broken: number;
  /** The largest finite luminance. */
  max: number;
};

/** `mask` is a matte of the same size: outside it there is no light. */
export function lightHistogram(
  picture: Pick<Picture, 'data'>,
  mask?: Pick<Picture, 'data'>,
  from = -8,
  to = 10,
  bins = 144,
): LightHistogram {
  const counts = new Array<number>(bins).fill(0);
  let [below, broken, max] = [0, 0, 0];
  const { data } = picture;
  const perBin = bins / (to - from);
  for (let p = 0; p < data.length; p += 4) {
    const y = luminance(data[p], data[p + 1], data[p + 2]);
    const share = mask ? Math.min(1, Math.max(0, mask.data[p >> 2])) : 1;
    below += 1 - share;
    if (!Number.isFinite(y)) broken += share;
    else if (share > 0) {
      if (y > max) max = y;
      const bin = y > 0 ? Math.floor((Math.log2(y / midGrey) - from) * perBin) : -1;
      if (bin < 0) below += share;
      else counts[Math.min(bins - 1, bin)] += share;
    }
  }
  return { from, to, counts, below, broken, max };
}

/**
 * The luminance above which, in excess of it, `part` of all light lies, but no more than `most`; undefined where there is no light. A
 * threshold there takes something of dull frames and the lamps alone of others.
 */
export function lightThreshold(
  { from, to, counts, max }: Pick<LightHistogram, 'from' | 'to' | 'counts' | 'max'>,
  part = 0.2,
  most = 1,
): number | undefined {
  const perBin = (to - from) / counts.length;
  const lightAt = (bin: number) => Math.min(max, midGrey * 2 ** (from + bin * perBin));
  const whole = counts.reduce((sum, n, i) => sum + n * lightAt(i + 0.5), 0);
  if (!(whole > 0)) return undefined;
  // From the brightest bin downwards: pixels above, and their light.
  let [pixels, light] = [0, 0];
  for (let bin = counts.length - 1; bin >= 0; bin--) {
    pixels += counts[bin];
    light += counts[bin] * lightAt(bin + 0.5);
    const threshold = lightAt(bin);
    if (light - pixels * threshold >= part * whole) return Number(Math.min(most, threshold).toPrecision(3));
  }
  return 0;
}

/** Share of the light of `after` that it has more than `before`: 0 where nothing was added. */
export function addedShare(before: Pick<Picture, 'data'>, after: Pick<Picture, 'data'>): number {
  let [added, whole] = [0, 0];
  const [a, b] = [before.data, after.data];
  for (let p = 0; p < b.length; p += 4) {
    const y = luminance(b[p], b[p + 1], b[p + 2]);
    const more = y - luminance(a[p], a[p + 1], a[p + 2]);
    if (!Number.isFinite(more) || !Number.isFinite(y)) continue;
    if (y > 0) whole += y;
    if (more > 0) added += more;
  }
  return whole > 0 ? added / whole : 0;
}

/** Of the pixels that are covered the share whose colour is exactly that of the one to their right, which is covered too. */
export function flatShare({ width, height, data }: Pick<Picture, 'width' | 'height' | 'data'>): number {
  let [covered, flat] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x + 1 < width; x++) {
      const p = (y * width + x) * 4;
      if (data[p + 3] < 0.5 || data[p + 7] < 0.5) continue;
      covered++;
      if (data[p] === data[p + 4] && data[p + 1] === data[p + 5] && data[p + 2] === data[p + 6]) flat++;
    }
  return covered === 0 ? 0 : flat / covered;
}

/** Share of pixels with a colour below `least`: what is a little below 0 is a colour outside of the primaries, and right. */
export function negativeShare({ data }: Pick<Picture, 'data'>, least = -0.01): number {
  let count = 0;
  for (let p = 0; p < data.length; p += 4)
    if (data[p] < least || data[p + 1] < least || data[p + 2] < least) count++;
  return count / (data.length / 4 || 1);
}

/** Smallest and largest finite value of the colour channels; [0, 1] where there is none. */
export function finiteRange({ channels, data }: Pick<Picture, 'channels' | 'data'>): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < data.length; i++) {
    if (channels === 4 && (i & 3) === 3) continue;
    const v = data[i];
    if (!Number.isFinite(v)) continue;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return low < high ? [low, high] : [0, 1];
}

/**
 * Shares of pixels: not finite in any channel; whose first channel is no number at all (endless depth is one); with colour beyond
 * their alpha by more than a code of 8 bits.
 */
export function pixelShares({
  data,
}: Pick<Picture, 'data'>): Record<'broken' | 'noNumber' | 'beyondAlpha', number> {
  let [broken, noNumber, beyond] = [0, 0, 0];
  for (let p = 0; p < data.length; p += 4) {
    const [r, g, b, a] = [data[p], data[p + 1], data[p + 2], data[p + 3]];
    const sum = r + g + b + a;
    if (Number.isNaN(r)) noNumber++;
    if (sum - sum !== 0) broken++;
    // Above 1 colour is light of its own: only what alpha leaves uncovered counts.
    else if (a < 1 && Math.min(1, Math.max(r, g, b)) > a + 1 / 255) beyond++;
  }
  const count = data.length / 4 || 1;
  return { broken: broken / count, noNumber: noNumber / count, beyondAlpha: beyond / count };
}
