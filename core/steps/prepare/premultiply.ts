import { premultiply as multiplied } from '../../kernels/point';
import { defineStep } from '../define';

export const premultiply = defineStep({
  id: 'premultiply',
  name: 'Premultiply',
  stage: 'prepare',
  anywhere: true,
  says: 'Multiplies colour by alpha: for files that came in undivided by mistake.',
  version: 1,
  slots: {},
  values: {},
  neutral: () => false,
  reach: () => 0,
  run: (desk, strand) => multiplied(desk, strand),
});
