import { steadyOf } from '../../kernels/plane';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedBy } from '../shared/masked-by';
import { number } from '../shared/numbers';

export const temporalFilter = defineStep({
  id: 'temporal-filter',
  name: 'Temporal filter',
  stage: 'isolate',
  description: 'Filters a matte over neighbouring frames. Use it where a matte flickers.',
  words: ['flicker', 'stabilise', 'steady', 'average', 'denoise', 'median', 'frames', 'smooth', 'time'],
  version: 1,
  accepts: ['matte'],
  slots: keepSlots,
  values: {
    method: {
      type: 'choice',
      section: 'spread',
      name: 'Method',
      description: 'The median removes values that appear on a few frames only. The mean blends.',
      options: { median: 'Median', mean: 'Mean' },
      default: 'median',
    },
    frames: number('ratio', 'spread', 'Frames', 'Number of frames on each side.', 1, {
      from: 0,
      to: 8,
      soft: [0, 4],
      whole: true,
    }),
    ...keep,
  },
  summaryValue: 'method',
  neutral: (v) => v.frames === 0,
  reach: () => 0,
  frames: (v) => Array.from({ length: 2 * v.frames + 1 }, (_, i) => i - v.frames).filter((by) => by !== 0),
  run: (workspace, matte, slots, v, neighbours = []) =>
    maskedBy(workspace, matte, steadyOf(workspace, [matte, ...neighbours], v.method), slots.mask, v.invert),
});
