import { luminance, toStops } from '../colour/luminance';
import type { RangeChannel } from '../kernels/key';
import type { Picture } from '../picture/picture';

/** How the finite values of one channel lie: counted in bins from `from` to `to`, in stops about mid-grey for light. */
export type ValueHistogram = {
  scale: 'stops' | 'linear';
  from: number;
  to: number;
  counts: number[];
  /** Values below which 5, 50 and 95 % lie, in the channel's own unit: of light, of all that is not black. */
  low: number;
  middle: number;
  high: number;
  /** Share of pixels that are not finite: the sky of a depth pass. */
  endless: number;
  /** Of light, the share of the covered pixels that are black: most of them in a pass of lamps alone. Otherwise 0. */
  black: number;
};

const at = { red: 0, green: 1, blue: 2, alpha: 3 } as const;

/** The histogram of a channel. Of a picture's light from −8 to 10 stops; of others between the least and the greatest value, or where nearly all lie. */
export function valueHistogram(
  { data }: Pick<Picture, 'data'>,
  channel: RangeChannel,
  bins = 144,
): ValueHistogram {
  const count = data.length / 4;
  const scale = channel === 'luminance' ? 'stops' : 'linear';
  const values = new Float64Array(count);
  let finite = 0;
  let black = 0;
  let endless = 0;
  for (let i = 0; i < count; i++) {
    const p = i * 4;
    const v = channel === 'luminance' ? luminance(data[p], data[p + 1], data[p + 2]) : data[p + at[channel]];
    // Some renderers write a very large number where there is nothing.
    if (!Number.isFinite(v) || Math.abs(v) >= 1e9) endless++;
    else if (scale === 'linear' || v > 0) values[finite++] = v;
    else if (data[p + 3] > 0) black++;
  }
  const sorted = values.subarray(0, finite).sort();
  const share = (p: number) => sorted[Math.min(finite - 1, Math.floor(p * finite))] ?? 0;
  const least = sorted[0] ?? 0;
  // A few values far beyond all others (a glimpse of the horizon) do not press the rest together: they count in the last bin.
  const [nearly, last] = [least + (share(0.98) - least) * 1.15, sorted[finite - 1] ?? 1];
  const most = last > least + (nearly - least) * 3 && nearly > least ? nearly : last;
  const [from, to] = scale === 'stops' ? [-8, 10] : [least, most > least ? most : least + 1];
  const counts = new Array<number>(bins).fill(0);
  for (const v of sorted) {
    const place = scale === 'stops' ? toStops(v) : v;
    const bin = Math.floor(((place - from) / (to - from)) * bins);
    if (bin >= 0) counts[Math.min(bins - 1, bin)]++;
  }
  return {
    scale,
    from,
    to,
    counts,
    low: share(0.05),
    middle: share(0.5),
    high: share(0.95),
    endless: endless / (count || 1),
    black: black / (black + finite || 1),
  };
}
