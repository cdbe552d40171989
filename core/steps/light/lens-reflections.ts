import { convolve, keptSpectrum, squareSpectrum } from '../../kernels/fourier';
import { addThrown, resample, shrink } from '../../kernels/sample';
import { frameOf } from '../../kernels/workspace';
import type { Rgb } from '../../math/rgb';
import { aperturePlane } from '../../optics/aperture';
import type { Picture } from '../../picture/picture';
import { defineStep, type NumberSpec, type RowsSpec } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { angle, number } from '../shared/numbers';
import { lightStart } from '../shared/start';
import { take, takeEditor, takeSlots } from './take';

const column = (
  name: string,
  description: string,
  of: Partial<NumberSpec> & { default: number },
): NumberSpec => ({
  type: 'number',
  section: 'spread',
  name,
  description: description,
  unit: 'ratio',
  from: 0,
  to: 1,
  soft: [0, 1],
  ...of,
});

const columns = {
  scale: column('Scale', 'Of the mirrored image about the middle: −1 is the light itself turned around.', {
    default: -0.5,
    from: -20,
    to: 20,
    soft: [-2, 2],
  }),
  size: column('Size', 'Of the opening that each point becomes, as a part of the picture’s width.', {
    default: 0.03,
    to: 0.25,
    soft: [0, 0.15],
  }),
  gain: column('Gain', 'How bright it is.', { default: 1, to: 100, soft: [0, 4] }),
  red: column('Red', 'Of its tint.', { default: 1, to: 4, soft: [0, 2] }),
  green: column('Green', 'Of its tint.', { default: 1, to: 4, soft: [0, 2] }),
  blue: column('Blue', 'Of its tint.', { default: 1, to: 4, soft: [0, 2] }),
  soft: column('Softness', 'Of the opening’s edge: 0 sharp, 1 all edge.', { default: 0.2 }),
  fringe: column('Fringe', 'How much larger its red image is than its blue one.', {
    default: 0.02,
    to: 0.5,
    soft: [0, 0.2],
  }),
} as const;
type Reflection = Record<keyof typeof columns, number>;

const rows = (list: number[][]) => list;
/** Zafiro’s own starting sets; all made up. */
const sets = {
  quiet: {
    name: 'Two faint',
    rows: rows([
      [-0.6, 0.02, 0.8, 1, 0.85, 0.6, 0.3, 0.02],
      [-1.3, 0.06, 0.5, 0.6, 0.8, 1, 0.5, 0.04],
    ]),
  },
  row: {
    name: 'A row through the middle',
    rows: rows([
      [-0.25, 0.012, 1, 1, 0.8, 0.5, 0.2, 0.02],
      [-0.55, 0.03, 0.8, 0.7, 1, 0.8, 0.2, 0.03],
      [-0.9, 0.018, 1, 0.6, 0.8, 1, 0.2, 0.03],
      [-1.5, 0.07, 0.6, 1, 0.75, 0.9, 0.4, 0.06],
      [0.35, 0.022, 0.7, 0.8, 1, 0.7, 0.3, 0.02],
    ]),
  },
  veil: {
    name: 'A wide veil',
    rows: rows([
      [-2.4, 0.16, 0.8, 0.9, 0.8, 1, 0.8, 0.1],
      [-0.8, 0.1, 0.5, 1, 0.7, 0.5, 0.9, 0.08],
    ]),
  },
};

/** Reflections are soft: they are worked out on pictures this wide, and made as large as the frame at the end. */
const working = 640;

export const lensReflections = defineStep({
  id: 'lens-reflections',
  name: 'Lens reflections',
  stage: 'light',
  description: 'Reflections of bright lights between lens surfaces, in line with the picture’s centre.',
  words: ['ghosts', 'flare', 'reflections', 'sun', 'iris', 'hexagons', 'lens flare'],
  version: 1,
  rare: ['rotate', 'curvature'],
  slots: { ...takeSlots, ...keepSlots },
  values: {
    ...take,
    threshold: { ...take.threshold, default: 4 },
    list: {
      type: 'rows',
      section: 'spread',
      name: 'Reflections',
      description: 'Each row is one image of the light.',
      columns,
      sets,
      default: sets.row.rows,
      most: 12,
    } as const satisfies RowsSpec,
    blades: number('ratio', 'spread', 'Blades', 'Number of blades of the diaphragm.', 7, {
      from: 3,
      to: 16,
      soft: [3, 11],
      whole: true,
    }),
    rotate: angle('spread', 'Rotate', 'Rotation of the diaphragm.', 8, { soft: [-90, 90] }),
    curvature: column('Blade curvature', 'Curvature of the blades.', { default: 0.3 }),
    ...keep,
    ...lay,
    amount: { ...lay.amount, default: 0.3 },
  },
  editors: [takeEditor],
  summaryValue: 'list',
  start: lightStart,
  neutral: (v) => addsNothing(v) || v.list.length === 0,
  reach: () => Number.POSITIVE_INFINITY,
  run(workspace, picture, slots, v) {
    return lightStep(workspace, picture, slots, v, [1, 1, 1], (taken) => {
      const frame = frameOf(workspace, picture);
      const scale = Math.min(1, working / frame.width);
      const small = scale < 1 ? shrink(workspace, taken, scale) : taken;
      const names = Object.keys(columns) as (keyof Reflection)[];
      const sum = workspace.blank(small.width, small.height);
      for (const numbers of v.list) {
        workspace.runtime.checkpoint();
        const r = Object.fromEntries(
          names.map((n, i) => [n, numbers[i] ?? columns[n].default]),
        ) as Reflection;
        if (r.gain === 0 || Math.abs(r.scale) < 1e-3) continue;
        const image = shaped(r);
        // Each colour is thrown a little differently; a larger image is fainter.
        const scales = [1 + r.fringe / 2, 1, 1 - r.fringe / 2].map((by) => r.scale * by);
        const gain = r.gain / Math.max(1, r.scale * r.scale);
        const gains = [r.red, r.green, r.blue].map((c) => c * gain);
        addThrown(workspace, sum, image, scales as unknown as Rgb, gains as unknown as Rgb);
        workspace.drop(image);
      }
      return small === taken ? sum : enlarged(sum);

      /** The small picture with an opening in place of each point. */
      function shaped(r: Reflection): Picture {
        const radius = Math.max(1, Math.round((r.size * small.width) / Math.max(0.05, Math.abs(r.scale))));
        const side = 2 * Math.min(radius, 240) + 1;
        // Made smaller, its edge must still be wider than a pixel.
        const edge = Math.max(r.soft, 2.5 / Math.min(1, Math.abs(r.scale)) / radius);
        const { blades, rotate, curvature } = v;
        const key = JSON.stringify([
          'opening',
          blades,
          rotate,
          curvature,
          side,
          edge,
          small.width,
          small.height,
        ]);
        const spectrum = keptSpectrum(workspace.runtime, key, () => {
          const open = aperturePlane({ blades, rotate, curvature, dust: 0, seed: 0 }, side, edge);
          const area = open.reduce((a, b) => a + b, 0) || 1;
          return squareSpectrum(
            workspace,
            open.map((o) => o / area),
            small.width,
            small.height,
          );
        });
        return convolve(workspace, small, spectrum);
      }

      /** As large as the frame, its middle in the middle. */
      function enlarged(from: Picture): Picture {
        const { width, height } = picture;
        const [kx, ky] = [from.width / width, from.height / height];
        const m = { a: kx, b: 0, c: (kx - 1) / 2, d: 0, e: ky, f: (ky - 1) / 2 };
        return resample(workspace, from, width, height, m, 'bilinear');
      }
    });
  },
});
