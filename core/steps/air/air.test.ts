import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../../tests/runtime';
import { mistCurves } from '../../kernels/air';
import type { Rgb } from '../../math/rgb';
import type { Picture } from '../../picture/picture';
import { stepSpec } from '../registry';
import { defaultsOf, type Values } from '../shared/define';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const [width, height] = [64, 48];
function run(type: string, picture: Picture, values: Values, slots: Record<string, Picture> = {}, frame = 0) {
  const spec = stepSpec(type)!;
  return spec.run(workspace, picture, slots, { ...defaultsOf(spec.values), ...values } as never, [], frame);
}
/** A depth pass: one number a pixel, as grey. */
const depthOf = (value: (x: number, y: number) => number, w = width, h = height) =>
  pictureOf(w, h, (i) => (i % 4 === 3 ? 1 : value((i >> 2) % w, Math.floor((i >> 2) / w))));
/** Densities at depths, by the matte of the same numbers. */
const densities = (depths: readonly number[], values: Values): number[] =>
  Array.from(
    run(
      'mist-density',
      depthOf((x) => depths[x], depths.length, 1),
      values,
    ).data,
  );

describe('how dense it is', () => {
  test('each curve is its formula between near and far, and holds before and after', () => {
    const exact = {
      linear: (x: number) => x,
      smooth: (x: number) => x * x * (3 - 2 * x),
      squared: (x: number) => x * x,
      early: (x: number) => 1 - (1 - x) ** 2,
    };
    const depths = [-3, 2, 3.1, 4, 5.5, 6.9, 7, 12];
    for (const [curve, f] of Object.entries(exact))
      densities(depths, { curve, near: 2, far: 7 }).forEach((d, i) => {
        const x = Math.min(1, Math.max(0, (depths[i] - 2) / 5));
        expect(d).toBeCloseTo(f(x), 6);
      });
  });

  test('Beer and Lambert: light falls to e^(−β·distance)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-4, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 60, noNaN: true }),
        (beta, z) => {
          const [f] = densities([z], {
            curve: 'exponential',
            air: 'extinction',
            extinction: beta,
          });
          expect(Math.abs(1 - f - Math.exp(-beta * Math.fround(z)))).toBeLessThan(3e-6);
          workspace.clear();
        },
      ),
    );
  });

  test('an optical range of 80 leaves 5 % at 80, and one of 66 is a visibility of 86 (WMO: 2.996/β)', () => {
    const [at] = densities([80], { curve: 'exponential', near: 0, air: 'range', visibility: 80 });
    expect(1 - at).toBeCloseTo(0.05, 5);
    const [a] = densities([30], { curve: 'exponential', near: 0, air: 'range', visibility: 66 });
    const [b] = densities([30], { curve: 'exponential', near: 0, visibility: (66 * 3.912) / 2.9957 });
    expect(a).toBeCloseTo(b, 4);
  });
  test('visibility: 2 % of contrast are left at it (Koschmieder 1924), 5 % at the meteorological optical range (WMO)', () => {
    // V = 3.912/β; the WMO's Guide to Instruments takes 5 %, 2.996/β.
    const [atV, atRange] = densities([80, (80 * 2.9957) / 3.912], { curve: 'exponential', visibility: 80 });
    expect(1 - atV).toBeCloseTo(0.02, 5);
    expect(1 - atRange).toBeCloseTo(0.05, 4);
  });

  test('never thinner further away, whatever the curve', () => {
    const depth = fc.double({ min: -10, max: 200, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom(...Object.keys(mistCurves)),
        depth,
        depth,
        depth,
        depth,
        (curve, near, far, a, b) => {
          const [less, more] = densities([Math.min(a, b), Math.max(a, b)], {
            curve,
            near,
            far,
            visibility: 50,
          });
          expect(more).toBeGreaterThanOrEqual(less - 1e-6);
          workspace.clear();
        },
      ),
    );
  });

  test('endless and broken depth is sky, with a density of its own; nothing covers more than it may', () => {
    const values = { curve: 'linear', near: 0, far: 10, sky: 0.35, maximumDensity: 0.6 };
    const got = densities([Number.POSITIVE_INFINITY, Number.NaN, 10, 4], values);
    [0.35, 0.35, 0.6, 0.4].forEach((d, i) => void expect(got[i]).toBeCloseTo(d, 6));
    expect(densities([0, 10], { ...values, maximumDensity: 1, invertDepth: true })).toEqual([1, 0]);
    // A mist pass is taken as it is.
    expect(densities([0.25, 0.75], { curve: 'linear', input: 'mist', near: 3, far: 4 })).toEqual([
      0.25, 0.75,
    ]);
  });

  test('above the ground it thins by e^(−height/fall)', () => {
    const depth = depthOf(() => 10, 5, 1);
    const positions = pictureOf(5, 1, (i) => [7, [-4, 0, 1, 3, 9][i >> 2], 2, 1][i % 4]);
    const d = run(
      'mist-density',
      depth,
      { curve: 'linear', near: 0, far: 10, groundHeight: 1, heightFalloff: 2 },
      { positions },
    );
    [1, 1, 1, Math.exp(-1), Math.exp(-4)].forEach((v, i) => void expect(d.data[i]).toBeCloseTo(v, 5));
  });

  test('noise thins it by no more than it may, and drifts with the frames', () => {
    const given = () => depthOf(() => 10);
    const values = { curve: 'linear', near: 0, far: 10, noiseAmount: 0.4, noiseSize: 12 };
    const one = run('mist-density', given(), values, {}, 1).data;
    expect(Math.min(...one)).toBeGreaterThan(0.6 - 0.04);
    expect(Math.max(...one)).toBeLessThanOrEqual(1);
    expect(new Set(one).size).toBeGreaterThan(100);
    expect(run('mist-density', given(), values, {}, 2).data).not.toEqual(one);
    // Wind alone carries it as it is: four pixels from frame 1 to frame 3.
    const wind = { ...values, noiseEvolution: 0, noiseSpeed: 2 };
    const [a, b] = [1, 3].map((f) => run('mist-density', given(), wind, {}, f).data);
    for (let x = 0; x < width - 4; x++) expect(b[20 * width + x + 4]).toBeCloseTo(a[20 * width + x], 5);
  });
});

describe('depth mist', () => {
  const mist: Rgb = [0.6, 0.55, 0.7];
  const stops = [[0, 1, ...mist]];
  const linear = { curve: 'linear', near: 2, far: 12, stops };

  test('is c(1 − f) + mist·f·α, alpha as it was, nothing changed before near', () => {
    const [colour, alpha] = [noise(3, 5), noise(8, 1)];
    const given = pictureOf(width, height, (i) => (i % 4 === 3 ? Math.min(1, alpha(i)) : colour(i)));
    const out = run('depth-mist', given, { ...linear, amount: 0.8 }, { depth: depthOf((x) => 2 + x / 8) });
    for (let i = 0; i < out.data.length; i++) {
      const [p, c] = [i >> 2, i % 4];
      const f = (0.8 * (p % width)) / 80;
      const exact =
        given.data[i] * (1 - f) + (c === 3 ? given.data[i] * f : mist[c] * f * given.data[p * 4 + 3]);
      expect(out.data[i]).toBeCloseTo(exact, 4);
      if (c === 3 || p % width === 0) expect(out.data[i]).toBe(given.data[i]);
    }
    expect(run('depth-mist', given, linear).data).toEqual(given.data);
  });

  test('its colour goes along its stops, or is that of a strand', () => {
    const black = pictureOf(3, 1, (i) => (i % 4 === 3 ? 1 : 0));
    const depth = depthOf((x) => [2, 7, 12][x], 3, 1);
    const two = [
      [0, 1, 1, 0, 0],
      [1, 1, 0, 0, 1],
    ];
    const out = run('depth-mist', black, { ...linear, stops: two, curve: 'early' }, { depth });
    [0, 0, 0, 0.375, 0, 0.375, 0, 0, 1].forEach((v, i) => {
      expect(out.data[Math.floor(i / 3) * 4 + (i % 3)]).toBeCloseTo(v, 5);
    });
    const colour = pictureOf(3, 1, (i) => (i % 4 === 3 ? 1 : i));
    const of = run('depth-mist', black, linear, { depth, colour });
    expect(of.data[8]).toBeCloseTo(8, 4);
    expect(of.data[5]).toBeCloseTo(2.5, 4);
  });

  /** A disc in front, by exact coverage (32 × 32 places a pixel), its depth where it covers half a pixel. */
  const discs = () => {
    const cover = Float32Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      let inside = 0;
      for (let k = 0; k < 1024; k++)
        if (Math.hypot(x + ((k & 31) + 0.5) / 32 - 31.4, y + ((k >> 5) + 0.5) / 32 - 23.7) < 14.2) inside++;
      return inside / 1024;
    });
    const [front, back]: [Rgb, Rgb] = [
      [0.9, 0.3, 0.05],
      [0.04, 0.1, 0.3],
    ];
    const mixed = (a: Rgb, b: Rgb) =>
      pictureOf(width, height, (i) => {
        const c = cover[i >> 2];
        return i % 4 === 3 ? 1 : c * a[i % 4] + (1 - c) * b[i % 4];
      });
    const inMist = (c: Rgb, f: number) => c.map((v, i) => v * (1 - f) + mist[i] * f) as unknown as Rgb;
    return {
      cover,
      given: mixed(front, back),
      depth: depthOf((x, y) => (cover[y * width + x] >= 0.5 ? 3 : 11)),
      exact: mixed(inMist(front, 0.1), inMist(back, 0.9)),
    };
  };
  const furthest = (a: Picture, b: Picture) =>
    a.data.reduce((m, v, i) => Math.max(m, Math.abs(v - b.data[i])), 0);

  test('a disc before far mist keeps its edge: within the exact area-weighted result', () => {
    const { given, depth, exact, cover } = discs();
    expect(furthest(run('depth-mist', given, linear, { depth }), exact)).toBeLessThan(2e-3);
    // With its coverage known, to rounding.
    const coverage = pictureOf(width, height, (i) => cover[i], 1);
    expect(furthest(run('depth-mist', given, linear, { depth, coverage }), exact)).toBeLessThan(1e-5);
    // By its own depth alone each edge pixel would be off by up to a quarter: a halo.
    let halo = 0;
    for (let p = 0; p < cover.length; p++) {
      const f = cover[p] >= 0.5 ? 0.1 : 0.9;
      for (let c = 0; c < 3; c++)
        halo = Math.max(
          halo,
          Math.abs(given.data[p * 4 + c] * (1 - f) + mist[c] * f - exact.data[p * 4 + c]),
        );
    }
    expect(halo).toBeGreaterThan(0.15);
  });

  test('on a textured ground that runs away nothing is taken for an edge', () => {
    const colour = noise(4, 2);
    const given = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : colour(i)));
    const depth = depthOf((_, y) => 2 + y / 5);
    const out = run('depth-mist', given, linear, { depth });
    for (let i = 0; i < out.data.length; i++) {
      if (i % 4 === 3) continue;
      const f = Math.floor((i >> 2) / width) / 50;
      expect(out.data[i]).toBeCloseTo(given.data[i] * (1 - f) + mist[i % 4] * f, 4);
    }
  });

  test('a hair thinner than its surroundings is what its own depth says', () => {
    const given = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : (i >> 2) % width === 30 ? 0.5 : 0.1));
    const out = run('depth-mist', given, linear, { depth: depthOf((x) => (x === 30 ? 3 : 11)) });
    expect(out.data[(20 * width + 30) * 4]).toBeCloseTo(0.5 * 0.9 + 0.6 * 0.1, 5);
  });
  /** What a pixel would be in a density. */
  const inDensity = (c: number, alpha: number, f: number, k: number) => c * (1 - f) + mist[k] * f * alpha;

  test('random depths and colours: no pixel leaves what it, or what meets in it, would be in the densities around it', () => {
    const settings = fc.record({
      seed: fc.nat(),
      // Depths of noise, of two layers, or of two layers with holes.
      layers: fc.constantFrom(0, 2, 3),
      highest: fc.constantFrom(0.5, 5, 400),
    });
    fc.assert(
      fc.property(settings, ({ seed, layers, highest }) => {
        const [colour, alpha, random] = [noise(seed, highest), noise(seed + 1, 1), noise(seed + 2, 1)];
        const given = pictureOf(width, height, (i) => (i % 4 === 3 ? Math.min(1, alpha(i)) : colour(i)));
        const blocks = (x: number, y: number) => random(Math.floor(x / 7) + 97 * Math.floor(y / 5)) / 1.5;
        const depth = depthOf((x, y) =>
          layers === 0
            ? 2 + 10 * (random(y * width + x) / 1.5)
            : 2 + 10 * Math.round(blocks(x, y) * (layers - 1)) + (random(x + 3 * y) > 1.45 ? 4 : 0),
        );
        const out = run('depth-mist', given, linear, { depth });
        const densityAt = (p: number) => Math.min(1, Math.max(0, (depth.data[p * 4] - 2) / 10));
        for (let y = 2; y < height - 2; y++)
          for (let x = 2; x < width - 2; x++) {
            const nearby: number[] = [];
            for (let v = -2; v <= 2; v++) for (let u = -2; u <= 2; u++) nearby.push((y + v) * width + x + u);
            const densities = nearby.map(densityAt);
            const [thin, dense] = [Math.min(...densities), Math.max(...densities)];
            for (let c = 0; c < 3; c++) {
              const would = nearby.flatMap((p) =>
                [thin, dense].map((f) => inDensity(given.data[p * 4 + c], given.data[p * 4 + 3], f, c)),
              );
              const got = out.data[(y * width + x) * 4 + c];
              expect(got).toBeGreaterThanOrEqual(Math.max(0, Math.min(...would)) - 1e-4 * highest);
              expect(got).toBeLessThanOrEqual(Math.max(...would) + 1e-4 * highest);
            }
          }
      }),
      { numRuns: 10 },
    );
  });

  test('on smooth slopes of any steepness, bent too, nothing is taken for an edge', () => {
    const colour = noise(11, 3);
    const given = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : colour(i)));
    for (const slope of [0.2, 0.3, 0.4, 0.8, 2])
      for (const bend of [0, 0.004, 0.03]) {
        const depth = depthOf((x, y) => 2 + slope * x * 0.3 + slope * 0.1 * y + bend * x * x * 0.05);
        const out = run('depth-mist', given, linear, { depth });
        for (let i = 0; i < out.data.length; i++) {
          if (i % 4 === 3) continue;
          const f = Math.min(1, Math.max(0, (depth.data[(i >> 2) * 4] - 2) / 10));
          expect(Math.abs(out.data[i] - inDensity(given.data[i], 1, f, i % 4))).toBeLessThan(1e-4);
        }
      }
  });

  test('a lamp on a silhouette keeps its light, to within the share that it covers', () => {
    const lamp: Rgb = [50, 40, 30];
    // A dark wall up to column 30, then the sky; in the last column lamps that cover it and so much of the next one.
    for (const cover of [0, 0.2, 0.4, 0.6, 0.9]) {
      const lit = (y: number) => y % 12 > 3 && y % 12 < 7;
      const given = pictureOf(width, height, (i) => {
        const [x, y, c] = [(i >> 2) % width, Math.floor((i >> 2) / width), i % 4];
        if (c === 3) return 1;
        const sky = 0.5;
        if (x < 30) return 0.05;
        if (x === 30) return lit(y) ? lamp[c] : 0.05;
        return x === 31 && lit(y) ? cover * lamp[c] + (1 - cover) * sky : sky;
      });
      const depth = depthOf((x, y) =>
        x <= 30 || (x === 31 && lit(y) && cover >= 0.5) ? 2 : Number.POSITIVE_INFINITY,
      );
      const out = run('depth-mist', given, { ...linear, sky: 0.8 }, { depth });
      for (let y = 4; y < height - 4; y++)
        for (let c = 0; c < 3; c++) {
          if (!lit(y)) continue;
          expect(out.data[(y * width + 30) * 4 + c]).toBeCloseTo(lamp[c], 3);
          const edge = out.data[(y * width + 31) * 4 + c];
          const exact = cover * lamp[c] + (1 - cover) * inDensity(0.5, 1, 0.8, c);
          expect(Math.abs(edge - exact) / lamp[c]).toBeLessThan(0.12 * cover + 0.02);
        }
    }
  });
});

describe('depth softness', () => {
  const near = (x: number) => x < 30;
  const density = () => pictureOf(width, height, (i) => (near(i % width) ? 0 : 1), 1);

  test('what is near stays bit for bit and bleeds into nothing; what is far is blurred', () => {
    const colour = noise(6, 2);
    const given = pictureOf(width, height, (i) =>
      i % 4 === 3 ? 1 : near((i >> 2) % width) ? 50 : colour(i),
    );
    const out = run('depth-softness', given, { radius: 3 }, { density: density() });
    let [before, after] = [0, 0];
    for (let i = 0; i < out.data.length; i++) {
      const x = (i >> 2) % width;
      if (near(x) || i % 4 === 3) expect(out.data[i]).toBeCloseTo(given.data[i], near(x) ? 12 : 4);
      else {
        expect(out.data[i]).toBeLessThan(2.01);
        before += (given.data[i] - 0.8) ** 2;
        after += (out.data[i] - 0.8) ** 2;
      }
    }
    expect(after).toBeLessThan(before / 3);
  });
});

test('a bloom takes more light where mist is dense', () => {
  const given = pictureOf(width, height, (i) =>
    i % 4 === 3 ? 1 : [12, 50].includes((i >> 2) % width) && i >> 2 > 1500 && i >> 2 < 1600 ? 40 : 0,
  );
  const mist = pictureOf(width, height, (i) => (i % width > 32 ? 0.5 : 0), 1);
  const values = { radius: 8, amount: 1, boostInMist: 3, show: 'light' };
  const light = (slots: Record<string, Picture>) => {
    const { data } = run('bloom', given, values, slots);
    const half = (from: number, to: number) => {
      let sum = 0;
      for (let i = 0; i < data.length; i += 4)
        if ((i >> 2) % width >= from && (i >> 2) % width < to) sum += data[i];
      return sum;
    };
    return [half(0, 32), half(32, width)];
  };
  const [plain, misty] = [light({}), light({ mist })];
  expect(misty[0] / plain[0]).toBeCloseTo(1, 2);
  expect(misty[1] / plain[1]).toBeCloseTo(1 + 3 * 0.5, 1);
});

describe('solids among positions', () => {
  const at = (values: Values, ...positions: Rgb[]) =>
    Array.from(
      run(
        'position-solid',
        pictureOf(positions.length, 1, (i) => (i % 4 === 3 ? 1 : positions[i >> 2][i % 4])),
        values,
      ).data,
    );

  test('a sphere, a box and a plane, soft beyond their sides', () => {
    const sphere = { shape: 'sphere', centreX: 1, radius: 2, soft: 1 };
    const half = [0, 0.5, 1].map((v, i) => [v, at(sphere, [3 + i / 2, 0, 0])[0]]);
    expect(half.map(([, m]) => m)).toEqual([1, 0.5, 0]);
    expect(at(sphere, [1, 0, 2], [1, 2.2, 2.2])).toEqual([1, 0]);
    const box = { shape: 'box', halfX: 1, halfY: 2, halfZ: 3, soft: 2 };
    const [in1, out1, corner] = at(box, [-1, 2, -3], [2, 0, 0], [2, 3, 3]);
    expect([in1, out1]).toEqual([1, 0.5]);
    expect(corner).toBeCloseTo((1 - Math.SQRT1_2) ** 2 * (3 - 2 * (1 - Math.SQRT1_2)), 5);
    const ground = { shape: 'plane', normalX: 0, normalY: 2, normalZ: 0, centreY: 1, soft: 4 };
    expect(at(ground, [9, 0.9, 9], [5, 3, -7], [0, 5, 0])).toEqual([1, 0.5, 0]);
    expect(at(sphere, [Number.NaN, 0, 0], [Number.POSITIVE_INFINITY, 0, 0])).toEqual([0, 0]);
  });
});
