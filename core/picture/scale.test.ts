import fc from 'fast-check';
import { expect, test } from 'vitest';
import { addedShare, lightHistogram } from '../scopes/light';
import { blank } from './picture';
import { scaleDown } from './scale';

test('scaling down keeps the mean, whatever the sizes', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 40 }),
      fc.integer({ min: 1, max: 40 }),
      fc.double({ min: 0.05, max: 1, noNaN: true }),
      (w, h, scale) => {
        const p = blank(w, h, 1);
        for (let i = 0; i < p.data.length; i++) p.data[i] = (i * 7) % 11;
        const small = scaleDown(p, scale);
        const mean = (d: Float32Array) => d.reduce((a, b) => a + b, 0) / d.length;
        expect(mean(small.data)).toBeCloseTo(mean(p.data), 3);
      },
    ),
  );
});

test('halving takes the mean of four; data passes take a pixel as it is', () => {
  const p = blank(4, 2, 1);
  p.data.set([1, 2, 3, 4, 5, 6, Infinity, 8]);
  expect(scaleDown(p, 0.5).data[0]).toBe(3.5);
  expect(p.data).toContain(scaleDown(p, 0.5, 'nearest').data[1]);
});

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
