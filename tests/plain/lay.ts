import type { Picture } from '../../core/picture/picture';
import type { Plane } from './plane';

export type LayMode = 'add' | 'screen' | 'lighten' | 'over' | 'under';
export type LayOptions = {
  mode: LayMode;
  amount: number;
  alphaGrows: boolean;
  show: 'result' | 'light';
  /** Where the light may land, 0…1; its complement if `invert`. */
  mask?: { data: Float32Array };
  invert: boolean;
};

const clamp01 = (v: number) => Math.min(1, Math.max(0, v));

/**
 * Colour `a` with light `l` laid on it; `a` has alpha `aa`, the light covers `la`.
 * Screen is a + b − a·b of the W3C *Compositing and Blending Level 1*, with a held to [0, 1] in the product so that it goes on
 * continuously above 1. Over and under are Porter & Duff 1984 on premultiplied colour.
 */
const modes: Record<LayMode, (a: number, l: number, aa: number, la: number) => number> = {
  add: (a, l) => a + l,
  screen: (a, l) => a + l * (1 - clamp01(a)),
  lighten: (a, l) => Math.max(a, l),
  over: (a, l, _aa, la) => l + a * (1 - la),
  under: (a, l, aa) => a + l * (1 - clamp01(aa)),
};

/**
 * Lays light (three planes) back on a picture. Colour is never clamped; alpha stays in [0, 1]: it grows to
 * 1 − (1 − a)(1 − clamp01(max(R, G, B) of the light)) where `alphaGrows`. Outside `mask` no bit changes; at 0.5 the result is half-way.
 * With `show: 'light'` the light alone, over opaque black.
 */
export function layLight(
  picture: Pick<Picture, 'width' | 'height' | 'data'>,
  light: readonly [Plane, Plane, Plane],
  o: LayOptions,
): Float32Array {
  const mode = modes[o.mode];
  const [lr, lg, lb] = light.map((p) => p.data);
  const from = picture.data;
  const to = new Float32Array(from.length);
  for (let i = 0, p = 0; p < from.length; i++, p += 4) {
    const matte = o.mask ? o.mask.data[i] : 1;
    const mask = o.mask && o.invert ? 1 - matte : matte;
    const r = lr[i] * o.amount;
    const g = lg[i] * o.amount;
    const b = lb[i] * o.amount;
    if (o.show === 'light') {
      to[p] = r * mask;
      to[p + 1] = g * mask;
      to[p + 2] = b * mask;
      to[p + 3] = 1;
      continue;
    }
    const a = from[p + 3];
    if (!(mask > 0)) {
      for (let c = 0; c < 4; c++) to[p + c] = from[p + c];
      continue;
    }
    const covers = clamp01(Math.max(r, g, b));
    const laid0 = mode(from[p], r, a, covers);
    const laid1 = mode(from[p + 1], g, a, covers);
    const laid2 = mode(from[p + 2], b, a, covers);
    const grown = o.alphaGrows ? 1 - (1 - a) * (1 - covers) : a;
    if (mask === 1) {
      to[p] = laid0;
      to[p + 1] = laid1;
      to[p + 2] = laid2;
      to[p + 3] = grown;
    } else {
      to[p] = from[p] + mask * (laid0 - from[p]);
      to[p + 1] = from[p + 1] + mask * (laid1 - from[p + 1]);
      to[p + 2] = from[p + 2] + mask * (laid2 - from[p + 2]);
      to[p + 3] = a + mask * (grown - a);
    }
  }
  return to;
}
