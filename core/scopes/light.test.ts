import { expect, test } from 'vitest';
import { desk } from '../../tests/machine';
import { addedShare, lightHistogram } from './light';

const blank = (width: number, height: number) => desk.blank(width, height);

test('the histogram counts in stops about mid-grey, every pixel once', () => {
  const p = blank(4, 1);
  for (const [i, v] of [0.18, 0.72, 0, Number.NaN].entries()) p.data.fill(v, i * 4, i * 4 + 3);
  const h = lightHistogram(p, -8, 10, 18);
  expect(h.counts[8]).toBe(1);
  expect(h.counts[10]).toBe(1);
  expect([h.below, h.broken]).toEqual([1, 1]);
  expect(h.max).toBeCloseTo(0.72, 6);
});

test('the share of added light is what was added over what is there', () => {
  const before = blank(2, 1);
  before.data.fill(1);
  const after = { ...before, data: before.data.map((v) => v * 4) };
  expect(addedShare(before, after)).toBeCloseTo(0.75, 6);
  expect(addedShare(before, before)).toBe(0);
});
