import type { Band, NumberSpec } from './define';

type Range = Pick<NumberSpec, 'from' | 'to' | 'soft'> & Partial<Pick<NumberSpec, 'at0' | 'whole' | 'onlyIf'>>;

/** A number of a step: its unit, its band, what it is called and says, what it is at first, and its bounds. */
export const number = (
  unit: NumberSpec['unit'],
  band: Band,
  name: string,
  says: string,
  initial: number,
  range: Range,
): NumberSpec => ({ type: 'number', unit, band, name, says, default: initial, ...range });
