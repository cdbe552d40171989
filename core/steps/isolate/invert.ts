import { complement } from '../../kernels/plane';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';

export const invert = defineStep({
  id: 'invert',
  name: 'Invert',
  stage: 'isolate',
  description: 'The complement of the matte.',
  words: ['negative', 'complement', 'opposite', 'reverse'],
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: keep,
  neutral: () => false,
  reach: () => 0,
  run: (workspace, matte, slots, v) =>
    maskedBy(workspace, matte, complement(workspace, matte), slots.mask, v.invert),
});
