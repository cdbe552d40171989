import { luminance } from '../colour/luminance';
import { encodeSrgb } from '../colour/srgb';
import type { Picture } from '../picture/picture';

/** How light lies in a picture, in codes of the display (sRGB), 0 … 1 and what is above. */
export type Scopes = {
  /** Pixels by code, for red, green and blue; the last bin holds what is past white. */
  histogram: [number[], number[], number[]];
  /** Share of a column's pixels by column and level of luminance: `[column, level, share]`, without empty ones. */
  waveform: [number, number, number][];
  /** The same of red, of green and of blue, each in a third of the columns. */
  parade: [number, number, number][];
  /** Colours of codes as ITU-R BT.709 has them: C_B and C_R by place in a square of `side`, the middle is grey; and the share of pixels there. */
  vectors: [number, number, number][];
  columns: number;
  levels: number;
  side: number;
};

const side = 65;

/** Where codes of red, green and blue, 0 … 1, lie in the square of a vectorscope: C_B to the right, C_R upwards (ITU-R BT.709-6, 3.3). */
export function vectorPlace(r: number, g: number, b: number): [number, number] {
  const y = luminance(r, g, b);
  const [cb, cr] = [(b - y) / 1.8556, (r - y) / 1.5748];
  return [(cb + 0.5) * (side - 1), (0.5 + cr) * (side - 1)];
}

const bins = 96;
const columns = 128;
const levels = 64;

export function scopesOf({ data, width, height }: Picture): Scopes {
  const histogram: Scopes['histogram'] = [0, 1, 2].map(() =>
    new Array<number>(bins + 1).fill(0),
  ) as Scopes['histogram'];
  const counts = new Float64Array(columns * (levels + 1));
  const channels = [0, 1, 2].map(() => new Float64Array(Math.ceil(columns / 3) * (levels + 1)));
  const square = new Float64Array(side * side);
  const third = Math.floor(columns / 3);
  const displayed = (v: number) => (v >= 1 ? 1 : v > 0 ? encodeSrgb(v) : 0);
  const codeOf = (v: number, steps: number) =>
    v >= 1 ? steps : v > 0 ? Math.min(steps - 1, Math.floor(encodeSrgb(v) * steps)) : 0;
  const perColumn = new Float64Array(columns);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const [r, g, b] = [data[p], data[p + 1], data[p + 2]];
      histogram[0][codeOf(r, bins)]++;
      histogram[1][codeOf(g, bins)]++;
      histogram[2][codeOf(b, bins)]++;
      const column = Math.floor((x * columns) / width);
      counts[column * (levels + 1) + codeOf(luminance(r, g, b), levels)]++;
      perColumn[column]++;
      const narrow = Math.min(third - 1, Math.floor((x * third) / width));
      for (const [c, v] of [r, g, b].entries()) channels[c][narrow * (levels + 1) + codeOf(v, levels)]++;
      const [cb, cr] = vectorPlace(displayed(r), displayed(g), displayed(b)).map(Math.round);
      square[cr * side + cb]++;
    }
  }
  const waveform: Scopes['waveform'] = [];
  for (let c = 0; c < columns; c++) {
    for (let l = 0; l <= levels; l++) {
      const count = counts[c * (levels + 1) + l];
      if (count > 0) waveform.push([c, l, count / perColumn[c]]);
    }
  }
  const parade: Scopes['parade'] = [];
  for (const [c, own] of channels.entries())
    for (let x = 0; x < third; x++) {
      let all = 0;
      for (let l = 0; l <= levels; l++) all += own[x * (levels + 1) + l];
      for (let l = 0; l <= levels; l++) {
        const count = own[x * (levels + 1) + l];
        if (count > 0) parade.push([c * third + x, l, count / all]);
      }
    }
  const vectors: Scopes['vectors'] = [];
  for (let i = 0; i < square.length; i++)
    if (square[i] > 0) vectors.push([i % side, Math.floor(i / side), square[i] / (width * height)]);
  return { histogram, waveform, parade, vectors, columns, levels: levels + 1, side };
}
