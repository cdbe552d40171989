import { luminance } from '../colour/luminance';
import { encodeSrgb } from '../colour/srgb';
import type { Picture } from '../picture/picture';

/** How light lies in a picture, in codes of the display (sRGB), 0 … 1 and what is above. */
export type Scopes = {
  /** Pixels by code, for red, green and blue; the last bin holds what is past white. */
  histogram: [number[], number[], number[]];
  /** Share of a column's pixels by column and level of luminance: `[column, level, share]`, without empty ones. */
  waveform: [number, number, number][];
  columns: number;
  levels: number;
};

const bins = 96;
const columns = 128;
const levels = 64;

export function scopesOf({ data, width, height }: Picture): Scopes {
  const histogram: Scopes['histogram'] = [0, 1, 2].map(() =>
    new Array<number>(bins + 1).fill(0),
  ) as Scopes['histogram'];
  const counts = new Float64Array(columns * (levels + 1));
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
    }
  }
  const waveform: Scopes['waveform'] = [];
  for (let c = 0; c < columns; c++) {
    for (let l = 0; l <= levels; l++) {
      const count = counts[c * (levels + 1) + l];
      if (count > 0) waveform.push([c, l, count / perColumn[c]]);
    }
  }
  return { histogram, waveform, columns, levels: levels + 1 };
}
