import type { Picture } from '../picture/picture';
import { weights } from './luminance';
import { encodeSrgb } from './srgb';

export type Look = 'colour' | 'red' | 'green' | 'blue' | 'alpha' | 'luminance';
export const looks: readonly Look[] = ['colour', 'red', 'green', 'blue', 'alpha', 'luminance'];

/** How a picture is looked at; changes nothing in it. `range` maps data passes to 0…1. */
export type View = { look: Look; stops: number; range?: [number, number] };

const steps = 65535;
/** sRGB code of linear light i/65535; finer than a tenth of a code everywhere. */
const codes = Uint8Array.from({ length: steps + 1 }, (_, i) => Math.round(encodeSrgb(i / steps) * 255));

const codeOf = (light: number) => (light >= 1 ? 255 : light > 0 ? codes[(light * steps + 0.5) | 0] : 0);
const greyOf = (value: number) => (value >= 1 ? 255 : value > 0 ? (value * 255 + 0.5) | 0 : 0);

/**
 * 8-bit sRGB (IEC 61966-2-1) over black, opaque, ready for a canvas. Alpha is shown as even grey (not as light);
 * channels and luminance as grey light.
 */
export function toDisplay(picture: Picture, view: View): Uint8ClampedArray<ArrayBuffer> {
  const { width, height, channels, data } = picture;
  const out = new Uint8ClampedArray(width * height * 4);
  const [low, high] = view.range ?? [0, 1];
  const gain = view.range ? 1 / (high - low || 1) : 2 ** view.stops;
  const shift = view.range ? -low * gain : 0;
  const pick = { red: 0, green: 1, blue: 2 }[view.look as 'red'];
  for (let i = 0, o = 0; o < out.length; i += channels, o += 4) {
    out[o + 3] = 255;
    if (channels === 1 || view.look === 'alpha') {
      const v = channels === 1 ? data[i] * gain + shift : data[i + 3];
      out[o] = out[o + 1] = out[o + 2] = greyOf(v);
    } else if (view.look === 'colour') {
      out[o] = codeOf(data[i] * gain + shift);
      out[o + 1] = codeOf(data[i + 1] * gain + shift);
      out[o + 2] = codeOf(data[i + 2] * gain + shift);
    } else {
      const v =
        pick === undefined
          ? weights.r * data[i] + weights.g * data[i + 1] + weights.b * data[i + 2]
          : data[i + pick];
      out[o] = out[o + 1] = out[o + 2] = codeOf(v * gain + shift);
    }
  }
  return out;
}

/** Smallest and largest finite value of the colour channels; [0, 1] where there is none. */
export function finiteRange(picture: Picture): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  const { channels, data } = picture;
  for (let i = 0; i < data.length; i++) {
    if (channels === 4 && (i & 3) === 3) continue;
    const v = data[i];
    if (!Number.isFinite(v)) continue;
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return low < high ? [low, high] : [0, 1];
}
