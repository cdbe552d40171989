import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { convolveWith } from '../../tests/convolve';
import { gaussian as plainGaussian } from '../../tests/plain/gaussian';
import { layLight as plainLay } from '../../tests/plain/lay';
import { type Plane, plane } from '../../tests/plain/plane';
import { bottom as plainBottom, down as plainDown, addUp as plainUp } from '../../tests/plain/pyramid';
import { resample as plainResample } from '../../tests/plain/sample';
import { dilate as plainDilate, distance as plainDistance } from '../../tests/plain/shape';
import { takeLight as plainTake, softThreshold } from '../../tests/plain/take';
import { sumOfGaussians as plainSum } from '../../tests/plain/wide-sum';
import { noise, pictureOf, runtime, workspace } from '../../tests/runtime';
import { encodeSrgb } from '../colour/srgb';
import { cosTurns, exp, ln, power, sinTurns } from '../math/elementary';
import type { Picture } from '../picture/picture';
import { type Look, looks, toDisplay } from './display';
import { transformLength } from './fourier';
import {
  blurInto,
  exactGaussian,
  gaussian,
  gaussianPlane,
  gaussianTaps,
  recursiveGaussian,
} from './gaussian';
import * as point from './point';
import { addUp, bottom, down, sumOfGaussians } from './pyramid';
import { type Filter, resample, shrink } from './sample';
import { dilate, distance } from './shape';

/** Every kernel against its plain TypeScript reference (tests/plain/) over odd sizes. */
afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const sizes = fc.record({
  width: fc.constantFrom(1, 2, 3, 4, 5, 7, 13, 31, 37),
  height: fc.constantFrom(1, 2, 3, 5, 11, 17, 29),
  seed: fc.nat(),
});
const pictures = sizes.map(({ width, height, seed }) => ({ width, height, values: noise(seed) }));
const make = ({ width, height, values }: { width: number; height: number; values: (i: number) => number }) =>
  pictureOf(width, height, values);
const channel = (p: Picture, c: number): Plane => {
  const out = plane(p.width, p.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = p.data[i * 4 + c];
  return out;
};
const planesOf = (p: Picture): [Plane, Plane, Plane] => [channel(p, 0), channel(p, 1), channel(p, 2)];

/** Largest difference, over the largest value. */
function apart(a: ArrayLike<number>, b: ArrayLike<number>): number {
  expect(a.length).toBe(b.length);
  let [worst, peak] = [0, 1e-9];
  for (let i = 0; i < a.length; i++) {
    worst = Math.max(worst, Math.abs(a[i] - b[i]));
    peak = Math.max(peak, Math.abs(b[i]));
  }
  return worst / peak;
}
const check = <T>(arbitrary: fc.Arbitrary<T>, property: (value: T) => void, numRuns = 40) =>
  fc.assert(
    fc.property(arbitrary, (value) => {
      property(value);
      workspace.clear();
    }),
    { numRuns },
  );

test('elementary functions agree with the host’s', () => {
  check(fc.double({ min: -700, max: 700, noNaN: true }), (x) => {
    expect(Math.abs(exp(x) / Math.exp(x) - 1)).toBeLessThan(2e-15);
    expect(Math.abs(cosTurns(x) - Math.cos(2 * Math.PI * x))).toBeLessThan(2e-12);
    expect(Math.abs(sinTurns(x) - Math.sin(2 * Math.PI * x))).toBeLessThan(2e-12);
  });
  check(fc.double({ min: 1e-6, max: 1e6, noNaN: true }), (x) => {
    expect(Math.abs(ln(x) - Math.log(x))).toBeLessThan(1e-13);
    expect(Math.abs(power(x, 0.37) / x ** 0.37 - 1)).toBeLessThan(1e-13);
  });
});

describe('pixel by pixel', () => {
  test('copy, fill, over, plus, weighted sum, luminance, premultiply', () => {
    check(fc.tuple(pictures, fc.nat()), ([given, seed]) => {
      const a = make(given);
      const b = pictureOf(given.width, given.height, noise(seed + 7));
      const both = (f: (x: number, y: number, alpha: number, c: number) => number) =>
        Float64Array.from(a.data, (x, i) => f(x, b.data[i], a.data[i | 3], i & 3));
      expect(point.copy(workspace, a).data).toEqual(a.data);
      expect(Array.from(point.fill(workspace, 3, 2, [1, 2, 3, 4]).data.subarray(20))).toEqual([1, 2, 3, 4]);
      expect(
        apart(
          point.over(workspace, a, b).data,
          both((x, y, alpha) => x + y * (1 - alpha)),
        ),
      ).toBeLessThan(1e-6);
      expect(
        apart(
          point.plus(workspace, a, b).data,
          both((x, y, _, c) => (c === 3 ? Math.min(1, x + y) : x + y)),
        ),
      ).toBeLessThan(1e-6);
      expect(
        apart(
          point.weightedSum(workspace, a, 0.3, b, 2).data,
          both((x, y) => 0.3 * x + 2 * y),
        ),
      ).toBeLessThan(1e-6);
      expect(
        apart(
          point.premultiply(workspace, a).data,
          both((x, _, alpha, c) => (c === 3 ? x : x * alpha)),
        ),
      ).toBeLessThan(1e-6);
      const straight = point.unpremultiply(workspace, a);
      expect(
        apart(
          straight.data,
          both((x, _, alpha, c) => (c === 3 || alpha <= 0 ? x : x / alpha)),
        ),
      ).toBeLessThan(1e-6);
    });
  });

  test('mattes from alpha and luminance are held to 0…1', () => {
    const p = pictureOf(2, 1, (i) => [4, 2, 1, 0.25, -1, -1, -1, Number.NaN][i]);
    expect(Array.from(point.matteOf(workspace, p, 'alpha').data)).toEqual([0.25, 0]);
    expect(Array.from(point.matteOf(workspace, p, 'luminance').data)).toEqual([1, 0]);
  });

  const take = fc.record({
    threshold: fc.double({ min: 0, max: 5, noNaN: true }),
    knee: fc.double({ min: 0, max: 5, noNaN: true }),
    limit: fc.constantFrom(0, 3, 40),
    tint: fc.constant([1, 0.5, 0.25] as [number, number, number]),
  });
  test('taken light', () => {
    check(fc.tuple(pictures, take), ([given, options]) => {
      const p = make(given);
      if (p.data.length > 8) p.data.set([Number.NaN, 1, 1, 1, Infinity, 1, 1, 1], 0);
      const out = point.takeLight(workspace, p, options);
      for (const [c, reference] of plainTake(p, options).entries()) {
        expect(apart(channel(out, c).data, reference.data)).toBeLessThan(2e-5);
      }
      expect(channel(out, 3).data.every((a) => a === 0)).toBe(true);
    });
  });

  test('the soft threshold is 0 below, continuous with continuous slope, and y − t above', () => {
    const light = (y: number, t: number, k: number) => y * softThreshold(y, t, k);
    expect(light(0.4, 1, 0.5)).toBe(0);
    expect(light(3, 1, 0.5)).toBeCloseTo(2, 12);
    expect(light(1, 1, 0.5)).toBeCloseTo(0.125, 12);
    check(
      fc.tuple(
        fc.double({ min: 0.01, max: 100, noNaN: true }),
        fc.double({ min: 0.001, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 200, noNaN: true }),
      ),
      ([t, share, y]) => {
        const k = t * share;
        const step = 1e-6 * (1 + t);
        const [a, b, c] = [light(y, t, k), light(y + step, t, k), light(y + 2 * step, t, k)];
        expect(b).toBeGreaterThanOrEqual(a - 1e-9);
        expect((b - a) / step).toBeLessThan(1.001);
        // The slope changes no faster than the parabola's second derivative, 1/(2k).
        expect(Math.abs(c - 2 * b + a)).toBeLessThan(((1.1 * step) / (2 * k)) * step + 1e-9);
      },
    );
  });

  test('laid light, in every mode', () => {
    const options = fc.record({
      mode: fc.constantFrom('add', 'screen', 'lighten', 'over', 'under') as fc.Arbitrary<point.LayMode>,
      amount: fc.double({ min: 0.01, max: 8, noNaN: true }),
      alphaGrows: fc.boolean(),
      show: fc.constantFrom('result', 'light') as fc.Arbitrary<'result' | 'light'>,
      invert: fc.boolean(),
    });
    check(fc.tuple(pictures, options, fc.boolean()), ([given, o, kept]) => {
      const p = make(given);
      for (let i = 3; i < p.data.length; i += 4) p.data[i] = Math.min(1, p.data[i]);
      const light = pictureOf(given.width, given.height, (i) => (i % 4 === 3 ? 0 : noise(5)(i)));
      const mask = kept ? pictureOf(given.width, given.height, (i) => [0, 0.5, 1][i % 3], 1) : undefined;
      const out = point.layLight(workspace, p, light, { ...o, mask });
      expect(apart(out.data, plainLay(p, planesOf(light), { ...o, mask }))).toBeLessThan(1e-6);
    });
  });
});

describe('Gaussians', () => {
  test('exact: black outside, by the definition', () => {
    check(fc.tuple(pictures, fc.constantFrom(0, 0.4, 1, 2.7, 6)), ([given, sigma]) => {
      const p = make(given);
      const out = exactGaussian(workspace, p, sigma);
      for (let c = 0; c < 4; c++)
        expect(apart(channel(out, c).data, plainGaussian(channel(p, c), sigma).data)).toBeLessThan(2e-6);
    });
  });

  test('a few lights in the dark, across the spans that are passed over', () => {
    const given = pictureOf(300, 40, () => 0);
    for (const [x, y] of [
      [0, 0],
      [63, 12],
      [64, 25],
      [130, 39],
      [191, 20],
      [255, 5],
      [299, 39],
    ])
      given.data.set([3, 2, 1, 1], (y * 300 + x) * 4);
    for (const sigma of [0.7, 1.4, 3, 9]) {
      const [out, more] = [workspace.picture(300, 40), pictureOf(300, 40, () => 0.25)];
      blurInto(workspace, out, given, gaussianTaps(sigma), 0.5, false);
      blurInto(workspace, more, given, gaussianTaps(sigma), 2, true);
      for (const c of [0, 3]) {
        const exact = plainGaussian(channel(given, c), sigma).data;
        expect(
          apart(
            channel(out, c).data,
            exact.map((v) => v / 2),
          ),
        ).toBeLessThan(2e-6);
        expect(
          apart(
            channel(more, c).data,
            exact.map((v) => 0.25 + 2 * v),
          ),
        ).toBeLessThan(4e-6);
      }
    }
  });

  test('with the border continued, an even picture stays even', () => {
    for (const blur of [exactGaussian, recursiveGaussian]) {
      for (const sigma of [2, 5, 20]) {
        const out = blur(
          workspace,
          pictureOf(37, 23, () => 3),
          sigma,
          'continued',
        );
        expect(apart(out.data, new Float32Array(out.data.length).fill(3))).toBeLessThan(2e-4);
      }
    }
  });

  test('recursive: within 6e-4 of the peak of the exact', () => {
    for (const sigma of [4, 12, 20, 41]) {
      const p = pictureOf(301, 5, (i) => (i >> 2 === 301 * 2 + 150 ? 1000 : 0));
      const spread = exactGaussian(workspace, p, sigma);
      expect(apart(recursiveGaussian(workspace, p, sigma).data, spread.data)).toBeLessThan(1.2e-3);
    }
    check(pictures, (given) => {
      const p = make(given);
      expect(
        apart(recursiveGaussian(workspace, p, 5).data, exactGaussian(workspace, p, 5).data),
      ).toBeLessThan(2e-3);
    });
  });
});

describe('the pyramid', () => {
  test('down and up, by the plain reference', () => {
    check(pictures, (given) => {
      const p = make(given);
      const level = down(workspace, bottom(p));
      const lower = down(workspace, level);
      const target = workspace.blank(level.picture.width, level.picture.height);
      addUp(workspace, { ...level, picture: target }, lower);
      const full = workspace.blank(p.width, p.height);
      addUp(workspace, bottom(full), level);
      for (let c = 0; c < 4; c++) {
        const plainLevel = plainDown(plainBottom(channel(p, c)));
        const plainLower = plainDown(plainLevel);
        expect(apart(channel(level.picture, c).data, plainLevel.plane.data)).toBeLessThan(1e-6);
        expect(apart(channel(lower.picture, c).data, plainLower.plane.data)).toBeLessThan(1e-6);
        const back = { ...plainLevel, plane: plane(plainLevel.plane.width, plainLevel.plane.height) };
        plainUp(back, plainLower);
        expect(apart(channel(target, c).data, back.plane.data)).toBeLessThan(1e-6);
        const whole = plainBottom(plane(p.width, p.height));
        plainUp(whole, plainLevel);
        expect(apart(channel(full, c).data, whole.plane.data)).toBeLessThan(1e-6);
      }
    });
  });

  const kernels = [
    { sigma: 12, weight: 0.5 },
    { sigma: 5, weight: 0.3 },
    { sigma: 1.3, weight: 0.2 },
  ];
  test('a wide sum equals the plain one, and the exact sum of Gaussians within 1 % of its peak, at borders too', () => {
    const p = pictureOf(91, 75, () => 0);
    for (const [x, y, v] of [
      [40, 30, 100],
      [3, 0, 60],
      [90, 74, 80],
    ])
      p.data[(y * 91 + x) * 4 + 1] = v;
    const out = channel(sumOfGaussians(workspace, p, kernels), 1);
    const reference = channel(p, 1);
    expect(apart(out.data, plainSum(reference, kernels).data)).toBeLessThan(1e-6);
    const exact = new Float64Array(out.data.length);
    for (const k of kernels)
      for (const [i, v] of plainGaussian(reference, k.sigma).data.entries()) exact[i] += k.weight * v;
    expect(apart(out.data, exact)).toBeLessThan(0.01);
  });
});

test('convolution by FFT equals the sum by its definition', () => {
  check(fc.tuple(pictures, fc.constantFrom([1, 1], [3, 5], [8, 2], [7, 7])), ([given, [kw, kh]]) => {
    const p = make(given);
    const planes = [0, 1, 2].map((c) => pictureOf(kw, kh, noise(99 + c, 2), 1));
    const summed = (kernelOf: (c: number) => Picture) =>
      Float64Array.from(p.data, (_, i) => {
        const [c, x, y] = [i & 3, (i >> 2) % p.width, Math.floor((i >> 2) / p.width)];
        const { data } = kernelOf(c);
        let sum = 0;
        for (let v = 0; v < kh; v++) {
          for (let u = 0; u < kw; u++) {
            const [px, py] = [x - u + (kw >> 1), y - v + (kh >> 1)];
            if (px >= 0 && py >= 0 && px < p.width && py < p.height)
              sum += data[v * kw + u] * p.data[(py * p.width + px) * 4 + c];
          }
        }
        return sum;
      });
    expect(
      apart(
        convolveWith(workspace, p, planes[0]).data,
        summed(() => planes[0]),
      ),
    ).toBeLessThan(5e-6);
    // A kernel for each colour; alpha goes with blue.
    const colours = pictureOf(kw, kh, (i) => planes[Math.min(2, i & 3)].data[i >> 2]);
    const own = convolveWith(workspace, p, colours);
    expect(
      apart(
        own.data,
        summed((c) => planes[Math.min(2, c)]),
      ),
    ).toBeLessThan(5e-6);
  });
  for (const n of [1, 7, 97, 1001, 2879]) expect(transformLength(n) % 4).toBe(0);
});

describe('distance and discs', () => {
  const mattes = sizes.map(({ width, height, seed }) => ({
    width,
    height,
    values: (i: number) => (noise(seed)(i) > 1.35 ? 1 : noise(seed + 3)(i) / 4),
  }));
  test('distance is exact', () => {
    check(mattes, ({ width, height, values }) => {
      const p = pictureOf(width, height, values, 1);
      const exact = plainDistance(p);
      const out = distance(workspace, p).data;
      if (exact[0] === Infinity) expect(Math.min(...out)).toBeGreaterThan(1e5);
      else expect(apart(out, exact)).toBeLessThan(1e-6);
    });
    // Worked by hand: one lit pixel, a knight's move away √5.
    const one = pictureOf(5, 5, (i) => (i === 0 ? 1 : 0), 1);
    expect(distance(workspace, one).data[2 * 5 + 1]).toBeCloseTo(Math.sqrt(5), 6);
  });

  test('a disc’s maximum is exact for whole radii, between them for others', () => {
    check(fc.tuple(mattes, fc.constantFrom(0, 1, 2, 5, 20)), ([{ width, height, values }, radius]) => {
      const p = pictureOf(width, height, values, 1);
      expect(Array.from(dilate(workspace, p, radius).data)).toEqual(Array.from(plainDilate(p, radius)));
      const half = dilate(workspace, p, radius + 0.5).data;
      const [low, high] = [plainDilate(p, radius), plainDilate(p, radius + 1)];
      expect(
        apart(
          half,
          low.map((v, i) => (v + high[i]) / 2),
        ),
      ).toBeLessThan(1e-6);
    });
    expect(() => dilate(workspace, workspace.blank(2, 2, 1), 121)).toThrow(RangeError);
  });

  test('wide pictures and large discs, across the tiles', () => {
    const p = pictureOf(533, 9, (i) => (i % 97 === 0 ? i : 0), 1);
    expect(Array.from(dilate(workspace, p, 60).data)).toEqual(Array.from(plainDilate(p, 60)));
  });
});

describe('between pixels', () => {
  const sinc = (x: number) => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));
  const shapes: Record<Filter, { reach: number; weight(x: number): number }> = {
    bilinear: { reach: 1, weight: (x) => 1 - x },
    mitchell: {
      reach: 2,
      weight: (x) =>
        x < 1
          ? (7 * x ** 3 - 12 * x ** 2 + 16 / 3) / 6
          : ((-7 / 3) * x ** 3 + 12 * x ** 2 - 20 * x + 32 / 3) / 6,
    },
    lanczos: { reach: 3, weight: (x) => (x < 3 ? sinc(x) * sinc(x / 3) : 0) },
  };
  const maps = [
    { a: 0.8, b: 0.3, c: -2, d: -0.3, e: 0.7, f: 4 },
    // Without a turn rows are read together; one is mirrored.
    { a: 0.8, b: 0, c: -2.3, d: 0, e: 0.7, f: 1.6 },
    { a: -1.1, b: 0, c: 12, d: 0, e: 1, f: -0.4 },
  ];
  test.each(Object.keys(shapes) as Filter[])('%s, turned and scaled', (filter) => {
    check(pictures, (given) => {
      const p = make(given);
      const { reach, weight } = shapes[filter];
      for (const m of maps) {
        const exact = plainResample(p, 17, 9, m, reach, weight);
        // Where coverage just ends, the rounding of the place says on which side of 0 it is: all or no colour below 0.
        const got = resample(workspace, p, 17, 9, m, filter).data.map((v, i) =>
          i % 4 !== 3 && Math.abs(exact[i | 3]) < 0.02 && (v === 0 || exact[i] === 0) ? exact[i] : v,
        );
        // Positions are held to 1/256 pixel: an error that goes by what lies nearby, which a result between lobes may be far below.
        const nearby = p.data.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
        expect(apart([...got, nearby], [...exact, nearby])).toBeLessThan(0.05);
      }
    });
    const same = pictureOf(9, 7, (i) => ((i & 3) === 3 ? Math.min(1, noise(3)(i)) : noise(3)(i)));
    const identity = { a: 1, b: 0, c: 0, d: 0, e: 1, f: 0 };
    if (filter !== 'mitchell')
      expect(apart(resample(workspace, same, 9, 7, identity, filter).data, same.data)).toBeLessThan(1e-6);
  });

  test.each([3, 20])('a plane blurred by σ %i is a channel of a picture blurred', (sigma) => {
    check(pictures, (given) => {
      const p = make(given);
      const grey = pictureOf(p.width, p.height, (i) => p.data[i & ~3]);
      const plane = pictureOf(p.width, p.height, (i) => p.data[i * 4], 1);
      for (const edge of ['black', 'continued'] as const) {
        const want = gaussian(workspace, grey, sigma, edge);
        const got = gaussianPlane(workspace, plane, sigma, edge);
        expect(
          apart(
            got.data,
            got.data.map((_, i) => want.data[i * 4]),
          ),
        ).toBeLessThan(1e-4);
      }
    });
  });

  test('shrinking keeps the mean, whatever the sizes', () => {
    check(fc.tuple(pictures, fc.double({ min: 0.05, max: 1, noNaN: true })), ([given, scale]) => {
      const p = make(given);
      const mean = (d: Float32Array) => d.reduce((a, b) => a + b, 0) / d.length;
      expect(Math.abs(mean(shrink(workspace, p, scale).data) - mean(p.data))).toBeLessThan(1e-4);
    });
    const four = pictureOf(4, 2, (i) => (i & 3 ? 0 : [1, 2, 3, 4, 5, 6, 7, 8][i >> 2]));
    expect(channel(shrink(workspace, four, 0.5), 0).data).toEqual(Float32Array.of(3.5, 5.5));
  });
});

describe('conversion', () => {
  test('display is sRGB rounded exactly, in every look', () => {
    check(fc.tuple(pictures, fc.constantFrom(...looks)), ([given, look]) => {
      const p = make({ ...given, values: (i) => given.values(i) - 0.1 });
      const out = toDisplay(workspace, p, { look, stops: -1 });
      for (let i = 0; i < out.length; i++) {
        const at = i & ~3;
        if ((i & 3) === 3) {
          expect(out[i]).toBe(255);
          continue;
        }
        const [r, g, b, a] = p.data.subarray(at, at + 4);
        const shown: Record<Look, number> = {
          colour: p.data[i],
          red: r,
          green: g,
          blue: b,
          alpha: a,
          luminance: Math.fround(0.2126 * r + 0.7152 * g + 0.0722 * b),
        };
        const v = shown[look] / 2;
        const exact = look === 'alpha' ? a * 255 : encodeSrgb(Math.min(1, Math.max(0, v))) * 255;
        expect(Math.abs(out[i] - Math.min(255, Math.max(0, exact)))).toBeLessThan(0.5002);
      }
    });
  });
});
