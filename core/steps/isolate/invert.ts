import { complement } from '../../kernels/plane';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { keptMatte } from './where';

export const invert = defineStep({
  id: 'invert',
  name: 'Invert',
  stage: 'isolate',
  says: 'The complement of a matte: what was outside is inside.',
  version: 1,
  on: ['matte'],
  slots: keepSlots,
  values: keep,
  neutral: () => false,
  reach: () => 0,
  run: (desk, matte, slots, v) => keptMatte(desk, matte, complement(desk, matte), slots, v.invert),
});
