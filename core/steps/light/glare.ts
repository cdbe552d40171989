import { convolve, keptSpectrum, squareSpectrum } from '../../kernels/fourier';
import { frameOf } from '../../kernels/workspace';
import { arctan, cosTurns, sinTurns } from '../../math/elementary';
import { filmLaws } from '../../optics/film';
import { glareLaws, glareModels, glarePlanes } from '../../optics/glare';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { number } from '../shared/numbers';
import { lightStart } from '../shared/start';
import { take, takeEditor, takeSlots, tint } from './take';

/** How far light is carried, as a part of the frame's width. */
const reachShare = 0.22;
/** Light that lands this close to where it came from, as a part of the frame's width, is not added: it is the picture itself. */
const coreShare = 0.5 / 1920;

export const glare = defineStep({
  id: 'glare',
  name: 'Glare',
  stage: 'light',
  description: 'Scattered light by published models of the eye, or of dust on glass.',
  words: ['scatter', 'veil', 'eye', 'halo', 'corona', 'ciliary', 'dazzle', 'haze', 'dust', 'dirty lens'],
  version: 3,
  rare: ['age', 'eyePigmentation', 'particleSize', 'sizeVariation', 'view'],
  slots: { ...takeSlots, ...keepSlots },
  values: {
    ...take,
    threshold: { ...take.threshold, default: 0 },
    knee: { ...take.knee, default: 0 },
    model: {
      type: 'choice',
      section: 'spread',
      name: 'Model',
      description:
        'Published scattering model: CIE 135 or CIE 146 by age, the eye in three states of adaptation, or a film of dust.',
      options: { ...glareModels, film: 'Dust on glass' },
      default: 'cie',
    },
    age: number('ratio', 'spread', 'Age', 'Age of the observer in years. Older eyes scatter more.', 35, {
      from: 5,
      to: 90,
      soft: [15, 85],
      onlyIf: ['model', 'cie', 'cie146'],
    }),
    eyePigmentation: number('ratio', 'spread', 'Eye pigmentation', '0 dark, 0.5 brown, 1 light blue.', 0.5, {
      from: 0,
      to: 1.2,
      soft: [0, 1],
      onlyIf: ['model', 'cie', 'cie146'],
    }),
    particleSize: number(
      'ratio',
      'spread',
      'Particle size',
      'Diameter in micrometres. Smaller particles scatter wider.',
      14,
      {
        from: 2,
        to: 100,
        soft: [4, 60],
        onlyIf: ['model', 'film'],
      },
    ),
    sizeVariation: number(
      'ratio',
      'spread',
      'Size variation',
      'Spread of the particle sizes. Equal sizes give clear rings.',
      0.12,
      {
        from: 0,
        to: 0.45,
        soft: [0, 0.45],
        onlyIf: ['model', 'film'],
      },
    ),
    view: number(
      'degrees',
      'spread',
      'Angle of view',
      'Horizontal angle of view of the camera. A narrow view shows a wide glare.',
      54,
      { from: 1, to: 170, soft: [5, 120] },
    ),
    tint,
    ...keep,
    ...lay,
    amount: {
      ...lay.amount,
      default: 0.12,
      description: 'Share of the light that is scattered. An eye scatters about a tenth.',
      soft: [0, 1],
    },
  },
  editors: [takeEditor, { kind: 'glare', section: 'spread' }],
  summaryValue: 'model',
  start: lightStart,
  neutral: addsNothing,
  // A part of the picture needs a good part of its width around it: all of it, mostly.
  reach: () => Number.POSITIVE_INFINITY,
  run(workspace, picture, slots, v) {
    return lightStep(workspace, picture, slots, v, v.tint, (taken) => {
      const { width, height } = picture;
      const frame = frameOf(workspace, picture);
      const radius = Math.max(4, Math.round(frame.width * reachShare));
      const tangent = sinTurns(v.view / 720) / cosTurns(v.view / 720);
      const key = JSON.stringify([
        v.model,
        v.age,
        v.eyePigmentation,
        v.particleSize,
        v.sizeVariation,
        v.view,
        radius,
        width,
        height,
      ]);
      const spectrum = keptSpectrum(workspace.runtime, key, () => {
        const perPixel = (2 * tangent) / frame.width;
        const furthest = (arctan(radius * perPixel) * 180) / Math.PI;
        const laws = v.model === 'film' ? filmLaws(v, furthest) : glareLaws({ ...v, model: v.model });
        return squareSpectrum(
          workspace,
          glarePlanes(laws, radius, perPixel, frame.width * coreShare),
          width,
          height,
        );
      });
      return convolve(workspace, taken, spectrum);
    });
  },
});
