import type { Cdl } from '../../formats/cdl';
import { type ColourOp, scaled } from '../../kernels/colour';
import { defineColourStep } from '../shared/colour-step';
import type { Values } from '../shared/define';
import { number } from '../shared/numbers';

const slope = (channel: string) =>
  number('ratio', 'change', `Slope ${channel}`, `Multiplies ${channel}.`, 1, {
    from: 0,
    to: 64,
    soft: [0, 2],
  });
const offset = (channel: string) =>
  number('light', 'change', `Offset ${channel}`, `Added to ${channel}.`, 0, {
    from: -64,
    to: 64,
    soft: [-0.2, 0.2],
  });
const power = (channel: string) =>
  number('ratio', 'change', `Power ${channel}`, `Exponent of ${channel}: above 1 darkens below 1.`, 1, {
    from: 0.05,
    to: 20,
    soft: [0.5, 2],
  });

/** The saturation of the ASC CDL, about the luma of Rec. 709. */
export function saturationMatrix(by: number): number[] {
  const luma = [0.2126, 0.7152, 0.0722];
  return [0, 1, 2].flatMap((row) => [...luma.map((w, c) => (1 - by) * w + (row === c ? by : 0)), 0]);
}

/** ASC CDL version 1.2 (American Society of Cinematographers 2009, *ASC Color Decision List Transfer Functions and Interchange Syntax*). */
export const grade = defineColourStep({
  id: 'grade',
  name: 'Grade',
  stage: 'finish',
  description:
    'Slope, offset, power and saturation of the ASC CDL. Use it to balance a shot, or to read and write .cdl files.',
  words: [
    'lift',
    'gamma',
    'gain',
    'cdl',
    'balance',
    'contrast',
    'slope',
    'offset',
    'power',
    'look',
    'color correction',
    'colour correct',
  ],
  version: 1,
  values: {
    slopeRed: slope('red'),
    slopeGreen: slope('green'),
    slopeBlue: slope('blue'),
    offsetRed: offset('red'),
    offsetGreen: offset('green'),
    offsetBlue: offset('blue'),
    powerRed: power('red'),
    powerGreen: power('green'),
    powerBlue: power('blue'),
    saturation: number('ratio', 'change', 'Saturation', 'Distance from luma. 0 is grey.', 1, {
      from: 0,
      to: 8,
      soft: [0, 2],
    }),
    clamp: {
      type: 'toggle',
      section: 'change',
      name: 'Clamp',
      description:
        'Holds each channel to 0 to 1 before the power and at the end, as the standard does. Lights lose what is above 1.',
      default: false,
    },
  },
  editors: [{ kind: 'cdl', section: 'change' }],
  summaryValue: 'saturation',
  neutral: (v) =>
    !v.clamp &&
    v.saturation === 1 &&
    [v.slopeRed, v.slopeGreen, v.slopeBlue, v.powerRed, v.powerGreen, v.powerBlue].every((x) => x === 1) &&
    [v.offsetRed, v.offsetGreen, v.offsetBlue].every((x) => x === 0),
  program(v): ColourOp[] {
    const { slope, offset, power } = cdlOf('', v);
    return [
      scaled(slope, offset),
      ...(v.clamp || power.some((p) => p !== 1)
        ? [{ type: 'power', exponents: power, clamps: v.clamp } as const]
        : []),
      ...(v.saturation === 1 ? [] : [{ type: 'matrix', rows: saturationMatrix(v.saturation) } as const]),
      ...(v.clamp ? [{ type: 'power', exponents: [1, 1, 1], clamps: true } as const] : []),
    ];
  },
});

const keys = ['Red', 'Green', 'Blue'] as const;

/** A correction of the ASC as values of the step. */
export function valuesOfCdl({ slope, offset, power, saturation }: Cdl): Values {
  const values: Values = { saturation };
  for (const [c, key] of keys.entries()) {
    values[`slope${key}`] = slope[c];
    values[`offset${key}`] = offset[c];
    values[`power${key}`] = power[c];
  }
  return values;
}

export function cdlOf(id: string, values: Values): Cdl {
  const of = (what: string) =>
    keys.map((key) => values[what + key] as number) as unknown as readonly [number, number, number];
  return {
    id,
    slope: of('slope'),
    offset: of('offset'),
    power: of('power'),
    saturation: values.saturation as number,
  };
}
