import { rangeKey } from '../../kernels/key';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { rangeStart } from '../shared/start';

const light = (name: string, description: string, initial: number) =>
  number('light', 'take', name, description, initial, { from: 0, to: 65504, soft: [0, 16] });

export const luminanceKey = defineStep({
  id: 'luminance-key',
  name: 'Luminance key',
  stage: 'isolate',
  description: 'A matte from a range of luminance.',
  sourceQuestion: 'how bright?',
  words: ['brightness', 'bright', 'highlights', 'mask', 'select', 'luma', 'light parts'],
  version: 1,
  produces: 'matte',
  slots: keepSlots,
  values: {
    low: light('Minimum', 'Lower end of the range in which the matte is 1.', 1),
    lowSoft: light('Softness below', 'Width of the ramp below the range.', 0.5),
    high: light('Maximum', 'Upper end of the range. The highest value means no upper end.', 65504),
    highSoft: light('Softness above', 'Width of the ramp above the range.', 0),
    ...keep,
  },
  editors: [{ kind: 'band', section: 'take', channel: 'luminance' }],
  summaryValue: 'low',
  start: ({ values }) => (values ? rangeStart(values, 65504) : {}),
  neutral: () => false,
  reach: () => 0,
  run(workspace, picture, slots, v) {
    const high = v.high >= 65504 ? Number.POSITIVE_INFINITY : v.high;
    return maskedKey(workspace, rangeKey(workspace, picture, 'luminance', { ...v, high }), slots, v.invert);
  },
});
