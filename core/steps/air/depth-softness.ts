import { softenInMist } from '../../kernels/air';
import { gaussianReach } from '../../kernels/gaussian';
import { copy } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const depthSoftness = defineStep({
  id: 'depth-softness',
  name: 'Depth softness',
  stage: 'air',
  description: 'Blurs the picture by the density of the mist. What is near stays unchanged.',
  sourceQuestion: 'how dense?',
  words: ['fog', 'haze', 'blur', 'distance', 'soft', 'atmosphere', 'scatter'],
  version: 1,
  slots: {
    density: {
      kind: 'matte',
      section: 'take',
      name: 'Density',
      needed: true,
      description: 'A strand with Mist density. Without one the step changes nothing.',
    },
    ...keepSlots,
  },
  values: {
    radius: number('px', 'spread', 'Radius', 'Standard deviation of the blur where the density is 1.', 4, {
      from: 0,
      to: 256,
      soft: [0, 30],
    }),
    ...keep,
  },
  beginsWith: { slot: 'density', pass: 'depth', through: 'mist-density' },
  summaryValue: 'radius',
  neutral: (v) => v.radius === 0,
  reach: (v) => gaussianReach(v.radius),
  run(workspace, picture, { density, mask }, v) {
    if (!density) return copy(workspace, picture);
    return maskedBy(workspace, picture, softenInMist(workspace, picture, density, v.radius), mask, v.invert);
  },
});
