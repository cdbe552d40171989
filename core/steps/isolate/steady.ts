import { steadyOf } from '../../kernels/plane';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedBy } from '../masked-by';
import { number } from '../numbers';

export const steady = defineStep({
  id: 'steady',
  name: 'Steady',
  stage: 'isolate',
  description: 'Calms a matte that flickers, by the frames before and after.',
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: {
    by: {
      type: 'choice',
      section: 'spread',
      name: 'By',
      description: 'The median drops what is there on a few frames alone; the mean blends.',
      options: { median: 'Median', mean: 'Mean' },
      default: 'median',
    },
    frames: number('ratio', 'spread', 'Frames', 'How many to each side.', 1, {
      from: 0,
      to: 8,
      soft: [0, 4],
      whole: true,
    }),
    ...keep,
  },
  summaryValue: 'by',
  neutral: (v) => v.frames === 0,
  reach: () => 0,
  frames: (v) => Array.from({ length: 2 * v.frames + 1 }, (_, i) => i - v.frames).filter((by) => by !== 0),
  run: (workspace, matte, slots, v, neighbours = []) =>
    maskedBy(workspace, matte, steadyOf(workspace, [matte, ...neighbours], v.by), slots.where, v.invert),
});
