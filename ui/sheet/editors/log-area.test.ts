import { expect, test } from 'vitest';
import { logArea } from './log-area';

/** All numbers of a path, as points. */
const points = (path: string) => {
  const numbers = [...path.matchAll(/-?\d+(?:\.\d+)?/g)].map(Number);
  return Array.from({ length: numbers.length / 2 }, (_, i) => [numbers[2 * i], numbers[2 * i + 1]]);
};

test('the most frequent bin reaches the top, an empty one stays on the floor, heights go by the logarithm', () => {
  const path = logArea([0, 9, 99], (bin) => bin * 10, 60, 10);
  expect(points(path)).toContainEqual([0, 60]);
  expect(points(path)).toContainEqual([20, 10]);
  // log 10 is half of log 100.
  expect(points(path).some(([x, y]) => x === 10 && Math.abs(y - 35) < 0.01)).toBe(true);
});

test('nothing is drawn of no counts, and none rise where all are empty', () => {
  expect(logArea([], () => 0, 60, 10)).toBe('');
  for (const [, y] of points(logArea([0, 0, 0], (bin) => bin, 60, 10))) expect(y).toBe(60);
});
