import { convolve, keptSpectrum, squareSpectrum } from '../../kernels/fourier';
import { aperturePlanes } from '../../optics/aperture';
import { defineStep } from '../shared/define';
import { addsNothing, keep, keepSlots, lay, lightStep } from '../shared/lay';
import { angle, number, seed } from '../shared/numbers';
import { lightStart } from '../shared/start';
import { take, takeEditor, takeSlots, tint } from './take';

const share = (name: string, description: string, initial: number) =>
  number('ratio', 'spread', name, description, initial, { from: 0, to: 1, soft: [0, 1] });

export const apertureSpikes = defineStep({
  id: 'aperture-spikes',
  name: 'Diffraction',
  stage: 'light',
  description: 'Diffraction of light at the blades of a diaphragm, in spectral colour.',
  words: ['star', 'sunstar', 'starburst', 'aperture', 'diaphragm', 'spectrum', 'rainbow', 'flare', 'iris'],
  version: 1,
  rare: ['dust', 'seed', 'curvature'],
  slots: { ...takeSlots, ...keepSlots },
  values: {
    ...take,
    threshold: { ...take.threshold, default: 4 },
    blades: number(
      'ratio',
      'spread',
      'Blades',
      'An even number gives as many spikes, an odd number twice as many.',
      6,
      { from: 3, to: 16, soft: [3, 11], whole: true },
    ),
    rotate: angle('spread', 'Rotate', 'Rotation of the diaphragm, counter-clockwise.', 10, {
      soft: [-90, 90],
    }),
    size: number('px', 'spread', 'Size', 'Length of the spikes.', 220, {
      from: 8,
      to: 800,
      soft: [20, 500],
    }),
    curvature: share('Blade curvature', 'Rounder blades give fainter spikes and clearer rings.', 0.1),
    dust: share('Dust', 'Specks on the glass that break up the spikes.', 0.15),
    seed: seed('Selects other specks.'),
    tint,
    ...keep,
    ...lay,
    amount: { ...lay.amount, default: 0.6 },
  },
  editors: [takeEditor],
  summaryValue: 'blades',
  start: lightStart,
  neutral: addsNothing,
  reach: (v) => v.size + 2,
  run(workspace, picture, slots, v) {
    return lightStep(workspace, picture, slots, v, v.tint, (taken) => {
      const { width, height } = picture;
      const radius = Math.max(4, Math.round(v.size));
      const of = JSON.stringify([v.blades, v.rotate, v.curvature, v.dust, v.seed, radius, width, height]);
      const spectrum = keptSpectrum(workspace.runtime, of, () =>
        squareSpectrum(workspace, aperturePlanes(workspace, v, radius), width, height),
      );
      return convolve(workspace, taken, spectrum);
    });
  },
});
