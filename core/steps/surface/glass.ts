import { mix } from '../../kernels/join';
import { weightedSum } from '../../kernels/point';
import { shade } from '../../kernels/surface';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { regionMatte, regionValues } from './regions';

export const glass = defineStep({
  id: 'glass',
  name: 'Glass',
  stage: 'surface',
  description: 'Makes parts of sampled colours transparent, like tinted glass.',
  sourceQuestion: 'which colours?',
  words: ['transparent', 'translucent', 'tinted', 'window', 'see through'],
  version: 1,
  slots: keepSlots,
  values: {
    ...regionValues([[0.35, 0.6, 0.65]]),
    transmittance: number(
      'ratio',
      'spread',
      'Transmittance',
      'Share of the light from behind that passes through.',
      0.7,
      {
        from: 0,
        to: 1,
        soft: [0, 1],
      },
    ),
    tint: {
      type: 'colour',
      section: 'spread',
      name: 'Tint',
      description: 'Multiplies the remaining colour.',
      default: [1, 1, 1],
    },
    ...keep,
  },
  summaryValue: 'transmittance',
  neutral: () => false,
  reach: () => 0,
  run(workspace, picture, { mask }, v) {
    const left = shade(workspace, picture, undefined, v.tint, 1, 'multiply');
    const thin = weightedSum(workspace, left, 1 - v.transmittance, left, 0);
    const glazed = mix(workspace, picture, thin, {
      mask: regionMatte(workspace, picture, v),
      invert: false,
      amount: 1,
    });
    return maskedBy(workspace, picture, glazed, mask, v.invert);
  },
});
