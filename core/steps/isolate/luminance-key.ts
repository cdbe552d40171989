import { rangeKey } from '../../kernels/key';
import { defineStep } from '../define';
import { keep, keepSlots } from '../light/lay';
import { maskedKey } from '../masked-by';
import { number } from '../numbers';
import { rangeStart } from '../start';

const light = (name: string, description: string, initial: number) =>
  number('light', 'take', name, description, initial, { from: 0, to: 65504, soft: [0, 16] });

export const luminanceKey = defineStep({
  id: 'luminance-key',
  name: 'Luminance key',
  stage: 'isolate',
  description: 'A matte of what is as bright as you say.',
  sourceQuestion: 'how bright is it?',
  version: 1,
  produces: 'matte',
  slots: keepSlots,
  values: {
    low: light('From', 'Luminance from which on the matte is full.', 1),
    lowSoft: light('Soft below', 'How far below that it begins.', 0.5),
    high: light('To', 'Luminance up to which the matte is full; the highest stands for no end.', 65504),
    highSoft: light('Soft above', 'How far above that it ends.', 0),
    ...keep,
  },
  summaryValue: 'low',
  start: ({ values }) => (values ? rangeStart(values, 65504) : {}),
  neutral: () => false,
  reach: () => 0,
  run(workspace, picture, slots, v) {
    const high = v.high >= 65504 ? Number.POSITIVE_INFINITY : v.high;
    return maskedKey(workspace, rangeKey(workspace, picture, 'luminance', { ...v, high }), slots, v.invert);
  },
});
