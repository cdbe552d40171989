import { afterEach, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../tests/runtime';
import { join } from './join';
import { over, weightedSum } from './point';
import { stack } from './stack';
import { transformed } from './transform';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const drawing = (seed: number) => {
  const [colour, alpha] = [noise(seed, 3), noise(seed + 9, 1)];
  return pictureOf(24, 18, (i) => Math.min(1, alpha(i >> 2)) * (i % 4 === 3 ? 1 : colour(i)));
};

test('layers lie over each other, each in its mode, its place and its opacity', () => {
  const [a, b, c] = [drawing(1), drawing(2), drawing(3)];
  const transform = { moveX: 3.5, moveY: -2, rotate: 20, scale: 0.7, pivotX: 1, pivotY: 2 };
  const got = stack(workspace, [
    { picture: a, opacity: 1 },
    { picture: b, opacity: 0.6, mode: 'multiply' },
    { picture: c, opacity: 0.9, transform },
  ]);
  const faded = (p: typeof a, k: number) => weightedSum(workspace, p, k, p, 0);
  const two = join(workspace, a, faded(b, 0.6), 'multiply');
  expect(got.data).toEqual(
    over(workspace, faded(transformed(workspace, c, transform, 'mitchell'), 0.9), two).data,
  );
});

test('it leaves its layers as they were, and one layer alone is a picture of its own', () => {
  const a = drawing(4);
  const before = a.data.slice();
  const rest = { moveX: 0, moveY: 0, rotate: 0, scale: 1, pivotX: 5, pivotY: 5 };
  const one = stack(workspace, [{ picture: a, opacity: 1, transform: rest }]);
  expect(one.at).not.toBe(a.at);
  expect(one.data).toEqual(before);
  stack(workspace, [
    { picture: a, opacity: 0.5 },
    { picture: a, opacity: 0.5, mode: 'plus' },
  ]);
  expect(a.data).toEqual(before);
});
