import { unpremultiply as divided } from '../../kernels/point';
import { defineStep } from '../define';

export const unpremultiply = defineStep({
  id: 'unpremultiply',
  name: 'Un-premultiply',
  stage: 'prepare',
  anywhere: true,
  says: 'Divides colour by alpha; light where alpha is 0 stays.',
  version: 1,
  slots: {},
  values: {},
  neutral: () => false,
  reach: () => 0,
  run: (desk, strand) => divided(desk, strand),
});
