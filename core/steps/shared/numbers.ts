import type { NumberSpec, Section } from './define';

type Range = Pick<NumberSpec, 'from' | 'to' | 'soft'> &
  Partial<Pick<NumberSpec, 'zeroLabel' | 'whole' | 'onlyIf'>>;

/** A number of a step: its unit, its band, what it is called and says, what it is at first, and its bounds. */
export const number = (
  unit: NumberSpec['unit'],
  section: Section,
  name: string,
  description: string,
  initial: number,
  range: Range,
): NumberSpec => ({
  type: 'number',
  unit,
  section,
  name,
  description,
  default: initial,
  ...range,
});

/** An angle of a step, counter-clockwise as seen; it may go around many times. */
export const angle = (
  section: Section,
  name: string,
  description: string,
  initial: number,
  more: Partial<Pick<NumberSpec, 'soft' | 'onlyIf'>> = {},
): NumberSpec =>
  number('degrees', section, name, description, initial, {
    from: -3600,
    to: 3600,
    soft: [-180, 180],
    ...more,
  });

/** A seed for pseudo-random numbers. */
export const seed = (description: string): NumberSpec =>
  number('ratio', 'spread', 'Seed', description, 1, { from: 0, to: 9999, soft: [0, 40], whole: true });
