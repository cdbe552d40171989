import { combineModes, combine as join } from '../../kernels/plane';
import { defineStep } from '../define';
import { kept } from '../kept';
import { keep, keepSlots } from '../light/lay';

export const combine = defineStep({
  id: 'combine',
  name: 'Combine',
  stage: 'isolate',
  description: 'Brings another matte in.',
  version: 1,
  on: ['matte'],
  slots: {
    other: { kind: 'matte', band: 'take', name: 'Other', description: 'The matte that comes in.' },
    ...keepSlots,
  },
  takes: 'which matte?',
  values: {
    mode: {
      type: 'choice',
      band: 'lay',
      name: 'How',
      description: 'What becomes of the two.',
      options: combineModes,
      default: 'union',
    },
    ...keep,
  },
  telling: 'mode',
  neutral: () => false,
  reach: () => 0,
  run(workspace, matte, { other, where }, v) {
    const both = other ? join(workspace, matte, other, v.mode) : join(workspace, matte, matte, 'union');
    return kept(workspace, matte, both, where, v.invert);
  },
});
