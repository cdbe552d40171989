import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { mistStart } from '../shared/start';
import { densitySlots, densityValues, drifting, mistDensityOf } from './density';

const { stops: _, ...values } = densityValues;

export const mistDensity = defineStep({
  id: 'mist-density',
  name: 'Mist density',
  stage: 'air',
  description: 'The density of mist as a matte. Use it for softness, for glow in mist, or as a mask.',
  sourceQuestion: 'how far?',
  words: ['fog', 'haze', 'smoke', 'atmosphere', 'matte', 'depth'],
  version: 1,
  accepts: ['data', 'picture'],
  produces: 'matte',
  slots: { ...densitySlots, ...keepSlots },
  values: { ...values, ...keep },
  editors: [{ kind: 'mist', section: 'take' }],
  summaryValue: 'curve',
  start: ({ values }) => (values ? mistStart(values) : {}),
  neutral: () => false,
  dependsOnFrame: (v) => drifting({ ...v, stops: [] }),
  reach: () => 0,
  run(workspace, depth, { positions, mask }, v, _neighbours, frame = 0) {
    const { density } = mistDensityOf(workspace, depth, { positions }, { ...v, stops: [] }, 1, frame);
    return maskedKey(workspace, density, { mask }, v.invert);
  },
});
