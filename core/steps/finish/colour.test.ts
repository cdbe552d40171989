import { converter } from 'culori';
import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { plainColour } from '../../../tests/plain/colour';
import { pictureOf, runtime, workspace } from '../../../tests/runtime';
import { chromaticityOf, daylight, tintedDaylight, whiteMatrix } from '../../colour/white-balance';
import { type ColourOp, hable, runColour } from '../../kernels/colour';
import { monotoneCurve } from '../../math/monotone';
import type { Rgb } from '../../math/rgb';
import { stepSpec } from '../registry';
import { defaultsOf, type Values } from '../shared/define';
import { knotsOf } from './curves';

/** Steps that change each pixel's colour by itself, against their formulas in double precision and against published numbers. */
afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const programOf = (id: string, values: Values): readonly ColourOp[] => {
  const spec = stepSpec(id)!;
  return spec.program!({ ...defaultsOf(spec.values), ...values } as never);
};
/** Colours of one alpha through a program. */
function through(program: readonly ColourOp[], colours: readonly Rgb[], alpha = 1): number[][] {
  const picture = pictureOf(colours.length, 1, (i) => {
    const c = i & 3;
    return c === 3 ? alpha : colours[i >> 2][c] * (alpha > 0 ? alpha : 1);
  });
  const out = runColour(workspace, picture, program);
  const result = colours.map((_, i) => {
    const at = i * 4;
    expect(out.data[at + 3]).toBe(Math.fround(alpha));
    return Array.from(out.data.subarray(at, at + 3), (v) => (alpha > 0 ? v / alpha : v));
  });
  workspace.clear();
  return result;
}
const light = fc.double({ min: -13, max: 13, noNaN: true }).map((stops) => 2 ** stops);
const colour = fc.tuple(light, light, light).map((c) => c as unknown as Rgb);
const alphas = fc.constantFrom(1, 0.5, 0.03, 0);

/** Values of each step over the whole of their range. */
const stop = fc.double({ min: -8, max: 8, noNaN: true });
const points = fc.uniqueArray(fc.tuple(stop, stop), { selector: ([x]) => Math.round(x * 8), maxLength: 6 });
const channel = <T>(a: fc.Arbitrary<T>, what: string): Record<string, fc.Arbitrary<T>> =>
  Object.fromEntries(['Red', 'Green', 'Blue'].map((c) => [what + c, a]));
const ranged = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const cases: Record<string, fc.Arbitrary<unknown>> = {
  grade: fc.record({
    ...channel(ranged(0, 4), 'slope'),
    ...channel(ranged(-1, 1), 'offset'),
    ...channel(ranged(0.2, 4), 'power'),
    saturation: ranged(0, 3),
    clamp: fc.boolean(),
  }),
  gain: fc.record({
    stops: ranged(-8, 8),
    colour: fc.tuple(ranged(0, 4), ranged(0, 4), ranged(0, 4)),
  }),
  'white-balance': fc.record({ temperature: ranged(2500, 25000), tint: ranged(-50, 50) }),
  saturation: fc.record({
    space: fc.constantFrom('oklch', 'linear'),
    saturation: ranged(0, 3),
    hue: ranged(-360, 360),
  }),
  levels: fc.record({
    black: ranged(-1, 1),
    white: ranged(1.1, 9),
    gamma: ranged(0.2, 5),
    toBlack: ranged(-1, 1),
    toWhite: ranged(-1, 9),
  }),
  curves: fc.record({
    luminance: points,
    master: points,
    red: points,
    green: points,
    blue: points,
    saturation: points.map((list) => list.map(([x, y]) => [x, Math.abs(y) / 3])),
  }),
  'tone-curve': fc.record({
    curve: fc.constantFrom('reinhard', 'hable'),
    exposure: ranged(-6, 6),
    white: ranged(2.5, 16),
    byLuminance: ranged(0, 1),
  }),
};

test.each(Object.keys(cases))(
  '%s is its formula in double precision, over the whole of its range, for any alpha',
  (id) => {
    fc.assert(
      fc.property(
        cases[id],
        fc.array(colour, { minLength: 1, maxLength: 9 }),
        alphas,
        (values, colours, alpha) => {
          const program = programOf(id, values as Values);
          const got = through(program, colours, alpha);
          for (const [i, c] of colours.entries()) {
            const at = (by: number) => plainColour(program, c.map((v) => v * by) as [number, number, number]);
            const wanted = at(1);
            // What single precision does not know of a number, a formula may make much of.
            const [less, more] = [at(1 - 4e-7), at(1 + 4e-7)];
            const scale = Math.max(...wanted.map(Math.abs), ...c.map(Math.abs)) * 4e-4 + 1e-5;
            wanted.forEach((w, k) => {
              const unsure = 4 * Math.abs(more[k] - less[k]);
              expect(Math.abs(got[i][k] - w)).toBeLessThan(Math.max(scale, Math.abs(w) * 4e-4) + unsure);
            });
          }
        },
      ),
      { numRuns: 120 },
    );
  },
);

test('nothing is made where there is nothing: an offset does not light what is empty', () => {
  expect(through(programOf('grade', { offsetRed: 0.2, offsetGreen: 0.2 }), [[0, 0, 0]], 0)).toEqual([
    [0, 0, 0],
  ]);
  expect(through(programOf('levels', { toBlack: 0.5 }), [[0, 0, 0]], 0.5)[0][0]).toBeCloseTo(0.5, 5);
});

test('several steps as one are bit for bit what they are one after the other', () => {
  const steps: [string, Values][] = [
    ['white-balance', { temperature: 4200, tint: 8 }],
    ['grade', { slopeRed: 1.2, offsetBlue: 0.01, powerGreen: 0.9, saturation: 1.1 }],
    [
      'curves',
      {
        luminance: [
          [-4, -5],
          [0, 0],
          [4, 5],
        ],
      },
    ],
    ['saturation', { saturation: 1.3, hue: 12 }],
    ['tone-curve', {}],
  ];
  const picture = pictureOf(130, 3, (i) =>
    (i & 3) === 3 ? [1, 0.3, 0, 0.7][(i >> 2) % 4] : ((i * 37) % 101) / 29,
  );
  let one = picture;
  for (const [id, values] of steps) one = runColour(workspace, one, programOf(id, values as Values));
  const together = steps.flatMap(([id, values], i): ColourOp[] => [
    ...(i === 0 ? [] : [{ type: 'between' } as const]),
    ...programOf(id, values as Values),
  ]);
  expect(Array.from(runColour(workspace, picture, together).data)).toEqual(Array.from(one.data));
});

describe('Grade', () => {
  test('is the ASC CDL: out = clamp((in · slope + offset))^power, then saturation about luma', () => {
    // Worked by hand after the ASC's formula, clamping: 0.5 · 1.2 + 0.1 = 0.7; 0.7^1.5 = 0.585662.
    const [[r]] = through(programOf('grade', { slopeRed: 1.2, offsetRed: 0.1, powerRed: 1.5, clamp: true }), [
      [0.5, 0, 0],
    ]);
    expect(r).toBeCloseTo(0.585662, 5);
    // Luma of (1, 0, 0) is 0.2126: at saturation 0.5 red is 0.6063, the others 0.1063.
    const [[a, b, c]] = through(programOf('grade', { saturation: 0.5 }), [[1, 0, 0]]);
    expect([a, b, c].map((v) => Number(v.toFixed(4)))).toEqual([0.6063, 0.1063, 0.1063]);
  });
  test('without clamping lights keep what is above 1, and what is below 0 stays', () => {
    const [[r, g]] = through(programOf('grade', { powerRed: 2, powerGreen: 2, offsetGreen: -3 }), [
      [6, 1, 0],
    ]);
    expect(r).toBeCloseTo(36, 3);
    expect(g).toBeCloseTo(-2, 5);
  });
});

describe('White balance', () => {
  test('daylight has the chromaticities of CIE 15:2004, table T.1: D50, D55, D65, D75', () => {
    for (const [kelvin, x, y] of [
      [5003, 0.3457, 0.3585],
      [5503, 0.3324, 0.3474],
      [6504, 0.3127, 0.329],
      [7504, 0.299, 0.3149],
    ]) {
      const [dx, dy] = daylight(kelvin);
      expect(Math.abs(dx - x)).toBeLessThan(0.0003);
      expect(Math.abs(dy - y)).toBeLessThan(0.0003);
    }
  });
  test('is Bradford’s adaptation: D50 to D65 by culori, which has the matrix of the CSS Color Module', () => {
    const toXyz65 = converter('xyz65');
    const m = whiteMatrix([0.34567, 0.3585]);
    // The white of D50 in linear Rec. 709, by culori without adaptation: it becomes neutral.
    const toLinear = converter('lrgb');
    const [x, y] = [0.34567, 0.3585];
    const white = toLinear({ mode: 'xyz65', x: x / y, y: 1, z: (1 - x - y) / y });
    const rgb = [white.r, white.g, white.b];
    const out = [0, 3, 6].map((row) => m[row] * rgb[0] + m[row + 1] * rgb[1] + m[row + 2] * rgb[2]);
    for (const v of out) expect(v).toBeCloseTo(1, 3);
    // Any colour keeps what it is to a D50 observer: CSS Color 4's D50 to D65 matrix, on a colour given in XYZ of D50.
    const d50 = { mode: 'xyz50', x: 0.2, y: 0.3, z: 0.1 } as const;
    const wanted = toXyz65(d50);
    const raw = toLinear({ mode: 'xyz65', x: 0.2, y: 0.3, z: 0.1 });
    const c = [raw.r, raw.g, raw.b];
    const [r, g, b] = [0, 3, 6].map((row) => m[row] * c[0] + m[row + 1] * c[1] + m[row + 2] * c[2]);
    const back = toXyz65({ mode: 'lrgb', r, g, b });
    for (const k of ['x', 'y', 'z'] as const) expect(Math.abs(back[k] - wanted[k])).toBeLessThan(3e-4);
  });
  test('at 6504 K it is neutral; a lower temperature cools, tint above 0 takes green away', () => {
    const at = (values: Values) => through(programOf('white-balance', values), [[0.5, 0.5, 0.5]])[0];
    const [r, , b] = at({ temperature: 4000 });
    expect(r).toBeLessThan(0.5);
    expect(b).toBeGreaterThan(0.5);
    const [tr, tg] = at({ tint: 20 });
    expect(tg / tr).toBeLessThan(0.97);
    const [x, y] = tintedDaylight(5000, 0);
    expect([x, y].map((v, i) => Math.abs(v - daylight(5000)[i]) < 1e-9)).toEqual([true, true]);
    for (const v of at({ temperature: 6505 })) expect(v).toBeCloseTo(0.5, 3);
  });
  test('a sampled grey becomes grey, with its luminance', () => {
    const grey: Rgb = [0.3, 0.2, 0.12];
    const [out] = through(programOf('white-balance', { by: 'grey', grey }), [grey]);
    expect(Math.max(...out) - Math.min(...out)).toBeLessThan(1e-5);
    const y = 0.2126 * 0.3 + 0.7152 * 0.2 + 0.0722 * 0.12;
    expect(out[1]).toBeCloseTo(y, 5);
    expect(chromaticityOf([0, 0, 0])).toBeUndefined();
  });
});

test('Saturation in OKLCh turns hue and scales chroma as culori does, and keeps lightness', () => {
  const [toOklch, toLinear] = [converter('oklch'), converter('lrgb')];
  fc.assert(
    fc.property(
      fc.tuple(ranged(0.01, 1), ranged(0.01, 1), ranged(0.01, 1)),
      ranged(0, 2),
      ranged(-180, 180),
      (c, amount, hue) => {
        const [out] = through(programOf('saturation', { saturation: amount, hue }), [c as unknown as Rgb]);
        const { l, c: chroma, h = 0 } = toOklch({ mode: 'lrgb', r: c[0], g: c[1], b: c[2] });
        const { r, g, b } = toLinear({ mode: 'oklch', l, c: chroma * amount, h: h + hue });
        [r, g, b].forEach((v, k) => {
          expect(Math.abs(out[k] - v)).toBeLessThan(2e-4);
        });
      },
    ),
    { numRuns: 60 },
  );
});

describe('Curves', () => {
  test('go through their points as SciPy’s PCHIP does (1.17, PchipInterpolator)', () => {
    const { at } = monotoneCurve([
      [-6, -8],
      [-2, -2.5],
      [0, 0.2],
      [3, 2],
      [7, 9],
    ]);
    const reference = [
      -8, -6.612999618126273, -5.234665648336727, -3.8639988543788184, -2.5, -1.0229084039018115, 0.2,
      0.8515546291471252, 1.3346882056626714, 2, 3.1336235855728427, 4.733062234794907, 6.715969766619518, 9,
    ];
    reference.forEach((v, i) => {
      expect(at(i - 6)).toBeCloseTo(v, 12);
    });
  });
  test('never overshoot: between two points a curve stays between them', () => {
    fc.assert(
      fc.property(
        points.filter((p) => p.length > 1),
        (list) => {
          const knots = knotsOf(list);
          const { at } = monotoneCurve(knots);
          for (let i = 1; i < knots.length; i++) {
            const [[x0, y0], [x1, y1]] = [knots[i - 1], knots[i]];
            for (let t = 0; t <= 1; t += 0.05) {
              const y = at(x0 + (x1 - x0) * t);
              expect(y).toBeGreaterThanOrEqual(Math.min(y0, y1) - 1e-9);
              expect(y).toBeLessThanOrEqual(Math.max(y0, y1) + 1e-9);
            }
          }
        },
      ),
    );
  });
  test('of luminance lift highlights and keep their hue and saturation; straight on above the last point', () => {
    const lift = programOf('curves', {
      luminance: [
        [-2, -2],
        [0, 0],
        [3, 4],
      ],
    });
    const amber: Rgb = [6, 2.4, 0.5];
    const [out] = through(lift, [amber]);
    expect(out[0]).toBeGreaterThan(6);
    expect(out[1] / out[0]).toBeCloseTo(amber[1] / amber[0], 5);
    expect(out[2] / out[0]).toBeCloseTo(amber[2] / amber[0], 5);
    // Each further stop of light is as many stops more as the last piece says.
    const [[a], [b], [c]] = through(lift, [
      [8, 8, 8],
      [16, 16, 16],
      [32, 32, 32],
    ]);
    expect(Math.log2(b / a)).toBeCloseTo(Math.log2(c / b), 3);
    expect(Math.log2(b / a)).toBeGreaterThan(1);
  });
});

describe('Tone curve', () => {
  test('Reinhard: white becomes 1, and L (1 + L/w²)/(1 + L) below it', () => {
    const program = (white: number) => programOf('tone-curve', { curve: 'reinhard', white, byLuminance: 1 });
    const w = 0.18 * 2 ** 5;
    const [[a], [b]] = through(program(5), [
      [w, w, w],
      [0.5, 0.5, 0.5],
    ]);
    expect(a).toBeCloseTo(1, 5);
    expect(b).toBeCloseTo((0.5 * (1 + 0.5 / w ** 2)) / 1.5, 5);
  });
  test('Hable: the published curve, white to white', () => {
    // His numbers (from memory): A 0.15, B 0.50, C 0.10, D 0.20, E 0.02, F 0.30; of the white 11.2, 19.38/24.476 − 1/15.
    expect(hable(5.6)).toBeCloseTo(19.38 / 24.476 - 1 / 15, 6);
    const white = Math.log2(5.6 / 0.18);
    const [[a], [b]] = through(programOf('tone-curve', { white, byLuminance: 1 }), [
      [5.6, 5.6, 5.6],
      [1, 1, 1],
    ]);
    expect(a).toBeCloseTo(1, 4);
    expect(b).toBeCloseTo(hable(1) / hable(5.6), 4);
  });
  test('grey stays grey; by luminance a saturated light keeps its hue, by channels it goes towards white', () => {
    const red: Rgb = [20, 1, 0.2];
    const [kept] = through(programOf('tone-curve', { byLuminance: 1 }), [red]);
    const [bleached] = through(programOf('tone-curve', { byLuminance: 0 }), [red]);
    expect(kept[1] / kept[0]).toBeCloseTo(0.05, 4);
    expect(bleached[1] / bleached[0]).toBeGreaterThan(0.2);
    for (const share of [0, 0.3, 1]) {
      const [[r, g, b]] = through(programOf('tone-curve', { byLuminance: share }), [[3, 3, 3]]);
      expect(Math.abs(r - g) + Math.abs(g - b)).toBeLessThan(1e-6);
    }
  });
});
