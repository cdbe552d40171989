import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { oklab } from '../colour/oklab';
import type { Rgb } from '../math/rgb';
import type { ColourSpec, NumberSpec, ValueSpec } from '../steps/shared/define';
import { thinned } from './bake';
import { inOrder, type Key, keyOn, numberOn } from './keys';
import { bandNoise, type Modulator, modulated } from './modulators';
import { valueAt } from './track';

const described = { name: 'Value', description: '', section: 'lay' } as const;
const number: NumberSpec = {
  ...described,
  type: 'number',
  unit: 'ratio',
  default: 1,
  from: -100,
  to: 100,
  soft: [0, 2],
};
const colour: ColourSpec = { ...described, type: 'colour', default: [1, 1, 1] };

describe('flicker', () => {
  const fps = 48;
  const rate = 6;
  const count = 4096;
  const samples = Array.from({ length: count }, (_, f) => bandNoise(f / fps, rate, 7));

  test('has at most a twentieth of its power above its rate, and mean 0 within a hundredth', () => {
    // The power of each frequency by the discrete Fourier transform, with a Hann window against the ends.
    const windowed = samples.map((v, i) => v * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / count)));
    let [above, all] = [0, 0];
    for (let k = 1; k < count / 2; k += 3) {
      let [re, im] = [0, 0];
      for (let i = 0; i < count; i++) {
        const turn = (2 * Math.PI * k * i) / count;
        re += windowed[i] * Math.cos(turn);
        im -= windowed[i] * Math.sin(turn);
      }
      const power = re * re + im * im;
      all += power;
      if ((k * fps) / count > rate) above += power;
    }
    expect(above / all).toBeLessThan(0.05);
    const long = Array.from({ length: 200_000 }, (_, f) => bandNoise(f / fps, rate, 7));
    expect(Math.abs(long.reduce((sum, v) => sum + v, 0) / long.length)).toBeLessThan(0.01);
  });

  test('is the same whenever it is asked, another by another seed, and is as strong as it says', () => {
    const flicker: Modulator = { type: 'flicker', rate: 8, depth: 0.5, roughness: 0.6, seed: 3 };
    const values = Array.from({ length: 500 }, (_, f) => modulated(0, flicker, f - 100, 24));
    expect(values).toEqual(Array.from({ length: 500 }, (_, f) => modulated(0, flicker, f - 100, 24)));
    expect(values).not.toEqual(values.map((_, f) => modulated(0, { ...flicker, seed: 4 }, f - 100, 24)));
    expect(Math.max(...values.map(Math.abs))).toBeGreaterThan(0.25);
  });

  test('never goes beyond its depth, and stays about its value: over 20 seconds its mean is within a twelfth of the depth', () => {
    for (const rate of [1, 3, 8])
      for (const roughness of [0, 0.5, 1])
        for (let seed = 0; seed < 12; seed++) {
          const flicker: Modulator = { type: 'flicker', rate, depth: 0.5, roughness, seed };
          const values = Array.from({ length: 480 }, (_, f) => modulated(0, flicker, f, 24));
          expect(Math.max(...values.map(Math.abs))).toBeLessThanOrEqual(0.5);
          expect(Math.abs(values.reduce((a, b) => a + b, 0)) / 480).toBeLessThan(0.5 / 12);
        }
  });
});

test('a wave has its form, frequency and phase', () => {
  const wave = (form: 'sine' | 'triangle' | 'square', phase = 0): Modulator => ({
    type: 'wave',
    form,
    frequency: 2,
    depth: 3,
    phase,
  });
  // At 24 frames a second a wave of 2 hertz takes 12 frames.
  expect(modulated(0, wave('sine'), 3, 24)).toBeCloseTo(3, 6);
  expect(modulated(0, wave('sine', 90), 0, 24)).toBeCloseTo(3, 6);
  expect([0, 3, 6, 9, 12].map((f) => modulated(0, wave('triangle'), f, 24))).toEqual([0, 3, 0, -3, 0]);
  expect([0, 5, 6, 11, 12].map((f) => modulated(0, wave('square'), f, 24))).toEqual([3, 3, -3, -3, 3]);
});

test('a drift is slower than a flicker of its rate, and comes back', () => {
  const moves = (m: Modulator) => {
    const v = Array.from({ length: 2400 }, (_, f) => modulated(0, m, f, 24));
    return v.reduce((sum, x, i) => sum + (i > 0 ? Math.abs(x - v[i - 1]) : 0), 0);
  };
  const drift: Modulator = { type: 'drift', rate: 1, depth: 1, seed: 2 };
  expect(moves(drift)).toBeLessThan(moves({ type: 'flicker', rate: 1, depth: 1, roughness: 0, seed: 2 }));
  const mean =
    Array.from({ length: 100_000 }, (_, f) => modulated(0, drift, f, 24)).reduce((s, v) => s + v, 0) / 1e5;
  expect(Math.abs(mean)).toBeLessThan(0.05);
});

describe('a track', () => {
  const keys = (a: unknown, b: unknown, interpolation: Key['interpolation'] = 'linear') =>
    [
      { frame: 10, value: a, interpolation },
      { frame: 20, value: b },
    ] as never;

  test('adds modulators to keys, within what is declared', () => {
    const wave: Modulator = { type: 'wave', form: 'square', frequency: 1, depth: 5, phase: 0 };
    const track = { keys: keys(0, 10), modulators: [wave] };
    expect(valueAt(track, 1, number, 15, 24)).toBe(0);
    expect(valueAt(track, 1, number, 11, 24)).toBe(6);
    expect(valueAt({ modulators: [{ ...wave, depth: 1000 }] }, 1, number, 0, 24)).toBe(100);
    expect(valueAt({ modulators: [wave] }, 1, number, 0, 24)).toBe(6);
  });

  test('colours go along in linear light, or in OKLab', () => {
    const [red, blue] = [
      [1, 0, 0],
      [0, 0, 1],
    ] as const;
    expect(valueAt({ keys: keys(red, blue) }, red, colour, 15, 24)).toEqual([0.5, 0, 0.5]);
    const middle = valueAt({ keys: keys(red, blue), space: 'oklab' }, red, colour, 15, 24) as Rgb;
    const [a, b] = [oklab([...red]), oklab([...blue])];
    oklab(middle).forEach((v, i) => {
      expect(v).toBeCloseTo((a[i] + b[i]) / 2, 5);
    });
    for (const frame of [5, 10])
      expect(valueAt({ keys: keys(red, blue), space: 'oklab' }, blue, colour, frame, 24)).toEqual(red);
  });

  test('choices, switches and words hold; rows go along where both keys have as many', () => {
    const choice: ValueSpec = { ...described, type: 'choice', options: { a: 'A', b: 'B' }, default: 'a' };
    const toggle: ValueSpec = { ...described, type: 'toggle', default: false };
    expect([9, 10, 19, 20].map((f) => valueAt({ keys: keys('a', 'b') }, 'b', choice, f, 24))).toEqual([
      'a',
      'a',
      'a',
      'b',
    ]);
    expect([15, 20].map((f) => valueAt({ keys: keys(false, true) }, false, toggle, f, 24))).toEqual([
      false,
      true,
    ]);
    const rows: ValueSpec = {
      ...described,
      type: 'rows',
      columns: { x: number, n: { ...number, whole: true } },
      sets: {},
      default: [],
      most: 9,
    };
    expect(valueAt({ keys: keys([[0, 0]], [[1, 9]]) }, [], rows, 15, 24)).toEqual([[0.5, 5]]);
    expect(
      valueAt(
        {
          keys: keys(
            [[0, 0]],
            [
              [1, 9],
              [2, 2],
            ],
          ),
        },
        [],
        rows,
        15,
        24,
      ),
    ).toEqual([[0, 0]]);
  });
});

describe('keys', () => {
  const frames = fc.uniqueArray(fc.integer({ min: -50, max: 50 }), { minLength: 1, maxLength: 12 });

  test('put on frames stay in order, one a frame', () => {
    fc.assert(
      fc.property(frames, fc.integer({ min: -60, max: 60 }), (list, frame) => {
        const keys = keyOn(inOrder(list.map((f) => ({ frame: f, value: f }))), frame, 7);
        expect(keys.every((k, i) => i === 0 || keys[i - 1].frame < k.frame)).toBe(true);
        expect(numberOn(keys, frame)).toBe(7);
      }),
    );
  });

  test('thinned to a tolerance are nowhere further from the values', () => {
    const value = fc.double({ min: -10, max: 10, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(value, { minLength: 1, maxLength: 80 }),
        fc.double({ min: 0.001, max: 3, noNaN: true }),
        (values, tolerance) => {
          const keys = thinned(values, 5, tolerance);
          values.forEach((v, i) => {
            expect(Math.abs(numberOn(keys, 5 + i) - v)).toBeLessThanOrEqual(tolerance + 1e-9);
          });
        },
      ),
    );
    // A straight way needs its ends alone.
    expect(thinned([0, 1, 2, 3, 4], 1, 0.001)).toHaveLength(2);
  });
});

test('a constant level multiplies a value so that what was measured stays as on its frame', () => {
  const level: Modulator = {
    type: 'level',
    frame: 2,
    shares: [
      [1, 0.1],
      [2, 0.2],
      [4, 0.4],
      [6, 0],
      [7, 0.0001],
    ],
  };
  const at = (frame: number) => modulated(0.5, level, frame, 24);
  expect([1, 2, 3, 4].map(at)).toEqual([1, 0.5, expect.closeTo(0.5 * (0.2 / 0.3)), 0.25]);
  // Before and after what was measured it rests; where there is nothing to hold, and where it would run away, it ends.
  expect([-9, 6].map(at)).toEqual([1, 0.5]);
  expect(at(7)).toBe(0.5 * 16);
  expect(at(99)).toBe(at(7));
});
