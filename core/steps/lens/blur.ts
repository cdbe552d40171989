import { type BlurEdge, blurred } from '../../kernels/blur';
import { gaussianReach } from '../../kernels/gaussian';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

const sigma = (name: string, description: string, onlyIf?: readonly [string, ...string[]]) =>
  number('px', 'change', name, description, 2, { from: 0, to: 1024, soft: [0, 60], onlyIf });

export const blur = defineStep({
  id: 'blur',
  name: 'Blur',
  stage: 'lens',
  description: 'A Gaussian. A very slight one at the end makes everything sit together.',
  words: ['soften', 'soft', 'gaussian', 'smooth', 'unsharp', 'out of focus'],
  version: 1,
  rare: ['edge'],
  anywhere: true,
  slots: keepSlots,
  values: {
    radius: sigma('Radius', 'Standard deviation, along x where both differ.'),
    apart: {
      type: 'toggle',
      section: 'change',
      name: 'Separate y',
      description: 'Blurs along y by a radius of its own.',
      default: false,
    },
    radiusY: sigma('Radius along y', 'Standard deviation.', ['apart', 'true']),
    edge: {
      type: 'choice',
      section: 'change',
      name: 'Edges',
      description: 'What comes in from beyond the borders.',
      options: { continued: 'Border repeated', mirrored: 'Mirrored', black: 'Black' },
      default: 'continued',
    },
    ...keep,
  },
  summaryValue: 'radius',
  neutral: (v) => v.radius === 0 && (!v.apart || v.radiusY === 0),
  reach: (v) => gaussianReach(Math.max(v.radius, v.apart ? v.radiusY : 0)),
  run(workspace, picture, { mask }, v) {
    const soft = blurred(workspace, picture, v.radius, v.apart ? v.radiusY : v.radius, v.edge as BlurEdge);
    return maskedBy(workspace, picture, soft, mask, v.invert);
  },
});
