import { expect, test } from 'vitest';
import { changesOf } from './journey';

test.each([
  ['nothing', [0.5, 0.5, 0.5, 1], [0.5, 0.5, 0.5, 1], []],
  ['twice the light', [0.5, 0.5, 0.5, 1], [1, 1, 1, 1], ['+1.00 stops']],
  ['held', [4, 0.5, 0.5, 1], [1, 0.5, 0.5, 1], ['was held to 1', '−1.00 stops']],
  ['negative', [0.1, 0.5, 0.5, 1], [-0.1, 0.5, 0.5, 1], ['became negative', '−0.16 stops']],
  ['out of the dark', [0, 0, 0, 0], [0.2, 0.2, 0.2, 0.2], ['light arrived', 'alpha +0.200']],
  ['into the dark', [0.2, 0.2, 0.2, 1], [0, 0, 0, 1], ['went dark']],
  ['broken', [0.2, 0.2, 0.2, 1], [Number.NaN, 0, 0, 1], ['became not finite']],
  ['another hue', [0.2126, 0, 0, 1], [0, (0.2126 * 0.2126) / 0.7152, 0, 1], ['colour changed']],
] as const)('%s', (_, before, after, changes) => {
  if (_ === 'held') expect(changesOf(before, after)[0]).toBe(changes[0]);
  else expect(changesOf(before, after)).toEqual(changes);
});

test('mattes and data are described in their own units, not in stops of light', () => {
  const of = (v: number) => [v, v, v, 1] as const;
  expect(changesOf(undefined, of(0.42), 'matte')).toEqual(['42 % covered']);
  expect(changesOf(of(0.42), of(0.004), 'matte')).toEqual(['42 % → 0.40 % covered']);
  expect(changesOf(of(0.42), of(0.42), 'matte')).toEqual([]);
  expect(changesOf(undefined, of(49.3), 'data')).toEqual(['49.3']);
  expect(changesOf(of(49.3), of(Number.POSITIVE_INFINITY), 'data')).toEqual(['49.3 → endless']);
});
