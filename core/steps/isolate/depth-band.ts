import { rangeKey } from '../../kernels/key';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedKey } from '../masked-by';
import { number } from '../numbers';
import { rangeStart } from '../start';

const far = 1e6;
const depth = (name: string, description: string, initial: number) =>
  number('scene', 'take', name, description, initial, { from: -far, to: far, soft: [0, 100] });

export const depthRange = defineStep({
  id: 'depth-band',
  name: 'Depth band',
  stage: 'isolate',
  description: 'A matte of what lies between two distances.',
  sourceQuestion: 'how far is it?',
  version: 1,
  accepts: ['data', 'picture'],
  produces: 'matte',
  slots: keepSlots,
  values: {
    low: depth('Near', 'From here on the matte is full.', 0),
    lowSoft: { ...depth('Soft before', 'How far before that it begins.', 0), from: 0 },
    high: depth('Far', 'Up to here the matte is full; the farthest takes the sky too.', 10),
    highSoft: { ...depth('Soft behind', 'How far behind that it ends.', 5), from: 0 },
    ...keep,
  },
  summaryValue: 'high',
  start: ({ values }) => (values ? rangeStart(values, far) : {}),
  neutral: () => false,
  reach: () => 0,
  run(workspace, picture, slots, v) {
    const high = v.high >= far ? Number.POSITIVE_INFINITY : v.high;
    return maskedKey(workspace, rangeKey(workspace, picture, 'red', { ...v, high }), slots, v.invert);
  },
});
