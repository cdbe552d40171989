import { expect, test } from 'vitest';
import { workspace } from '../../tests/runtime';
import { addedShare, flatShare, lightHistogram, lightThreshold, negativeShare } from './light';

const blank = (width: number, height: number) => workspace.blank(width, height);

test('the histogram counts in stops about mid-grey, every pixel once', () => {
  const p = blank(4, 1);
  for (const [i, v] of [0.18, 0.72, 0, Number.NaN].entries()) p.data.fill(v, i * 4, i * 4 + 3);
  const h = lightHistogram(p, undefined, -8, 10, 18);
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

test('a start threshold takes a fifth of the light of a dull frame, and lamps alone where there are some', () => {
  const frame = (light: (i: number) => number) => {
    const p = blank(100, 10);
    for (let i = 0; i < 1000; i++) p.data.fill(light(i), i * 4, i * 4 + 3);
    return p;
  };
  const taken = (p: ReturnType<typeof frame>, threshold: number) => {
    let [above, all] = [0, 0];
    for (let i = 0; i < p.data.length; i += 4) {
      above += Math.max(0, p.data[i] - threshold);
      all += p.data[i];
    }
    return above / all;
  };
  const dull = frame((i) => 0.02 + 0.3 * (i / 1000));
  const found = lightThreshold(lightHistogram(dull))!;
  expect(found).toBeLessThan(0.3);
  expect(taken(dull, found)).toBeCloseTo(0.2, 1);
  // Lamps hold most of the light: what is past 1 is theirs.
  const night = frame((i) => (i < 4 ? 40 : 0.02));
  expect(lightThreshold(lightHistogram(night))).toBe(1);
  expect(lightThreshold(lightHistogram(frame(() => 0)))).toBeUndefined();
});

test('where a mask leaves light out there is none, and the whole frame stays what shares are of', () => {
  const data = new Float32Array(4 * 100).fill(1);
  const half = Float32Array.from({ length: 100 }, (_, i) => (i < 5 ? 1 : i < 10 ? 0.5 : 0));
  const h = lightHistogram({ data }, { data: half });
  expect(h.counts.reduce((a, b) => a + b, 0)).toBeCloseTo(7.5);
  expect(h.below).toBeCloseTo(92.5);
});

test('the flat share is that of covered pixels as their right neighbour', () => {
  const p = blank(5, 1);
  expect(flatShare(p)).toBe(0);
  p.data.set([1, 0, 0, 1, 1, 0, 0, 1, 0, 1, 0, 1, 0, 1, 0, 1, 0, 0, 0, 0]);
  expect(flatShare(p)).toBeCloseTo(2 / 3, 6);
});

test('the negative share leaves out what is barely below 0', () => {
  const p = blank(4, 1);
  p.data.set([-1, 1, 1, 1, -0.005, 1, 1, 1]);
  expect(negativeShare(p)).toBeCloseTo(0.25, 6);
});
