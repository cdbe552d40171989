import { packCube } from '../core/formats/cube';
import { mixPasses } from '../core/kernels/air';
import { runColour } from '../core/kernels/colour';
import { cover, type Outline } from '../core/kernels/cover';
import { toDisplay } from '../core/kernels/display';
import { convolve, type kernelSpectrum } from '../core/kernels/fourier';
import { exactGaussian, gaussian, gaussianPlane } from '../core/kernels/gaussian';
import { colourKey, type Facing, facingKey, rangeKey } from '../core/kernels/key';
import { addRanked, clean } from '../core/kernels/plane';
import { copy, over } from '../core/kernels/point';
import { sumOfGaussians } from '../core/kernels/pyramid';
import { shrink } from '../core/kernels/sample';
import { dilate, distance, grow } from '../core/kernels/shape';
import type { Workspace } from '../core/kernels/workspace';
import { edgesOf } from '../core/math/path';
import type { Picture } from '../core/picture/picture';
import { stepSpec } from '../core/steps/registry';
import { defaultsOf, type Values } from '../core/steps/shared/define';

export const [width, height] = [1920, 1080];
/** Size of the convolution kernel. */
export const [kw, kh] = [1153, 541];

export type Subject = {
  name: string;
  /** The reference's command and its name. */
  against?: [command: string, name: string];
  goal?: number;
  /** At most as many plain copies of the picture, two threads each, in the same run. */
  copies?: number;
  /** Not bound by memory: two threads should pay. */
  computes?: boolean;
  run(workspace: Workspace, p: Picture, q: Picture, m: Picture, extra: Extra): void;
};
export type Extra = {
  spectrum: ReturnType<typeof kernelSpectrum>;
  ids: Picture[];
  lamps: Picture;
  half: Picture;
  /** Metres: a ground that runs away, sky above it, and columns in front. */
  depth: Picture;
  /** A wheel that turns about the middle, up to 24 pixels a frame; the outside stands still. */
  vectors: Picture;
};

/** Shapes of 20 points that fill a good part of the frame together. */
const fiftyShapes = Array.from({ length: 50 }, (_, k): Outline => {
  const [cx, cy] = [120 + (k % 10) * 186, 110 + Math.floor(k / 10) * 210];
  const points = Array.from({ length: 20 }, (_, i) => {
    const turn = (i / 20) * 2 * Math.PI;
    const [r, pull] = [70 + 30 * Math.sin(3 * turn + k), 12];
    const along: [number, number] = [-Math.sin(turn) * pull, Math.cos(turn) * pull];
    return {
      x: cx + r * Math.cos(turn),
      y: cy + r * Math.sin(turn),
      in: [-along[0], -along[1]] as const,
      out: along,
    };
  });
  return { edges: edgesOf(points), operation: 'add', opacity: 1 };
});
const wide = { low: 0.2, lowSoft: 0.1, high: 0.5, highSoft: 0.1 };
const idBits = Int32Array.from({ length: 8 }, (_, i) => 0x3f000000 + i);
const shot: Facing = {
  measure: 'exact',
  index: 1.5,
  black: 0.1,
  gamma: 1.2,
  invert: false,
  view: { angle: 50 },
};
const mattes: Subject[] = [
  { name: '50 shapes of 20 points', copies: 8, run: (d) => cover(d, width, height, fiftyShapes) },
  {
    name: 'objects, 8 ids of 3 layers',
    copies: 12,
    run: (d, _p, _q, _m, { ids }) => {
      const out = d.blank(width, height, 1);
      for (const layer of ids) addRanked(d, out, layer, [...idBits]);
    },
  },
  { name: 'luminance key', copies: 12, run: (d, p) => rangeKey(d, p, 'luminance', wide) },
  {
    name: 'colour key, 3 samples',
    copies: 12,
    run: (d, p) =>
      colourKey(d, p, {
        samples: [
          [0.5, 0.2, 0.1],
          [0.1, 0.4, 0.2],
          [0.3, 0.3, 0.3],
        ],
        near: 0.1,
        soft: 0.1,
        lightness: 0.5,
      }),
  },
  { name: 'depth band', copies: 12, run: (d, p) => rangeKey(d, p, 'red', wide) },
  { name: 'Fresnel, exact', copies: 7, run: (d, p) => facingKey(d, p, shot) },
  { name: 'matte grown by 20.5', copies: 12, run: (d, _p, _q, m) => grow(d, m, 20.5) },
  {
    name: 'matte feathered by 12',
    copies: 12,
    run: (d, _p, _q, m) => gaussianPlane(d, m, 12, 'continued'),
  },
  {
    name: 'matte cleaned',
    copies: 12,
    run: (d, _p, _q, m) => clean(d, m, 25, false),
  },
];

/** A step as the interface begins it, on the whole picture. */
function runStep(d: Workspace, id: string, p: Picture, slots: Record<string, Picture>, values: Values) {
  const spec = stepSpec(id)!;
  spec.run(d, p, slots, { ...defaultsOf(spec.values), ...values } as never);
}
/** A light step on a picture with lamps. */
const light = (name: string, id: string, copies: number, values: Values = {}): Subject => ({
  name,
  copies,
  run(d, _p, _q, _m, { lamps }) {
    runStep(d, id, lamps, {}, { threshold: 2, ...values });
  },
});
const halfOf = (of: Subject): Subject => ({
  ...of,
  run: (d, p, q, m, extra) => of.run(d, p, q, m, { ...extra, lamps: extra.half }),
});
const lights: Subject[] = [
  light('Glow, σ 24, 2 sizes', 'glow', 10),
  light('Bloom, radius 180', 'bloom', 10, { radius: 180 }),
  light('Glare, full size, spectrum cached', 'glare', 30),
  { ...halfOf(light('', 'glare', 8)), name: 'Glare, half size (copies of the full picture)' },
  light('Spikes, 6 rays', 'spikes', 20),
  light('Diffraction, 6 blades, spectra cached', 'aperture-spikes', 30),
  light('Light rays from a centre', 'light-rays', 50),
  light('Light rays of a far sun', 'light-rays', 50, { source: 'direction' }),
  light('Lens reflections, 5', 'lens-reflections', 30),
];

/** Steps on drawings, on a whole picture that is covered all over: no square of it is empty. The goals are our own. */
const drawings: Subject[] = (
  [
    ['Form shade, edge 14', 'form-shade', 12, { soft: 14 }],
    ['Edge light, width 10', 'edge-light', 12, {}],
    ['Repaint, certain colours', 'repaint', 12, { what: 'colours' }],
    ['Warp, two sizes in each other', 'warp', 40, {}],
  ] as const
).map(([name, id, copies, values]) => ({
  name,
  copies,
  run(d, p, _q, m) {
    runStep(d, id, p, stepSpec(id)!.slots.shape ? { shape: m } : {}, values);
  },
}));

/** Mist on a depth ramp with a step, and a mix of eight passes. */
const airs: Subject[] = [
  {
    name: 'Depth mist',
    copies: 6,
    run(d, p, _q, _m, { depth }) {
      runStep(d, 'depth-mist', p, { depth }, { near: 2, far: 90 });
    },
  },
  {
    name: 'Pass mix, 8 passes',
    copies: 10,
    run(d, p, q, _m, { lamps }) {
      const gains = [0.5, 1, 0.8] as const;
      const passes = [p, q, lamps, p, q, lamps, p, q].map((picture) => ({ picture, gains }));
      mixPasses(d, passes, undefined, false);
    },
  },
];

/** Lens and finish, on the picture with lamps. */
const curve = [
  [-4, -4.4],
  [0, 0.1],
  [4, 4.6],
];
const colours: [string, string, Values][] = [
  ['White balance', 'white-balance', { temperature: 5200 }],
  ['Grade', 'grade', { slopeRed: 1.1, powerGreen: 0.9, saturation: 1.2 }],
  ['Levels', 'levels', { black: 0.01, gamma: 1.1 }],
  ['Curves, luminance', 'curves', { luminance: curve }],
  ['Curves, master and three channels', 'curves', { master: curve, red: curve, green: curve, blue: curve }],
  ['Saturation in OKLCh', 'saturation', {}],
  ['Tone curve', 'tone-curve', {}],
  ['Gain', 'gain', { stops: 0.3 }],
];
const identity = packCube({
  title: '',
  dimensions: 3,
  size: 33,
  low: [0, 0, 0],
  high: [1, 1, 1],
  values: Float32Array.from({ length: 3 * 33 ** 3 }, (_, i) => (Math.floor(i / 3 / 33 ** (i % 3)) % 33) / 32),
});
const finishing = (
  name: string,
  id: string,
  copies: number,
  values: Values = {},
  slots: (extra: { depth: Picture; vectors: Picture }) => Record<string, Picture> = () => ({}),
): Subject => ({
  name,
  copies,
  run(d, _p, _q, _m, extra) {
    runStep(d, id, extra.lamps, slots(extra), values);
  },
});
const lens: Subject[] = [
  ...colours.map(([name, id, values]) => finishing(name, id, 4, values)),
  {
    name: 'These eight as one',
    copies: 8,
    run(d, _p, _q, _m, { lamps }) {
      const program = colours.flatMap(([, id, values], i) => [
        ...(i === 0 ? [] : [{ type: 'between' } as const]),
        ...stepSpec(id)!.program!({ ...defaultsOf(stepSpec(id)!.values), ...values } as never),
      ]);
      runColour(d, lamps, program);
    },
  },
  finishing('Lookup table, 33 a side', 'lookup-table', 6, { table: identity }),
  finishing('Blur, σ 20', 'blur', 9, { radius: 20 }),
  finishing('Sharpen', 'sharpen', 9),
  finishing('Defocus, radius 20, spectrum cached', 'defocus', 30, { radius: 20 }),
  finishing(
    'Defocus by depth, up to 20',
    'defocus',
    90,
    { by: 'lens', focus: 20, focalLength: 85, fNumber: 1.4, most: 20 },
    ({ depth }) => ({ depth }),
  ),
  finishing(
    'Motion smear by vectors',
    'motion-smear',
    40,
    { by: 'vectors', shutter: 360, phase: -180 },
    ({ vectors }) => ({ vectors }),
  ),
  finishing('Fringe, 12 wavelengths', 'fringe', 30),
  finishing('Distortion', 'distortion', 12),
  finishing('Vignette', 'vignette', 4),
  finishing('Grain', 'grain', 10),
];

const seven = Array.from({ length: 7 }, (_, i) => ({ sigma: 48 / 2 ** i, weight: 1 / 7 }));
/** Everything that is timed, in the order of the tables. */
export const subjects: Subject[] = [
  { name: 'copy', against: ['copy', 'NumPy'], run: (d, p) => copy(d, p) },
  { name: 'over', against: ['over', 'NumPy'], run: (d, p, q) => over(d, p, q) },
  {
    name: 'Gaussian σ 20',
    against: ['gaussian', 'OpenCV'],
    goal: 0.12,
    computes: true,
    run: (d, p) => gaussian(d, p, 20, 'continued'),
  },
  {
    name: 'Gaussian σ 20, exact',
    against: ['gaussian', 'OpenCV'],
    computes: true,
    run: (d, p) => exactGaussian(d, p, 20, 'continued'),
  },
  {
    name: 'bloom, 7 Gaussians σ 48 to 0.75',
    against: ['bloom', 'OpenCV'],
    goal: 0.4,
    computes: true,
    run: (d, p) => sumOfGaussians(d, p, seven),
  },
  {
    name: `FFT convolution, kernel ${kw} × ${kh}, spectrum cached`,
    against: ['convolution', 'SciPy'],
    goal: 0.9,
    computes: true,
    run: (d, p, _q, _m, { spectrum }) => convolve(d, p, spectrum),
  },
  {
    name: 'dilation, disc 20',
    against: ['dilation', 'OpenCV'],
    goal: 0.3,
    computes: true,
    run: (d, _p, _q, m) => dilate(d, m, 20),
  },
  {
    name: 'exact distance',
    against: ['distance', 'OpenCV'],
    goal: 1.1,
    computes: true,
    run: (d, _p, _q, m) => distance(d, m),
  },
  ...mattes,
  ...lights,
  ...drawings,
  ...airs,
  ...lens,
  { name: 'to half size, area mean', against: ['shrink', 'OpenCV'], run: (d, p) => shrink(d, p, 0.5) },
  {
    name: 'to 8-bit sRGB, exact',
    against: ['display', 'NumPy'],
    computes: true,
    run: (d, p) => toDisplay(d, p, { look: 'colour', stops: 0 }),
  },
];
