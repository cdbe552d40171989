import { type Mist, type MistDensity, mistCurves, mistDensity } from '../../kernels/air';
import { cosTurns, sinTurns } from '../../kernels/elementary';
import type { Workspace } from '../../kernels/workspace';
import type { Picture } from '../../picture/picture';
import type { NumberSpec, RowsSpec, SlotSpec, ValueSpec, ValuesOf } from '../define';
import { angle, number, seed } from '../numbers';

/** Slots and values of how dense mist is, shared by the steps of air. */

/** At the visibility V contrast has fallen to 2 %: V = −ln(0.02)/β (Koschmieder 1924). */
export const koschmieder = 3.912023005428146;

export const densitySlots = {
  positions: {
    kind: 'data',
    section: 'spread',
    name: 'Positions',
    description: 'The position pass, for mist that lies on the ground and thins with height.',
  },
} as const satisfies Record<string, SlotSpec>;

const far = 1e6;
const depth = (name: string, description: string, initial: number) =>
  number('scene', 'take', name, description, initial, { from: -far, to: far, soft: [0, 100] });
const share = (
  section: NumberSpec['section'],
  name: string,
  description: string,
  initial: number,
  zeroLabel?: string,
) =>
  number('ratio', section, name, description, initial, {
    from: 0,
    to: 1,
    soft: [0, 1],
    ...(zeroLabel ? { zeroLabel } : {}),
  });

const stops = {
  type: 'rows',
  section: 'spread',
  name: 'Stops',
  description: 'From near (0) to far (1): how much of the density counts there, and the colour of the mist.',
  columns: {
    at: share('spread', 'Place', 'From near to far.', 0.5),
    density: share('spread', 'Density', 'How much of the density counts here.', 1),
    red: number('light', 'spread', 'Red', 'Of the mist, scene-linear.', 0.5, {
      from: 0,
      to: 1000,
      soft: [0, 2],
    }),
    green: number('light', 'spread', 'Green', 'Of the mist, scene-linear.', 0.55, {
      from: 0,
      to: 1000,
      soft: [0, 2],
    }),
    blue: number('light', 'spread', 'Blue', 'Of the mist, scene-linear.', 0.62, {
      from: 0,
      to: 1000,
      soft: [0, 2],
    }),
  },
  // They are edited on the histogram, which begins with its own.
  sets: {},
  default: [
    [0, 1, 0.5, 0.55, 0.62],
    [1, 1, 0.5, 0.55, 0.62],
  ],
  most: 12,
} as const satisfies RowsSpec;

export const densityValues = {
  reads: {
    type: 'choice',
    section: 'take',
    name: 'Reads',
    description: 'Distances in scene units, or a mist pass that runs from 0 to 1.',
    options: { depth: 'Depth', mist: 'A mist pass, 0 to 1' },
    default: 'depth',
  },
  near: { ...depth('Near', 'Up to here the air is clear.', 0), onlyIf: ['reads', 'depth'] },
  far: { ...depth('Far', 'From here on it is as dense as it gets.', 100), onlyIf: ['reads', 'depth'] },
  curve: {
    type: 'choice',
    section: 'spread',
    name: 'Thickens',
    description:
      'How it becomes denser from near to far: x, x²(3 − 2x), x², 1 − (1 − x)², or 1 − e^(−β·distance) past far too.',
    options: mistCurves,
    default: 'exponential',
  },
  by: {
    type: 'choice',
    section: 'spread',
    name: 'Air by',
    description: 'Its extinction, or how far one sees in it (contrast of 2 %, Koschmieder).',
    options: { visibility: 'Visibility', extinction: 'Extinction' },
    default: 'visibility',
    onlyIf: ['curve', 'exponential'],
  },
  visibility: {
    ...number('scene', 'spread', 'Visibility', 'How far one sees, in scene units.', 60, {
      from: 1e-3,
      to: far,
      soft: [1, 500],
    }),
    onlyIf: ['by', 'visibility'],
  },
  extinction: {
    ...number('ratio', 'spread', 'Extinction', 'β, in 1/scene unit.', 0.065, {
      from: 0,
      to: 1000,
      soft: [0, 1],
    }),
    onlyIf: ['by', 'extinction'],
  },
  turned: {
    type: 'toggle',
    section: 'spread',
    name: 'Turned around',
    description: 'Dense near, clear far.',
    default: false,
  },
  stops,
  cap: share('spread', 'At most', 'The most that it ever covers.', 1),
  sky: share('spread', 'Sky', 'How dense it is where depth is endless, or not a number.', 0.8),
  base: {
    ...number('scene', 'spread', 'Ground', 'Height up to which it is as dense as elsewhere.', 0, {
      from: -far,
      to: far,
      soft: [-10, 50],
    }),
  },
  fall: number(
    'scene',
    'spread',
    'Height',
    'Above the ground it thins to 37 % over this height. Needs positions.',
    10,
    {
      from: 1e-3,
      to: far,
      soft: [0.1, 50],
    },
  ),
  up: {
    type: 'choice',
    section: 'spread',
    name: 'Up is',
    description: 'The axis of the positions that points upwards.',
    options: { y: 'y', z: 'z', x: 'x' },
    default: 'y',
  },
  drifts: share('spread', 'Drifts', 'How much noise thins it.', 0, 'none'),
  size: number('px', 'spread', 'Swaths', 'How wide they are.', 260, { from: 2, to: 8192, soft: [20, 1000] }),
  wind: number('px', 'spread', 'Wind', 'How far they move from frame to frame.', 2, {
    from: -512,
    to: 512,
    soft: [-20, 20],
  }),
  windAngle: angle('spread', 'Wind to', 'Counter-clockwise from the right.', 0),
  change: number(
    'ratio',
    'spread',
    'Change',
    'How much the noise becomes another from frame to frame.',
    0.03,
    {
      from: 0,
      to: 4,
      soft: [0, 0.3],
    },
  ),
  seed: seed('Another number, other swaths.'),
} as const satisfies Record<string, ValueSpec>;

export type Density = ValuesOf<typeof densityValues>;

export const drifting = (v: Density) => v.drifts > 0 && (v.wind !== 0 || v.change !== 0);

/** The veil that the values say, over a depth or a mist pass. */
export function mistDensityOf(
  workspace: Workspace,
  depth: Picture,
  { positions, colour }: { positions?: Picture; colour?: Picture },
  v: Density,
  amount: number,
  frame: number,
): MistDensity {
  const [near, far] = v.reads === 'mist' ? [0, 1] : [v.near, v.far];
  const along = v.wind * frame;
  const mist: Mist = {
    near,
    far,
    curve: v.curve,
    beta: v.by === 'visibility' ? koschmieder / v.visibility : v.extinction,
    turned: v.turned,
    stops: (v.stops.length > 0 ? v.stops : stops.default).map(([at, density, r, g, b]) => ({
      at,
      density,
      colour: [r, g, b],
    })),
    cap: v.cap,
    sky: v.sky,
    amount,
    colour,
    ...(positions
      ? {
          height: {
            positions,
            base: v.base,
            fall: v.fall,
            up: (['x', 'y', 'z'] as const).indexOf(v.up) as 0 | 1 | 2,
          },
        }
      : {}),
    ...(v.drifts > 0
      ? {
          noise: {
            share: v.drifts,
            size: v.size,
            moved: [cosTurns(v.windAngle / 360) * along, -sinTurns(v.windAngle / 360) * along] as const,
            phase: v.change * frame,
            seed: v.seed,
          },
        }
      : {}),
  };
  return mistDensity(workspace, depth, mist);
}

/** Density at a depth, without stops, height and noise, for the plot of it. */
export function densityAt(
  v: Pick<Density, 'near' | 'far' | 'curve' | 'by' | 'visibility' | 'extinction' | 'turned' | 'cap'>,
  z: number,
) {
  const x = Math.min(1, Math.max(0, (z - v.near) / Math.max(1e-6, v.far - v.near)));
  const beta = v.by === 'visibility' ? koschmieder / v.visibility : v.extinction;
  const curves = {
    linear: x,
    smooth: x * x * (3 - 2 * x),
    squared: x * x,
    early: 1 - (1 - x) ** 2,
    exponential: 1 - Math.exp(-beta * Math.max(0, z - v.near)),
  };
  const f = curves[v.curve];
  return Math.min(v.cap, v.turned ? 1 - f : f);
}
