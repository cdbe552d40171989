import { combineModes, combine as join } from '../../kernels/plane';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';

export const combine = defineStep({
  id: 'combine',
  name: 'Combine',
  stage: 'isolate',
  description: 'Combines the matte with another.',
  words: [
    'union',
    'intersection',
    'subtract',
    'difference',
    'boolean',
    'add',
    'multiply',
    'maximum',
    'minimum',
  ],
  version: 1,
  accepts: ['matte'],
  slots: {
    other: {
      kind: 'matte',
      section: 'take',
      name: 'Second matte',
      needed: true,
      description: 'The matte to combine with.',
    },
    ...keepSlots,
  },
  sourceQuestion: 'which matte?',
  values: {
    mode: {
      type: 'choice',
      section: 'lay',
      name: 'Operation',
      description: 'Set operation on the two mattes.',
      options: combineModes,
      default: 'union',
    },
    ...keep,
  },
  summaryValue: 'mode',
  neutral: () => false,
  reach: () => 0,
  run(workspace, matte, { other, mask }, v) {
    const both = other ? join(workspace, matte, other, v.mode) : join(workspace, matte, matte, 'union');
    return maskedBy(workspace, matte, both, mask, v.invert);
  },
});
