import { type Mist, type MistDensity, mistCurves, mistDensity } from '../../kernels/air';
import type { Workspace } from '../../kernels/workspace';
import { cosTurns, sinTurns } from '../../math/elementary';
import type { Picture } from '../../picture/picture';
import type { NumberSpec, RowsSpec, SlotSpec, ValueSpec, ValuesOf } from '../shared/define';
import { angle, number, seed } from '../shared/numbers';

/** Slots and values of how dense mist is, shared by the steps of air. */

/**
 * At the visibility V contrast has fallen to 2 %: V = −ln(0.02)/β (Koschmieder 1924). At the meteorological optical range a beam's light has fallen
 * to 5 %: −ln(0.05)/β (WMO, *Guide to Instruments and Methods of Observation*, part I, ch. 9).
 */
export const koschmieder = 3.912023005428146;
const opticalRange = 2.995732273553991;

export const densitySlots = {
  positions: {
    kind: 'data',
    section: 'spread',
    name: 'Positions',
    description: 'The position pass, for mist near the ground that thins with height.',
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
  description: 'Density factor and colour of the mist, from near (0) to far (1).',
  columns: {
    at: share('spread', 'Position', 'From near to far.', 0.5),
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
  input: {
    type: 'choice',
    section: 'take',
    name: 'Input',
    description: 'A depth pass in scene units, or a mist pass from 0 to 1.',
    options: { depth: 'Depth', mist: 'Mist pass, 0 to 1' },
    default: 'depth',
  },
  near: { ...depth('Near', 'Depth up to which the air is clear.', 0), onlyIf: ['input', 'depth'] },
  far: {
    ...depth('Far', 'Depth from which the density is at its maximum.', 100),
    onlyIf: ['input', 'depth'],
  },
  curve: {
    type: 'choice',
    section: 'spread',
    name: 'Falloff',
    description:
      'Density from near to far: x, x²(3 − 2x), x², 1 − (1 − x)², or 1 − e^(−β·distance), which continues past far.',
    options: mistCurves,
    default: 'exponential',
  },
  air: {
    type: 'choice',
    section: 'spread',
    name: 'Air given by',
    description:
      'The visibility (contrast of 2 %, Koschmieder), the meteorological optical range (5 %, WMO), or the extinction coefficient.',
    options: { visibility: 'Visibility, 2 %', range: 'Optical range, 5 %', extinction: 'Extinction' },
    default: 'visibility',
    onlyIf: ['curve', 'exponential'],
  },
  visibility: {
    ...number(
      'scene',
      'spread',
      'Visibility',
      'Distance at which contrast falls to 2 % or 5 %, in scene units.',
      60,
      {
        from: 1e-3,
        to: far,
        soft: [1, 500],
      },
    ),
    onlyIf: ['air', 'visibility', 'range'],
  },
  extinction: {
    ...number('ratio', 'spread', 'Extinction', 'Extinction coefficient β, per scene unit.', 0.065, {
      from: 0,
      to: 1000,
      soft: [0, 1],
    }),
    onlyIf: ['air', 'extinction'],
  },
  invertDepth: {
    type: 'toggle',
    section: 'spread',
    name: 'Invert',
    description: 'Dense near the camera, clear far away.',
    default: false,
  },
  stops,
  maximumDensity: share('spread', 'Maximum density', 'Upper bound of the density.', 1),
  sky: share('spread', 'Sky', 'Density where depth is infinite or not a number.', 0.8),
  groundHeight: {
    ...number('scene', 'spread', 'Ground height', 'Height up to which the density is unchanged.', 0, {
      from: -far,
      to: far,
      soft: [-10, 50],
    }),
  },
  heightFalloff: number(
    'scene',
    'spread',
    'Height falloff',
    'Height above the ground over which the density falls to 37 %. Needs positions.',
    10,
    {
      from: 1e-3,
      to: far,
      soft: [0.1, 50],
    },
  ),
  upAxis: {
    type: 'choice',
    section: 'spread',
    name: 'Up axis',
    description: 'Axis of the positions that points up.',
    options: { y: 'y', z: 'z', x: 'x' },
    default: 'y',
  },
  noiseAmount: share('spread', 'Noise amount', 'How much the noise thins the mist.', 0, 'none'),
  noiseSize: number('px', 'spread', 'Noise size', 'Width of the noise’s features.', 260, {
    from: 2,
    to: 8192,
    soft: [20, 1000],
  }),
  noiseSpeed: number('px', 'spread', 'Noise speed', 'Movement of the noise per frame.', 2, {
    from: -512,
    to: 512,
    soft: [-20, 20],
  }),
  noiseDirection: angle('spread', 'Noise direction', 'Counter-clockwise from the right.', 0),
  noiseEvolution: number('ratio', 'spread', 'Noise evolution', 'Change of the noise per frame.', 0.03, {
    from: 0,
    to: 4,
    soft: [0, 0.3],
  }),
  seed: seed('Selects another noise.'),
} as const satisfies Record<string, ValueSpec>;

export type Density = ValuesOf<typeof densityValues>;

/** The extinction coefficient β in 1/scene unit. */
const extinctionOf = (v: Pick<Density, 'air' | 'visibility' | 'extinction'>): number =>
  v.air === 'extinction' ? v.extinction : (v.air === 'range' ? opticalRange : koschmieder) / v.visibility;

export const drifting = (v: Density) => v.noiseAmount > 0 && (v.noiseSpeed !== 0 || v.noiseEvolution !== 0);

/** The density of mist that the values give, over a depth or a mist pass. */
export function mistDensityOf(
  workspace: Workspace,
  depth: Picture,
  { positions, colour }: { positions?: Picture; colour?: Picture },
  v: Density,
  amount: number,
  frame: number,
): MistDensity {
  const [near, far] = v.input === 'mist' ? [0, 1] : [v.near, v.far];
  const along = v.noiseSpeed * frame;
  const mist: Mist = {
    near,
    far,
    curve: v.curve,
    beta: extinctionOf(v),
    turned: v.invertDepth,
    stops: (v.stops.length > 0 ? v.stops : stops.default).map(([at, density, r, g, b]) => ({
      at,
      density,
      colour: [r, g, b],
    })),
    cap: v.maximumDensity,
    sky: v.sky,
    amount,
    colour,
    ...(positions
      ? {
          height: {
            positions,
            base: v.groundHeight,
            fall: v.heightFalloff,
            up: (['x', 'y', 'z'] as const).indexOf(v.upAxis) as 0 | 1 | 2,
          },
        }
      : {}),
    ...(v.noiseAmount > 0
      ? {
          noise: {
            share: v.noiseAmount,
            size: v.noiseSize,
            moved: [
              cosTurns(v.noiseDirection / 360) * along,
              -sinTurns(v.noiseDirection / 360) * along,
            ] as const,
            phase: v.noiseEvolution * frame,
            seed: v.seed,
          },
        }
      : {}),
  };
  return mistDensity(workspace, depth, mist);
}

/** Density at a depth, without stops, height and noise, for the plot of it. */
export function densityAt(
  v: Pick<
    Density,
    'near' | 'far' | 'curve' | 'air' | 'visibility' | 'extinction' | 'invertDepth' | 'maximumDensity'
  >,
  z: number,
) {
  const x = Math.min(1, Math.max(0, (z - v.near) / Math.max(1e-6, v.far - v.near)));
  const beta = extinctionOf(v);
  const curves = {
    linear: x,
    smooth: x * x * (3 - 2 * x),
    squared: x * x,
    early: 1 - (1 - x) ** 2,
    exponential: 1 - Math.exp(-beta * Math.max(0, z - v.near)),
  };
  const f = curves[v.curve];
  return Math.min(v.maximumDensity, v.invertDepth ? 1 - f : f);
}
