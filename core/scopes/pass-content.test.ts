import { expect, test } from 'vitest';
import { passContent } from './pass-content';

const window = (xMin: number, yMin: number, xMax: number, yMax: number) => ({ xMin, yMin, xMax, yMax });
const pass = {
  name: '',
  label: 'picture',
  kind: 'picture',
  part: 0,
  channels: ['R'],
  types: ['float'],
} as const;

test('a pass that holds a part of the frame is empty around it', () => {
  const displayWindow = window(0, 0, 9, 9);
  const content = (dataWindow: ReturnType<typeof window>, values: number[]) =>
    passContent({ pass: pass as never, planes: [Float32Array.from(values)], dataWindow, displayWindow });
  // A fifth of the frame, all of it lit.
  expect(content(window(0, 4, 9, 5), Array(20).fill(1)).empty).toBeCloseTo(0.8);
  // Half of it is 0 besides.
  expect(
    content(
      window(0, 4, 9, 5),
      Array.from({ length: 20 }, (_, i) => i % 2),
    ).empty,
  ).toBeCloseTo(0.9);
  // Overscan: what lies outside of the frame does not count.
  expect(
    content(
      window(-5, 0, 14, 9),
      Array.from({ length: 200 }, (_, i) => (i % 20 < 5 ? 0 : 1)),
    ).empty,
  ).toBe(0);
  expect(content(window(0, 0, 9, 9), Array(100).fill(2)).empty).toBe(0);
});
