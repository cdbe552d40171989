import { premultiply as multiplied } from '../../kernels/point';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';

export const premultiply = defineStep({
  id: 'premultiply',
  name: 'Premultiply',
  stage: 'prepare',
  anywhere: true,
  description:
    'Multiplies colour by alpha. Use it for files whose colour is straight but was read as premultiplied.',
  words: ['alpha', 'associated', 'straight', 'fringe', 'halo', 'multiply'],
  version: 1,
  slots: keepSlots,
  values: keep,
  neutral: () => false,
  reach: () => 0,
  run: (workspace, strand, { mask }, v) =>
    maskedBy(workspace, strand, multiplied(workspace, strand), mask, v.invert),
});
