import { combineModes, combine as join } from '../../kernels/plane';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';

export const combine = defineStep({
  id: 'combine',
  name: 'Combine',
  stage: 'isolate',
  description: 'Brings another matte in.',
  version: 1,
  accepts: ['matte'],
  slots: {
    other: { kind: 'matte', section: 'take', name: 'Other', description: 'The matte that comes in.' },
    ...keepSlots,
  },
  sourceQuestion: 'which matte?',
  values: {
    mode: {
      type: 'choice',
      section: 'lay',
      name: 'How',
      description: 'What becomes of the two.',
      options: combineModes,
      default: 'union',
    },
    ...keep,
  },
  summaryValue: 'mode',
  neutral: () => false,
  reach: () => 0,
  run(workspace, matte, { other, where }, v) {
    const both = other ? join(workspace, matte, other, v.mode) : join(workspace, matte, matte, 'union');
    return maskedBy(workspace, matte, both, where, v.invert);
  },
});
