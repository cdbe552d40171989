import { rangeKey } from '../../kernels/key';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { rangeStart } from '../shared/start';

const far = 1e6;
const depth = (name: string, description: string, initial: number) =>
  number('scene', 'take', name, description, initial, { from: -far, to: far, soft: [0, 100] });

export const depthRange = defineStep({
  id: 'depth-range',
  name: 'Depth range',
  stage: 'isolate',
  description: 'A matte from a range of depth.',
  sourceQuestion: 'how far?',
  words: ['distance', 'z', 'near', 'far', 'slice', 'mask', 'select', 'foreground', 'background'],
  version: 1,
  accepts: ['data', 'picture'],
  produces: 'matte',
  slots: keepSlots,
  values: {
    low: depth('Near', 'Near end of the range in which the matte is 1.', 0),
    lowSoft: { ...depth('Softness before', 'Width of the ramp in front of the range.', 0), from: 0 },
    high: depth('Far', 'Far end of the range. The highest value includes the sky.', 10),
    highSoft: { ...depth('Softness behind', 'Width of the ramp behind the range.', 5), from: 0 },
    ...keep,
  },
  editors: [{ kind: 'band', section: 'take', channel: 'red' }],
  summaryValue: 'high',
  start: ({ values }) => (values ? rangeStart(values, far) : {}),
  neutral: () => false,
  reach: () => 0,
  run(workspace, picture, slots, v) {
    const high = v.high >= far ? Number.POSITIVE_INFINITY : v.high;
    return maskedKey(workspace, rangeKey(workspace, picture, 'red', { ...v, high }), slots, v.invert);
  },
});
