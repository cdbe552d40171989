import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { type Pixel, plainJoin } from '../../tests/plain/join';
import { noise, pictureOf, runtime, workspace } from '../../tests/runtime';
import { channelSources, type JoinMode, join, joinModes, mix, pickChannels, ramp } from './join';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const modes = Object.keys(joinModes) as JoinMode[];
/** Sixty-fourths: between them the steep modes have poles that rounding to float moves across. */
const share = fc.oneof(
  fc.constantFrom(0, 1, 0.5, 0.25),
  fc.integer({ min: 0, max: 64 }).map((v) => v / 64),
);
const pixel: fc.Arbitrary<Pixel> = fc.record({ colour: fc.tuple(share, share, share), alpha: share });
const one = ({ colour, alpha }: Pixel) => pictureOf(1, 1, (i) => (i === 3 ? alpha : colour[i] * alpha));

describe('joining', () => {
  test.each(modes)('%s is the published formula', (mode) => {
    fc.assert(
      fc.property(pixel, pixel, (backdrop, source) => {
        const found = join(workspace, one(backdrop), one(source), mode).data;
        const wanted = plainJoin(mode, backdrop, source);
        wanted.forEach((v, c) => {
          expect(Math.abs(found[c] - v)).toBeLessThan(2e-5);
        });
        workspace.clear();
      }),
      { numRuns: 300 },
    );
  });

  // Worked by hand from W3C Compositing and Blending Level 1, chapters 9 and 10, for opaque colours: backdrop, source, result.
  const table: [JoinMode, number, number, number][] = [
    ['multiply', 0.5, 0.4, 0.2],
    ['screen', 0.5, 0.4, 0.7],
    ['overlay', 0.25, 0.4, 0.2],
    ['overlay', 0.75, 0.4, 0.7],
    ['darken', 0.5, 0.4, 0.4],
    ['lighten', 0.5, 0.4, 0.5],
    ['color-dodge', 0.25, 0.5, 0.5],
    ['color-dodge', 0.5, 1, 1],
    ['color-dodge', 0, 1, 0],
    ['color-burn', 0.75, 0.5, 0.5],
    ['color-burn', 0.5, 0, 0],
    ['color-burn', 1, 0, 1],
    ['hard-light', 0.5, 0.25, 0.25],
    ['hard-light', 0.5, 0.75, 0.75],
    ['soft-light', 0.5, 0.25, 0.375],
    ['soft-light', 0.25, 1, 0.5],
    ['soft-light', 0.0625, 1, 0.20703125],
    ['difference', 0.5, 0.75, 0.25],
    ['exclusion', 0.5, 0.75, 0.5],
  ];
  test.each(table)('%s of %d and %d is %d', (mode, b, s, result) => {
    const grey = (v: number) => one({ colour: [v, v, v], alpha: 1 });
    expect(join(workspace, grey(b), grey(s), mode).data[0]).toBeCloseTo(result, 6);
  });

  test('luminosity and colour keep what they say, with that standard’s weights', () => {
    const [b, s] = [one({ colour: [0.8, 0.4, 0.2], alpha: 1 }), one({ colour: [0.1, 0.3, 0.5], alpha: 1 })];
    const lum = (p: ArrayLike<number>) => 0.3 * p[0] + 0.59 * p[1] + 0.11 * p[2];
    expect(lum(join(workspace, b, s, 'luminosity').data)).toBeCloseTo(lum(s.data), 5);
    for (const mode of ['color', 'hue', 'saturation'] as const)
      expect(lum(join(workspace, b, s, mode).data)).toBeCloseTo(lum(b.data), 5);
  });

  test('light above 1 goes on where the formula has a meaning', () => {
    const lamp = pictureOf(1, 1, (i) => [12, 6, 3, 1][i]);
    const grey = pictureOf(1, 1, (i) => [0.5, 0.5, 0.5, 1][i]);
    const red = (mode: JoinMode) => join(workspace, grey, lamp, mode).data[0];
    expect(red('over')).toBe(12);
    expect(red('plus')).toBe(12.5);
    expect(red('multiply')).toBe(6);
    expect(red('screen')).toBe(6.5);
    expect(red('lighten')).toBe(12);
    expect(red('difference')).toBe(11.5);
    for (const mode of modes)
      expect(join(workspace, grey, lamp, mode).data.every(Number.isFinite)).toBe(true);
  });
});

test('mix keeps every bit at 0, gives the other at 1, and is half-way at 0.5', () => {
  const [a, b] = [pictureOf(7, 3, noise(1)), pictureOf(7, 3, noise(2))];
  const mask = pictureOf(7, 3, (i) => [0, 0.5, 1][i % 3], 1);
  const out = mix(workspace, a, b, { mask, invert: false, amount: 1 });
  const inverted = mix(workspace, a, b, { mask, invert: true, amount: 1 });
  out.data.forEach((v, i) => {
    const k = [0, 0.5, 1][(i >> 2) % 3];
    if (k === 0.5) expect(v).toBeCloseTo((a.data[i] + b.data[i]) / 2, 4);
    else expect(v).toBe((k === 0 ? a : b).data[i]);
    if (k !== 0.5) expect(inverted.data[i]).toBe((k === 0 ? b : a).data[i]);
  });
  expect(mix(workspace, a, b, { invert: false, amount: 0 }).data).toEqual(a.data);
});

test('beyond 1 a mix goes on along the difference, and alpha stays a coverage', () => {
  const a = pictureOf(1, 1, (i) => [1, 1, 1, 0.5][i]);
  const b = pictureOf(1, 1, (i) => [2, 0.5, 1, 1][i]);
  // a + k·(b − a), linear extrapolation.
  expect(Array.from(mix(workspace, a, b, { invert: false, amount: 3 }).data)).toEqual([4, -0.5, 1, 1]);
  expect(mix(workspace, b, a, { invert: false, amount: 3 }).data[3]).toBe(0);
});

test('channels are picked from either picture', () => {
  const [a, b] = [pictureOf(2, 1, (i) => (i + 1) / 10), pictureOf(2, 1, (i) => (i + 1) / 100)];
  const found = pickChannels(workspace, a, b, ['other-alpha', 'red', 'luminance', 'one']).data;
  expect(found[0]).toBeCloseTo(0.04, 6);
  expect(found[1]).toBeCloseTo(0.1, 6);
  expect(found[2]).toBeCloseTo(0.2126 * 0.1 + 0.7152 * 0.2 + 0.0722 * 0.3, 6);
  expect(found[3]).toBe(1);
  expect(Object.keys(channelSources)).toHaveLength(12);
});

test('a ramp reaches both colours at the corners, and turns counter-clockwise', () => {
  const at = (angle: number) => {
    const { data } = ramp(workspace, 101, 51, [0, 0, 0, 1], [1, 1, 1, 1], angle);
    const v = (x: number, y: number) => data[(y * 101 + x) * 4];
    return { left: v(0, 25), right: v(100, 25), top: v(50, 0), bottom: v(50, 50), middle: v(50, 25) };
  };
  expect(at(0).right).toBeGreaterThan(0.98);
  expect(at(0).left).toBeLessThan(0.02);
  expect(at(90).top).toBeGreaterThan(0.98);
  expect(at(90).bottom).toBeLessThan(0.02);
  expect(at(45).middle).toBeCloseTo(0.5, 5);
});
