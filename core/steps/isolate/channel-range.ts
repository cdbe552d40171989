import { rangeKey } from '../../kernels/key';
import { defineStep } from '../shared/define';
import { keep, keepSlots } from '../shared/lay';
import { maskedKey } from '../shared/masked-by';
import { number } from '../shared/numbers';
import { rangeStart } from '../shared/start';

const value = (name: string, description: string, initial: number) =>
  number('scene', 'take', name, description, initial, { from: -1e6, to: 1e6, soft: [-1, 2] });

export const channelRange = defineStep({
  id: 'channel-range',
  name: 'Channel range',
  stage: 'isolate',
  description: 'A matte from a range of one channel.',
  sourceQuestion: 'which values?',
  words: ['mask', 'select', 'value', 'threshold', 'number', 'pass'],
  version: 1,
  accepts: ['picture', 'data'],
  produces: 'matte',
  slots: keepSlots,
  values: {
    channel: {
      type: 'choice',
      section: 'take',
      name: 'Channel',
      description: 'The first three are x, y and z of positions and normals.',
      options: {
        red: 'First, red',
        green: 'Second, green',
        blue: 'Third, blue',
        alpha: 'Alpha',
        luminance: 'Luminance',
      },
      default: 'red',
    },
    low: value('Minimum', 'Lower end of the range in which the matte is 1.', 0.5),
    lowSoft: { ...value('Softness below', 'Width of the ramp below the range.', 0), from: 0 },
    high: value('Maximum', 'Upper end of the range. The highest value means no upper end.', 1e6),
    highSoft: { ...value('Softness above', 'Width of the ramp above the range.', 0), from: 0 },
    ...keep,
  },
  editors: [{ kind: 'band', section: 'take', channelOf: 'channel' }],
  summaryValue: 'channel',
  start: ({ values }) => (values ? rangeStart(values, 1e6) : {}),
  neutral: () => false,
  reach: () => 0,
  run(workspace, picture, slots, v) {
    const high = v.high >= 1e6 ? Number.POSITIVE_INFINITY : v.high;
    return maskedKey(workspace, rangeKey(workspace, picture, v.channel, { ...v, high }), slots, v.invert);
  },
});
