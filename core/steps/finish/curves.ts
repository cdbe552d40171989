import type { ColourOp, StopsTable } from '../../kernels/colour';
import { type Knot, monotoneCurve } from '../../math/monotone';
import { defineColourStep } from '../shared/colour-step';
import type { RowsSpec } from '../shared/define';
import { number } from '../shared/numbers';

/** Stops that tables reach over, and their entries a stop: straight between them it is off by less than a thousandth of a stop. */
const [first, last, perStop] = [-16, 20, 64];
const stop = (name: string, description: string) =>
  number('ratio', 'change', name, description, 0, { from: -16, to: 20, soft: [-8, 8] });

/** Where a curve is drawn, in stops from mid-grey. */
export const curveSpan = [-8, 8] as const;

/** Curves to start from: each ends where the drawing does, and leaves mid-grey as it is. */
const sets: RowsSpec['sets'] = {
  identity: { name: 'Straight', rows: [] },
  lift: {
    name: 'Lift shadows',
    rows: [
      [-8, -6.2],
      [-4, -3],
      [0, 0],
      [8, 8],
    ],
  },
  rollOff: {
    name: 'Roll off highlights',
    rows: [
      [-8, -8],
      [0, 0],
      [3, 2.6],
      [8, 5],
    ],
  },
  more: {
    name: 'More contrast',
    rows: [
      [-8, -8],
      [-3, -3.8],
      [0, 0],
      [3, 3.7],
      [8, 8],
    ],
  },
  less: {
    name: 'Less contrast',
    rows: [
      [-8, -8],
      [-3, -2.3],
      [0, 0],
      [3, 2.4],
      [8, 8],
    ],
  },
  s: {
    name: 'S curve',
    rows: [
      [-8, -6.8],
      [-3, -3.6],
      [0, 0],
      [3, 3.4],
      [8, 6],
    ],
  },
};

const curve = (
  name: string,
  description: string,
  out = stop('To', 'Stops from mid-grey that it becomes.'),
  from: RowsSpec['sets'] = sets,
): RowsSpec => ({
  type: 'rows',
  section: 'change',
  name,
  description,
  columns: { from: stop('From', 'Stops from mid-grey.'), to: out },
  sets: from,
  default: [],
  most: 16,
});

type Rows = readonly (readonly number[])[];

/** Points of a curve in the order of their stops, one at each. */
export const knotsOf = (rows: Rows): Knot[] =>
  [...rows]
    .sort((a, b) => a[0] - b[0])
    .filter(([x], i, all) => i === 0 || x - all[i - 1][0] > 1e-6)
    .map(([x, y]) => [x, y] as const);

/** Beyond its points a curve goes on as steeply as this at the most: lights do not run away. */
const steepest = 2;

/** A curve over stops: as it is where it has no points. */
export function curveOf(rows: Rows): (x: number) => number {
  const knots = knotsOf(rows);
  if (knots.length === 0) return (x) => x;
  const curve = monotoneCurve(knots);
  const [low, high] = [knots[0], knots[knots.length - 1]];
  const [start, end] = [curve.slopes[0], curve.slopes[knots.length - 1]].map((s) =>
    Math.min(steepest, Math.max(0, s)),
  );
  return (x) => {
    if (x < low[0]) return low[1] + start * (x - low[0]);
    return x > high[0] ? high[1] + end * (x - high[0]) : curve.at(x);
  };
}

/** A function of stops as a table. */
function tableOf(of: (x: number) => number): StopsTable {
  const count = (last - first) * perStop + 1;
  const values = Float64Array.from({ length: count }, (_, i) => of(first + i / perStop));
  return { first, perStop, values, slope: (values[count - 1] - values[count - 2]) * perStop };
}

/** A curve after another one. */
function after(one: Rows, other: Rows): StopsTable {
  const [f, g] = [curveOf(one), curveOf(other)];
  return tableOf((x) => g(f(x)));
}

/** A factor over stops, 1 without points: beyond them it stays as at the nearest. */
export function factorOf(rows: Rows): (x: number) => number {
  const knots = knotsOf(rows);
  if (knots.length < 2) return () => knots[0]?.[1] ?? 1;
  const { at } = monotoneCurve(knots);
  const [low, high] = [knots[0][0], knots[knots.length - 1][0]];
  return (x) => at(Math.min(high, Math.max(low, x)));
}

/** A point in a curve; the first one comes with both ends, so that it lifts what is about it and not everything. */
export function withPoint(rows: Rows, point: readonly number[], isFactor: boolean): Rows {
  const [low, high] = curveSpan;
  const ends = isFactor
    ? [
        [low, 1],
        [high, 1],
      ]
    : [
        [low, low],
        [high, high],
      ];
  const isEnd = point[0] <= low || point[0] >= high;
  const all = rows.length === 0 && !isEnd ? [...ends, point] : [...rows, point];
  return all.sort((a, b) => a[0] - b[0]);
}

export const curves = defineColourStep({
  id: 'curves',
  name: 'Curves',
  stage: 'finish',
  description:
    'Curves over stops of light, unbounded above: beyond its ends a curve goes on straight, at most twice as steep as light itself. Luminance lifts highlights and keeps their colour.',
  words: ['contrast', 'tone', 's-curve', 'shadows', 'highlights', 'midtones', 'channels', 'roll off'],
  version: 1,
  editors: [
    {
      kind: 'curves',
      section: 'change',
      holds: ['luminance', 'master', 'red', 'green', 'blue', 'saturation'],
    },
  ],
  values: {
    luminance: curve('Luminance', 'All channels by one factor: hue and saturation stay.'),
    master: curve('Master', 'Each channel by the same curve.'),
    red: curve('Red', 'Red alone.'),
    green: curve('Green', 'Green alone.'),
    blue: curve('Blue', 'Blue alone.'),
    saturation: curve(
      'Saturation',
      'Saturation by luminance.',
      number('ratio', 'change', 'Factor', 'Distance from grey.', 1, { from: 0, to: 8, soft: [0, 2] }),
      {
        identity: { name: 'Straight', rows: [] },
        shadows: {
          name: 'Less in shadows',
          rows: [
            [-8, 0.4],
            [-3, 0.8],
            [0, 1],
            [8, 1],
          ],
        },
        lights: {
          name: 'Less in highlights',
          rows: [
            [-8, 1],
            [0, 1],
            [3, 0.8],
            [8, 0.3],
          ],
        },
      },
    ),
  },
  neutral: (v) => Object.values({ ...v, invert: [] }).every((rows) => (rows as Rows).length === 0),
  program(v): ColourOp[] {
    const ops: ColourOp[] = [];
    if (v.luminance.length > 0) ops.push({ type: 'luminance-curve', curve: tableOf(curveOf(v.luminance)) });
    const channels = [v.red, v.green, v.blue];
    if (v.master.length > 0 || channels.some((rows) => rows.length > 0))
      ops.push({
        type: 'curves',
        curves: [after(v.master, v.red), after(v.master, v.green), after(v.master, v.blue)],
      });
    if (v.saturation.length > 0)
      ops.push({ type: 'saturation-curve', curve: tableOf(factorOf(v.saturation)) });
    return ops;
  },
});
