import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type PlaySettings, spanOf, withIn, withMark, withOut } from './settings';

const none: PlaySettings = { loop: 'loop', speed: '1', waits: false, marks: [] };

test('whatever is set, the in is not after the out, and both are frames of the shot', () => {
  const frame = fc.integer({ min: -20, max: 60 });
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.boolean(), fc.option(frame, { nil: undefined }))), (sets) => {
      let settings = none;
      for (const [isIn, f] of sets) settings = { ...settings, ...(isIn ? withIn : withOut)(settings, f) };
      const { first, last } = spanOf(settings, 1, 40);
      expect(first).toBeLessThanOrEqual(last);
      expect(first).toBeGreaterThanOrEqual(1);
      expect(last).toBeLessThanOrEqual(40);
    }),
  );
});

test('a mark is set and taken away, in the order of frames', () => {
  const two = { ...none, ...withMark({ ...none, ...withMark(none, 9) }, 4) };
  expect(two.marks).toEqual([4, 9]);
  expect(withMark(two, 9).marks).toEqual([4]);
});
