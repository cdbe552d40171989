import type { JoinMode } from '../../core/kernels/join';

/**
 * Compositing of one pixel, straight from the published formulas on un-premultiplied colour: Porter & Duff 1984, and W3C
 * Compositing and Blending Level 1, chapters 9 and 10. Colours and alphas in [0, 1].
 */
type Colour = [number, number, number];
export type Pixel = { colour: Colour; alpha: number };

const fractions: Partial<Record<JoinMode, (as: number, ab: number) => [number, number]>> = {
  clear: () => [0, 0],
  source: () => [1, 0],
  backdrop: () => [0, 1],
  over: (as) => [1, 1 - as],
  under: (_, ab) => [1 - ab, 1],
  in: (_, ab) => [ab, 0],
  'backdrop-in': (as) => [0, as],
  out: (_, ab) => [1 - ab, 0],
  'backdrop-out': (as) => [0, 1 - as],
  atop: (as, ab) => [ab, 1 - as],
  'backdrop-atop': (as, ab) => [1 - ab, as],
  xor: (as, ab) => [1 - ab, 1 - as],
  plus: () => [1, 1],
};

const multiply = (b: number, s: number) => b * s;
const screen = (b: number, s: number) => b + s - b * s;
const hardLight = (b: number, s: number) => (s <= 0.5 ? multiply(b, 2 * s) : screen(b, 2 * s - 1));
const softLight = (b: number, s: number) => {
  if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
  const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
  return b + (2 * s - 1) * (d - b);
};
const separable: Partial<Record<JoinMode, (b: number, s: number) => number>> = {
  multiply,
  screen,
  darken: Math.min,
  lighten: Math.max,
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
  overlay: (b, s) => hardLight(s, b),
  'hard-light': hardLight,
  'color-dodge': (b, s) => (b === 0 ? 0 : s === 1 ? 1 : Math.min(1, b / (1 - s))),
  'color-burn': (b, s) => (b === 1 ? 1 : s === 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'soft-light': softLight,
};

const lum = ([r, g, b]: Colour) => 0.3 * r + 0.59 * g + 0.11 * b;
const sat = (c: Colour) => Math.max(...c) - Math.min(...c);
function clip(c: Colour): Colour {
  const l = lum(c);
  const [n, x] = [Math.min(...c), Math.max(...c)];
  let out = c;
  if (n < 0) out = out.map((v) => l + ((v - l) * l) / (l - n)) as Colour;
  if (x > 1) out = out.map((v) => l + ((v - l) * (1 - l)) / (x - l)) as Colour;
  return out;
}
const setLum = (c: Colour, l: number) => clip(c.map((v) => v + l - lum(c)) as Colour);
function setSat(c: Colour, s: number): Colour {
  const [n, x] = [Math.min(...c), Math.max(...c)];
  return c.map((v) => (x > n ? ((v - n) * s) / (x - n) : 0)) as Colour;
}
const whole: Partial<Record<JoinMode, (b: Colour, s: Colour) => Colour>> = {
  hue: (b, s) => setLum(setSat(s, sat(b)), lum(b)),
  saturation: (b, s) => setLum(setSat(b, sat(s)), lum(b)),
  color: (b, s) => setLum(s, lum(b)),
  luminosity: (b, s) => setLum(b, lum(s)),
};

/** The premultiplied result, R, G, B, A. */
export function plainJoin(mode: JoinMode, b: Pixel, s: Pixel): number[] {
  const [ab, as] = [b.alpha, s.alpha];
  const operator = fractions[mode];
  if (operator) {
    const [fs, fb] = operator(as, ab);
    const alpha = as * fs + ab * fb;
    return [
      ...s.colour.map((v, c) => v * as * fs + b.colour[c] * ab * fb),
      mode === 'plus' ? Math.min(1, alpha) : alpha,
    ];
  }
  const one = separable[mode];
  const mixed = one ? b.colour.map((v, c) => one(v, s.colour[c])) : whole[mode]!(b.colour, s.colour);
  const out = mixed.map((v, c) => s.colour[c] * as * (1 - ab) + b.colour[c] * ab * (1 - as) + as * ab * v);
  return [...out, as + ab - as * ab];
}
