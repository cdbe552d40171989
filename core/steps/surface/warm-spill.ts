import { distance } from '../../kernels/shape';
import { fadeAway, shade } from '../../kernels/surface';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const warmSpill = defineStep({
  id: 'warm-spill',
  name: 'Warm spill',
  stage: 'surface',
  description: 'Colours what a light reaches, by a gain for each channel that fades with the distance.',
  sourceQuestion: 'which light?',
  words: ['warm', 'ambient', 'reflect', 'nearby', 'bounce light', 'colour cast'],
  version: 1,
  slots: {
    light: {
      kind: 'matte',
      section: 'take',
      name: 'Light',
      description: 'The light whose colour spills. Without one the gains apply everywhere.',
    },
    ...keepSlots,
  },
  values: {
    reach: number('px', 'spread', 'Reach', 'Distance from the light at which the spill is 0.', 300, {
      from: 1,
      to: 16384,
      soft: [10, 1200],
    }),
    gains: {
      type: 'colour',
      section: 'spread',
      name: 'Gains',
      description: 'Gains of red, green and blue. Red above 1 and blue below 1 is warm.',
      default: [1.5, 1.1, 0.75],
    },
    ...keep,
    amount: number('ratio', 'lay', 'Amount', 'Blend from no gain to the full gains.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'reach',
  neutral: (v) => v.amount === 0 || v.gains.every((g) => g === 1),
  reach: (v) => v.reach + 2,
  run(workspace, picture, { light, mask }, v) {
    const near = light && fadeAway(workspace, distance(workspace, light), v.reach);
    return maskedBy(
      workspace,
      picture,
      shade(workspace, picture, near, v.gains, v.amount, 'multiply'),
      mask,
      v.invert,
    );
  },
});
