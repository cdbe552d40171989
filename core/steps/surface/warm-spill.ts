import { distance } from '../../kernels/shape';
import { fadeAway, shade } from '../../kernels/surface';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { number } from '../numbers';

export const warmSpill = defineStep({
  id: 'warm-spill',
  name: 'Warm spill',
  stage: 'surface',
  description: 'What a light reaches takes its colour: a gain for each channel, less with the distance.',
  sourceQuestion: 'which light?',
  version: 1,
  slots: {
    light: {
      kind: 'matte',
      section: 'take',
      name: 'Light',
      description:
        'The light whose colour spills: near it most, nothing past its reach. Everywhere if none is chosen.',
    },
    ...keepSlots,
  },
  values: {
    reach: number('px', 'spread', 'Reach', 'How far from the light its colour is seen.', 300, {
      from: 1,
      to: 16384,
      soft: [10, 1200],
    }),
    gains: {
      type: 'colour',
      section: 'spread',
      name: 'Gains',
      description: 'Times red, green and blue: warm where red is above 1 and blue below.',
      default: [1.5, 1.1, 0.75],
    },
    ...keep,
    amount: number('ratio', 'lay', 'Amount', 'From nothing to the whole gains.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'reach',
  neutral: (v) => v.amount === 0 || v.gains.every((g) => g === 1),
  reach: (v) => v.reach + 2,
  run(workspace, picture, { light, where }, v) {
    const near = light && fadeAway(workspace, distance(workspace, light), v.reach);
    return maskedBy(
      workspace,
      picture,
      shade(workspace, picture, near, v.gains, v.amount, 'multiply'),
      where,
      v.invert,
    );
  },
});
