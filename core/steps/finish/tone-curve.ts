import { midGrey } from '../../colour/luminance';
import { scaled } from '../../kernels/colour';
import { defineColourStep } from '../shared/colour-step';
import { number } from '../shared/numbers';

export const toneCurve = defineColourStep({
  id: 'tone-curve',
  name: 'Tone curve',
  stage: 'finish',
  description: 'Brings scene light into the range of a screen. Use it last, for PNG and movies.',
  order: {
    place: 8,
    why: 'it brings finished light to the screen: what comes after works on codes, not on light',
  },
  words: [
    'tonemap',
    'filmic',
    'highlights',
    'compress',
    'hdr',
    'sdr',
    'display transform',
    'tone mapping',
    'roll off',
  ],
  version: 1,
  rare: ['byLuminance'],
  values: {
    curve: {
      type: 'choice',
      section: 'change',
      name: 'Curve',
      description: 'Reinhard and others 2002, extended by a white; or that of Hable 2010, with a toe.',
      options: { reinhard: 'Reinhard', hable: 'Hable' },
      default: 'hable',
    },
    exposure: number('ratio', 'change', 'Exposure', 'Stops before the curve.', 0, {
      from: -20,
      to: 20,
      soft: [-3, 3],
    }),
    white: number('ratio', 'change', 'White point', 'Stops above mid-grey that become white.', 6, {
      from: 2.5,
      to: 20,
      soft: [2.5, 10],
    }),
    byLuminance: number(
      'ratio',
      'change',
      'Hue preservation',
      '1 curves luminance and keeps the colour of lights; 0 curves each channel, so that strong lights turn white.',
      0.4,
      { from: 0, to: 1, soft: [0, 1] },
    ),
  },
  summaryValue: 'white',
  neutral: () => false,
  program(v) {
    const by = 2 ** v.exposure;
    return [
      ...(v.exposure === 0 ? [] : [scaled([by, by, by])]),
      { type: 'tone', curve: v.curve, white: midGrey * 2 ** v.white, byLuminance: v.byLuminance },
    ];
  },
});
