import { gaussianPlane, gaussianReach } from '../../kernels/gaussian';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const feather = defineStep({
  id: 'feather',
  name: 'Feather',
  stage: 'isolate',
  description: 'Blurs the matte’s edge. Use it where a cut edge looks hard.',
  words: ['soften', 'edge', 'blur', 'mask', 'soft'],
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: {
    radius: number('px', 'spread', 'Radius', 'Standard deviation of the blur.', 6, {
      from: 0,
      to: 512,
      soft: [0, 60],
    }),
    ...keep,
  },
  summaryValue: 'radius',
  neutral: (v) => v.radius === 0,
  reach: (v) => gaussianReach(v.radius),
  run(workspace, matte, slots, v) {
    const soft = gaussianPlane(workspace, matte, v.radius, 'continued');
    return maskedBy(workspace, matte, soft, slots.mask, v.invert);
  },
});
