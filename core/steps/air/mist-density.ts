import { defineStep } from '../define';
import { keptKey } from '../kept';
import { keep, keepSlots } from '../light/lay';
import { mistStart } from '../start';
import { densitySlots, densityValues, drifting, veilOf } from './density';

const { stops: _, ...values } = densityValues;

export const mistDensity = defineStep({
  id: 'mist-density',
  name: 'Mist density',
  stage: 'air',
  description:
    'A matte of how dense mist is: for softness in it, for lights that glow more in it, or to keep anything to it.',
  takes: 'how far is it?',
  version: 1,
  on: ['data', 'picture'],
  makes: 'matte',
  slots: { ...densitySlots, ...keepSlots },
  values: { ...values, ...keep },
  telling: 'curve',
  start: ({ values }) => (values ? mistStart(values) : {}),
  neutral: () => false,
  moves: (v) => drifting({ ...v, stops: [] }),
  reach: () => 0,
  run(workspace, depth, { positions, where }, v, _around, frame = 0) {
    const { density } = veilOf(workspace, depth, { positions }, { ...v, stops: [] }, 1, frame);
    return keptKey(workspace, density, { where }, v.invert);
  },
});
