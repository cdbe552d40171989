import { softenInMist } from '../../kernels/air';
import { copy } from '../../kernels/point';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { number } from '../numbers';

export const depthSoftness = defineStep({
  id: 'depth-softness',
  name: 'Depth softness',
  stage: 'air',
  description:
    'What lies in mist is a little softer, the more the denser it is; what is near stays bit for bit.',
  sourceQuestion: 'how dense is it?',
  version: 1,
  slots: {
    density: {
      kind: 'matte',
      section: 'take',
      name: 'Density',
      description: 'Of the mist: a strand with Mist density on the depth pass. Without one nothing happens.',
    },
    ...keepSlots,
  },
  values: {
    radius: number('px', 'spread', 'Radius', 'Standard deviation of the blur in the densest mist.', 4, {
      from: 0,
      to: 256,
      soft: [0, 30],
    }),
    ...keep,
  },
  summaryValue: 'radius',
  neutral: (v) => v.radius === 0,
  reach: (v) => 4 * v.radius + 2,
  run(workspace, picture, { density, where }, v) {
    if (!density) return copy(workspace, picture);
    return maskedBy(workspace, picture, softenInMist(workspace, picture, density, v.radius), where, v.invert);
  },
});
