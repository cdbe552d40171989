import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { runtime, workspace } from '../../../tests/runtime';
import { shrink } from '../../kernels/sample';
import { exp } from '../../math/elementary';
import type { Picture } from '../../picture/picture';
import { defaultsOf, type Values } from '../shared/define';
import { bloom, bloomKernels } from './bloom';

const values = (given: Values = {}) => ({ ...defaultsOf(bloom.values), ...given }) as never;
const run = (picture: Picture, given: Values = {}, slots: Record<string, Picture> = {}) =>
  bloom.run(workspace, picture, slots, values(given));
const blank = (width: number, height: number, channels?: 1 | 4) => workspace.blank(width, height, channels);
const scaleDown = (p: Picture, scale: number) => shrink(workspace, p, scale);

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

/** Light of a picture: the sum of one channel. */
const sum = (p: Picture, channel = 1) => {
  let total = 0;
  for (let i = channel; i < p.data.length; i += p.channels) total += p.data[i];
  return total;
};

/** A point of light of the given sum at (x, y), shared among the four pixels around it, over transparent black. */
function point(size: number, x: number, y: number, light: number): Picture {
  const picture = blank(size, size);
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  for (const [dx, dy] of [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ]) {
    const share = (dx ? x - x0 : 1 - x + x0) * (dy ? y - y0 : 1 - y + y0);
    for (let c = 0; c < 3; c++) picture.data[((y0 + dy) * size + x0 + dx) * 4 + c] = light * share;
  }
  return picture;
}

/** Random pictures of odd sizes with some values far above 1, premultiplied. */
const pictures = fc
  .record({
    width: fc.integer({ min: 1, max: 23 }),
    height: fc.integer({ min: 1, max: 17 }),
    seed: fc.integer(),
  })
  .map(({ width, height, seed }) => {
    const p = blank(width, height);
    let s = seed | 1;
    const random = () => {
      s = Math.imul(s ^ (s >>> 15), 0x2c1b3c6d);
      s ^= s << 7;
      return (s >>> 0) / 2 ** 32;
    };
    for (let i = 0; i < p.data.length; i += 4) {
      const alpha = random() < 0.2 ? 0 : random();
      for (let c = 0; c < 3; c++) p.data[i + c] = random() * (random() < 0.1 ? 60 : 1.5);
      p.data[i + 3] = alpha;
    }
    return p;
  });

const someValues = fc.record({
  threshold: fc.double({ min: 0, max: 5, noNaN: true }),
  knee: fc.double({ min: 0, max: 5, noNaN: true }),
  limit: fc.constantFrom(0, 3, 40),
  radius: fc.double({ min: 1, max: 60, noNaN: true }),
  tightness: fc.double({ min: 0, max: 1, noNaN: true }),
  mode: fc.constantFrom('add', 'screen', 'lighten', 'over', 'under'),
  amount: fc.double({ min: 0.01, max: 8, noNaN: true }),
  alphaGrows: fc.boolean(),
}) as fc.Arbitrary<Values>;

const everything = { threshold: 0, knee: 0, amount: 1, radius: 40 };

describe('the laws that hold for every step', () => {
  test('1 neutral: amount 0 is declared neutral, so that the step is not run', () => {
    expect(bloom.neutral(values({ amount: 0 }))).toBe(true);
    expect(bloom.neutral(values({ amount: 0, show: 'light' }))).toBe(false);
    expect(bloom.neutral(values({ amount: 0.01 }))).toBe(false);
  });

  test.each([
    { shape: 'a smooth light', tolerance: 0.01, lit: (r: number) => 30 * exp(-(r * r) / 200) },
    { shape: 'a disc with a hard edge', tolerance: 0.06, lit: (r: number) => (r < 16 ? 20 : 0) },
  ])(
    '3 draft: half size gives the full result scaled down, $shape within $tolerance of the peak',
    ({ lit, tolerance }) => {
      const picture = blank(160, 120);
      for (let y = 0; y < 120; y++) {
        for (let x = 0; x < 160; x++)
          picture.data.fill(lit(Math.hypot(x - 80, y - 55)), (y * 160 + x) * 4, (y * 160 + x) * 4 + 3);
      }
      const settings = { threshold: 2, knee: 1, radius: 48, show: 'light', amount: 1 };
      const full = scaleDown(run(picture, settings), 0.5);
      const draft = run(scaleDown(picture, 0.5), { ...settings, radius: 24 });
      let [worst, peak] = [0, 0];
      for (let i = 0; i < full.data.length; i += 4) {
        worst = Math.max(worst, Math.abs(full.data[i] - draft.data[i]));
        peak = Math.max(peak, full.data[i]);
      }
      expect(worst).toBeLessThan(tolerance * peak);
    },
  );

  test('4 where: outside its matte no bit changes; at 0.5 it is half-way', () => {
    fc.assert(
      fc.property(pictures, someValues, (picture, given) => {
        const matte = blank(picture.width, picture.height, 1);
        for (let i = 0; i < matte.data.length; i++) matte.data[i] = [0, 0.5, 1][i % 3];
        const whole = run(picture, given);
        const maskedBy = run(picture, given, { mask: matte });
        const inverted = run(picture, { ...given, invert: true }, { mask: matte });
        for (let i = 0; i < picture.data.length; i++) {
          const m = [0, 0.5, 1][(i >> 2) % 3];
          const outside = m === 0 ? maskedBy : m === 1 ? inverted : undefined;
          if (outside) expect(Object.is(outside.data[i], picture.data[i])).toBe(true);
          if (m === 1) expect(maskedBy.data[i]).toBe(whole.data[i]);
          if (m !== 0.5) continue;
          const half = picture.data[i] + (whole.data[i] - picture.data[i]) / 2;
          expect(Math.abs(maskedBy.data[i] - half)).toBeLessThanOrEqual(1e-6 * Math.max(1, Math.abs(half)));
        }
      }),
      { numRuns: 60 },
    );
  });

  test('light is taken only from inside its matte, by its share', () => {
    const two = point(65, 16, 32, 20);
    two.data.set(
      point(65, 48, 32, 20).data.subarray((32 * 65 + 48) * 4, (32 * 65 + 48) * 4 + 4),
      (32 * 65 + 48) * 4,
    );
    const lightMask = blank(65, 65, 1);
    for (let i = 0; i < lightMask.data.length; i++) lightMask.data[i] = i % 65 < 32 ? 0.5 : 0;
    const alone = { threshold: 0, knee: 0, radius: 6, show: 'light', amount: 1 };
    const whole = sum(run(two, alone));
    expect(sum(run(two, alone, { lightMask })) / whole).toBeCloseTo(0.25, 2);
  });

  test('5 alpha: stays in 0…1, grows with light or is left alone; colour is not clamped', () => {
    fc.assert(
      fc.property(pictures, someValues, (picture, given) => {
        const out = run(picture, given);
        for (let i = 3; i < out.data.length; i += 4) {
          expect(out.data[i]).toBeGreaterThanOrEqual(0);
          expect(out.data[i]).toBeLessThanOrEqual(1);
          if (given.alphaGrows) expect(out.data[i]).toBeGreaterThanOrEqual(picture.data[i] - 1e-7);
          else expect(out.data[i]).toBe(picture.data[i]);
        }
      }),
      { numRuns: 60 },
    );
    const bright = run(point(33, 16, 16, 5000), { ...everything, radius: 8 });
    expect(Math.max(...bright.data)).toBeGreaterThan(100);
    expect(bright.data[(16 * 33 + 16) * 4 + 3]).toBe(1);
  });

  test('6 finite: finite stays finite; what is not spreads no further than its pixel', () => {
    fc.assert(
      fc.property(pictures, someValues, (picture, given) => {
        expect(run(picture, given).data.every(Number.isFinite)).toBe(true);
      }),
      { numRuns: 60 },
    );
    const broken = point(31, 15, 15, 50);
    const at = (5 * 31 + 5) * 4;
    broken.data.set([Number.NaN, 1, 1, 1], at);
    broken.data.set([Infinity, 1, 1, 1], at + 40);
    const out = run(broken, everything);
    for (let i = 0; i < out.data.length; i++) {
      const touched = (i >= at && i < at + 4) || (i >= at + 40 && i < at + 44);
      if (!touched) expect(Number.isFinite(out.data[i])).toBe(true);
    }
  });

  test.each([
    [0, 0.001],
    // What is above a threshold changes as the point is spread over more pixels.
    [1, 0.005],
  ])(
    '7 steady: a point moved by fractions of a pixel keeps its light; threshold %d, within %d',
    (threshold, most) => {
      const lights: number[] = [];
      for (const [dx, dy] of [
        [0, 0],
        [0.25, 0],
        [0.5, 0.5],
        [0.75, 0.3],
        [1, 1],
        [1.5, 0.5],
        [2.25, 3.75],
      ]) {
        const out = run(point(257, 120 + dx, 121 + dy, 800), {
          ...everything,
          threshold,
          knee: threshold / 2,
          radius: 32,
          show: 'light',
        });
        lights.push(sum(out));
      }
      expect((Math.max(...lights) - Math.min(...lights)) / Math.min(...lights)).toBeLessThan(most);
    },
  );
});

describe('soft bloom', () => {
  test('keeps the energy within 0.1 % away from borders', () => {
    for (const radius of [1, 7, 24, 60]) {
      const out = run(point(601, 300, 300, 100), { ...everything, radius, show: 'light' });
      expect(Math.abs(sum(out) - 100) / 100).toBeLessThan(0.001);
    }
  });

  test('is round: equal within 3 % at equal distance in all directions', () => {
    const size = 601;
    const c = 300;
    const { data } = run(point(size, c, c, 1e6), { ...everything, radius: 96, show: 'light' });
    const at = (x: number, y: number) => {
      const [x0, y0] = [Math.floor(x), Math.floor(y)];
      const [fx, fy] = [x - x0, y - y0];
      const v = (i: number, j: number) => data[((y0 + j) * size + x0 + i) * 4];
      return (v(0, 0) * (1 - fx) + v(1, 0) * fx) * (1 - fy) + (v(0, 1) * (1 - fx) + v(1, 1) * fx) * fy;
    };
    for (const r of [12, 24, 40, 64, 96, 120]) {
      const ring = Array.from({ length: 64 }, (_, i) => {
        const angle = (i / 64) * 2 * Math.PI;
        return at(c + r * Math.cos(angle), c + r * Math.sin(angle));
      });
      expect((Math.max(...ring) - Math.min(...ring)) / Math.max(...ring)).toBeLessThan(0.03);
    }
  });

  test('falls off as declared: 1/r, 1/r² and 1/r³ at tightness 0, 0.5 and 1', () => {
    for (const [tightness, power] of [
      [0, 1],
      [0.5, 2],
      [1, 3],
    ]) {
      const kernels = bloomKernels(512, tightness);
      // The exact sum of Gaussians in closed form, at two distances well inside the range of widths.
      const value = (r: number) =>
        kernels.reduce(
          (s, k) => s + (k.weight * exp(-(r * r) / (2 * k.sigma ** 2))) / (2 * Math.PI * k.sigma ** 2),
          0,
        );
      const slope = Math.log(value(24) / value(96)) / Math.log(96 / 24);
      expect(Math.abs(slope - power)).toBeLessThan(0.25);
      expect(kernels.reduce((s, k) => s + k.weight, 0)).toBeCloseTo(1, 12);
    }
  });

  test('keeps hue: a coloured light stays in its ratio, times the tint', () => {
    const picture = blank(64, 64);
    picture.data.set([8, 4, 2, 1], (32 * 64 + 32) * 4);
    const out = run(picture, { threshold: 1, knee: 0.5, radius: 16, show: 'light', tint: [1, 0.5, 0.25] });
    const p = (32 * 64 + 40) * 4;
    expect(out.data[p] / out.data[p + 1]).toBeCloseTo(4, 4);
    expect(out.data[p + 1] / out.data[p + 2]).toBeCloseTo(4, 4);
  });

  test('takes from the light slot, and a limit holds stray pixels', () => {
    const picture = blank(64, 64);
    const lamp = point(64, 32, 32, 40);
    expect(sum(run(picture, everything))).toBe(0);
    expect(sum(run(picture, everything, { light: lamp }))).toBeGreaterThan(10);
    const held = run(point(129, 64, 64, 40), { ...everything, radius: 12, limit: 5, show: 'light' });
    expect(sum(held)).toBeCloseTo(5, 2);
  });
});
