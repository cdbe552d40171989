import { grow, shrinkMatte } from '../../kernels/shape';
import { defineStep } from '../define';
import { kept } from '../kept';
import { keep, keepSlots } from '../light/lay';
import { number } from '../numbers';

export const growShrink = defineStep({
  id: 'grow-shrink',
  name: 'Grow or shrink',
  stage: 'isolate',
  says: 'Moves the edge of a matte outwards or inwards by an exact distance.',
  version: 1,
  on: ['matte'],
  slots: keepSlots,
  values: {
    by: number('px', 'spread', 'By', 'Outwards above 0, inwards below; parts of a pixel count.', 4, {
      from: -2048,
      to: 2048,
      soft: [-40, 40],
    }),
    ...keep,
  },
  telling: 'by',
  neutral: (v) => v.by === 0,
  reach: (v) => Math.abs(v.by) + 2,
  run(desk, matte, slots, v) {
    const moved = v.by > 0 ? grow(desk, matte, v.by) : shrinkMatte(desk, matte, -v.by);
    return kept(desk, matte, moved, slots.where, v.invert);
  },
});
