import { luminance } from '../../core/colour/luminance';
import type { Picture } from '../../core/picture/picture';
import { type Plane, plane } from './plane';

/**
 * Share of light that passes a soft threshold, by its luminance `y`: 0 below t − k, quadratic between t − k and
 * t + k, (y − t)/y above; continuous with continuous slope.
 */
export function softThreshold(y: number, threshold: number, knee: number): number {
  if (!(y > threshold - knee) || y <= 0) return 0;
  if (y >= threshold + knee) return (y - threshold) / y;
  const above = y - threshold + knee;
  // Two quotients, each within 0…1: their numerators alone fall to 0 for the faintest light.
  return (above / (4 * knee)) * (above / y);
}

export type TakeOptions = {
  threshold: number;
  knee: number;
  limit: number;
  tint: readonly [number, number, number];
};

/**
 * The light taken from a picture: three planes R, G, B, times `tint`. One weight for all three keeps the hue.
 * `limit` > 0 caps the luminance of stray pixels first. What is not finite is taken as 0; so is light that is
 * negative in sum.
 */
export function takeLight(
  from: Pick<Picture, 'width' | 'height' | 'data'>,
  o: TakeOptions,
): [Plane, Plane, Plane] {
  const { width, height, data } = from;
  const out: [Plane, Plane, Plane] = [plane(width, height), plane(width, height), plane(width, height)];
  const knee = Math.min(o.knee, o.threshold);
  for (let i = 0, p = 0; i < width * height; i++, p += 4) {
    const [r, g, b] = [data[p], data[p + 1], data[p + 2]];
    const y = luminance(r, g, b);
    if (!Number.isFinite(y) || y <= 0) continue;
    const capped = o.limit > 0 && y > o.limit ? o.limit / y : 1;
    const weight = capped * softThreshold(y * capped, o.threshold, knee);
    if (!(weight > 0)) continue;
    out[0].data[i] = r * weight * o.tint[0];
    out[1].data[i] = g * weight * o.tint[1];
    out[2].data[i] = b * weight * o.tint[2];
  }
  return out;
}
