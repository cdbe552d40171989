import { unpremultiply as divided } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';

export const unpremultiply = defineStep({
  id: 'unpremultiply',
  name: 'Un-premultiply',
  stage: 'prepare',
  anywhere: true,
  description: 'Divides colour by alpha. Colour where alpha is 0 is left as it is.',
  words: ['alpha', 'unassociated', 'straight', 'divide'],
  version: 1,
  slots: keepSlots,
  values: keep,
  neutral: () => false,
  reach: () => 0,
  run: (workspace, strand, { mask }, v) =>
    maskedBy(workspace, strand, divided(workspace, strand), mask, v.invert),
});
