import { converter } from 'culori';
import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, workspace } from '../../../tests/runtime';
import { oklab } from '../../colour/oklab';
import { idBits, idFloat } from '../../formats/id-mattes';
import { colourKey, facingKey, rangeKey } from '../../kernels/key';
import { clean, combine, complement, levels, steadyOf } from '../../kernels/plane';
import { grow, shrinkMatte } from '../../kernels/shape';
import { idName, idsMatte, namesMeant } from '../../mattes/ids';
import type { Picture } from '../../picture/picture';
import { defaultsOf } from '../shared/define';
import { alphaEdge } from './alpha-edge';

afterEach(() => workspace.clear());

const plane = (width: number, height: number, values: (i: number) => number) =>
  pictureOf(width, height, values, 1);
const grey = (values: number[]) => pictureOf(values.length, 1, (i) => ((i & 3) === 3 ? 1 : values[i >> 2]));
const row = (p: Picture) => [...p.data];
const sum = (p: Picture) => p.data.reduce((a, b) => a + b, 0);

describe('bands of values', () => {
  const b = { low: 2, lowSoft: 1, high: 4, highSoft: 2 };
  test('are full between their ends and fall by a smoothstep beside them', () => {
    const got = row(rangeKey(workspace, grey([0.9, 1, 1.5, 2, 3, 4, 5, 5.5, 6, 7]), 'red', b));
    // smoothstep(½) = ½, smoothstep(¼) = 0.15625.
    [0, 0, 0.5, 1, 1, 1, 0.5, 0.15625, 0, 0].forEach((v, i) => void expect(got[i]).toBeCloseTo(v, 6));
  });
  test('leave out NaN, and infinity where they have an end', () => {
    const values = [Number.NaN, Number.POSITIVE_INFINITY, 3];
    expect(row(rangeKey(workspace, grey(values), 'red', b))).toEqual([0, 0, 1]);
    const endless = { ...b, high: Number.POSITIVE_INFINITY };
    expect(row(rangeKey(workspace, grey(values), 'red', endless))).toEqual([0, 1, 1]);
  });
  test('read light by its Rec. 709 luminance', () => {
    const p = pictureOf(3, 1, (i) => [1, 0, 0, 1, 0, 1, 0, 1, 0, 0, 1, 1][i]);
    const above = (low: number) =>
      row(rangeKey(workspace, p, 'luminance', { low, lowSoft: 0, high: 9, highSoft: 0 }));
    expect(above(0.07)).toEqual([1, 1, 1]);
    expect(above(0.2)).toEqual([1, 1, 0]);
    expect(above(0.7)).toEqual([0, 1, 0]);
  });
});

describe('colours', () => {
  test('OKLab is that of the library culori, for colours in and beyond the gamut', () => {
    const reference = converter('oklab');
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 40, noNaN: true }))), (rgb) => {
        const [r, g, b] = rgb;
        const want = reference({ mode: 'lrgb', r, g, b });
        const got = oklab([r, g, b]);
        [want.l, want.a, want.b].forEach((v, i) => void expect(Math.abs(got[i] - v)).toBeLessThan(2e-6));
      }),
    );
  });
  test('a key is full at its samples and empty far from them; alpha limits it', () => {
    const colours = [
      [0.8, 0.1, 0.1],
      [0.1, 0.7, 0.2],
      [0.1, 0.1, 0.9],
    ] as const;
    const alphas = [1, 0.5, 0];
    const p = pictureOf(9, 1, (i) => {
      const [c, a] = [colours[Math.floor(i / 12)], alphas[(i >> 2) % 3]];
      return (i & 3) === 3 ? a : c[i & 3] * a;
    });
    const o = { samples: [colours[0], colours[1]], near: 0.02, soft: 0.02, lightness: 1 };
    const got = row(colourKey(workspace, p, o));
    [1, 0.5, 0, 1, 0.5, 0, 0, 0, 0].forEach((v, i) => void expect(got[i]).toBeCloseTo(v, 5));
  });
  test('lightness 0 takes a colour in light and in shade', () => {
    const p = pictureOf(2, 1, (i) => [0.8, 0.2, 0.1, 1, 0.4, 0.1, 0.05, 1][i]);
    const key = (lightness: number, near: number) =>
      row(colourKey(workspace, p, { samples: [[0.8, 0.2, 0.1]], near, soft: 0, lightness }));
    expect(key(1, 0.06)).toEqual([1, 0]);
    expect(key(0, 0.06)).toEqual([1, 1]);
  });
});

describe('surfaces that turn away', () => {
  /** Normals at an angle to a camera that looks along −z, in the middle of a picture of one pixel. */
  const at = (degrees: number, measure: 'facing' | 'schlick' | 'exact', index = 1.5) => {
    const t = (degrees * Math.PI) / 180;
    const n = pictureOf(1, 1, (i) => [Math.sin(t), 0, Math.cos(t), 1][i]);
    const o = { measure, index, black: 0, gamma: 1, invert: false, view: { angle: 50 } };
    return facingKey(workspace, n, o).data[0];
  };
  test('reflect as handbooks say: n = 1.5 gives 0.04 straight on and 1 at grazing (Hecht, Optics, ch. 4)', () => {
    for (const measure of ['schlick', 'exact'] as const) {
      expect(at(0, measure)).toBeCloseTo(0.04, 5);
      expect(at(90, measure)).toBeCloseTo(1, 5);
    }
    // Water, n = 1.33: 2 % straight on (the same book).
    expect(at(0, 'exact', 1.33)).toBeCloseTo(0.02, 3);
  });
  test('at Brewster’s angle, 56.31° for n = 1.5, only one polarisation is left: half of ((n² − 1)/(n² + 1))²', () => {
    const brewster = (Math.atan(1.5) * 180) / Math.PI;
    expect(brewster).toBeCloseTo(56.31, 2);
    expect(at(brewster, 'exact')).toBeCloseTo(((1.5 ** 2 - 1) / (1.5 ** 2 + 1)) ** 2 / 2, 5);
  });
  test('Schlick’s form is within 0.02 of the exact one for n = 1.5 up to 80°', () => {
    for (let d = 0; d <= 80; d += 5) expect(Math.abs(at(d, 'schlick') - at(d, 'exact'))).toBeLessThan(0.03);
  });
  test('the ratio is 1 − cos of the angle; with positions the camera’s place counts', () => {
    expect(at(60, 'facing')).toBeCloseTo(0.5, 6);
    const n = pictureOf(1, 1, (i) => [0, 1, 0, 1][i]);
    const positions = pictureOf(1, 1, (i) => [3, 0, 0, 1][i]);
    const o = { measure: 'facing', index: 1.5, black: 0, gamma: 1, invert: false } as const;
    const from = (camera: [number, number, number]) =>
      facingKey(workspace, n, { ...o, view: { camera, positions } }).data[0];
    expect(from([3, 5, 0])).toBeCloseTo(0, 6);
    expect(from([7, 3, 0])).toBeCloseTo(1 - 0.6, 6);
  });
  test('the view opens to the sides: a normal along −z is seen at half the angle of view at the border', () => {
    const n = pictureOf(1001, 1, (i) => [0, 0, 1, 1][i & 3]);
    const o = { measure: 'facing', index: 1.5, black: 0, gamma: 1, invert: false } as const;
    const got = facingKey(workspace, n, { ...o, view: { angle: 60 } }).data;
    expect(got[500]).toBeCloseTo(0, 5);
    expect(got[0]).toBeCloseTo(1 - Math.cos((30 * Math.PI) / 180), 2);
  });
  test('where there is no normal there is nothing', () => {
    const n = pictureOf(1, 1, () => 0);
    const o = {
      measure: 'facing',
      index: 1.5,
      black: 0,
      gamma: 1,
      invert: true,
      view: { angle: 50 },
    } as const;
    expect(facingKey(workspace, n, o).data[0]).toBe(0);
  });
});

describe('growing and shrinking', () => {
  /** A disc with exact coverage, by 16 × 16 samples a pixel. */
  const disc = (size: number, r: number, cx = size / 2, cy = size / 2) =>
    plane(size, size, (i) => {
      const [x, y] = [i % size, Math.floor(i / size)];
      let inside = 0;
      for (let k = 0; k < 256; k++)
        if (Math.hypot(x + ((k % 16) + 0.5) / 16 - cx, y + (Math.floor(k / 16) + 0.5) / 16 - cy) <= r)
          inside++;
      return inside / 256;
    });
  test('a disc by any part of a pixel gives the disc of that radius: area within 1 %', () => {
    for (const by of [0.25, 0.5, 1, 3.3, 7.75, 14]) {
      const got = sum(grow(workspace, disc(96, 18.4), by));
      expect(Math.abs(got / (Math.PI * (18.4 + by) ** 2) - 1)).toBeLessThan(0.01);
      const less = sum(shrinkMatte(workspace, disc(96, 24.6), by));
      expect(Math.abs(less / (Math.PI * (24.6 - by) ** 2) - 1)).toBeLessThan(0.02);
    }
  });
  test('moves a straight edge exactly', () => {
    const edge = plane(40, 9, (i) => [1, 1, 1, 1, 0.3, 0, 0, 0][Math.min(7, i % 40)]);
    for (const by of [0.2, 1, 2.6]) {
      const got = row(grow(workspace, edge, by)).slice(160, 200);
      expect(got.reduce((a, b) => a + b, 0)).toBeCloseTo(4.3 + by, 5);
    }
  });
  test('0 changes nothing', () => {
    const m = plane(37, 21, (i) => Math.min(1, noise(4, 1)(i)));
    const same = grow(workspace, m, 0);
    expect(Math.max(...m.data.map((v, i) => Math.abs(same.data[i] - v)))).toBeLessThan(1e-6);
  });
  test('laws: growing contains and is monotone, shrinking is its dual, grown then shrunk contains what was there', () => {
    const mattes = fc.record({ seed: fc.integer(), by: fc.double({ min: 0, max: 9, noNaN: true }) });
    fc.assert(
      fc.property(mattes, ({ seed, by }) => {
        const value = noise(seed, 1);
        const m = plane(33, 19, (i) => (value(i >> 2) > 0.9 ? 1 : value(i >> 2) > 0.8 ? 0.4 : 0));
        const wide = grow(workspace, m, by);
        const wider = grow(workspace, m, by + 0.5);
        const dual = complement(workspace, grow(workspace, complement(workspace, m), by));
        const small = shrinkMatte(workspace, m, by);
        const closed = shrinkMatte(workspace, wide, by);
        const broken = m.data.filter(
          (v, i) =>
            wide.data[i] < v ||
            wider.data[i] < wide.data[i] - 1e-6 ||
            small.data[i] !== dual.data[i] ||
            // What is whole stays: the two roundings of an edge may differ by half a pixel.
            (v === 1 && closed.data[i] < 0.49),
        );
        expect(broken.length).toBe(0);
        workspace.clear();
      }),
      { numRuns: 60 },
    );
  });
  test('the edge of a disc is a ring: inside, outside, both', () => {
    const p = disc(96, 24);
    const area = (side: string) =>
      sum(alphaEdge.run(workspace, p, {}, { ...defaultsOf(alphaEdge.values), side, width: 5 } as never));
    const ring = (a: number, b: number) => Math.PI * (a * a - b * b);
    // The edge's own pixels count half to each side where a side is taken alone.
    expect(Math.abs(area('inside') / ring(24, 19) - 1)).toBeLessThan(0.06);
    expect(Math.abs(area('outside') / ring(29, 24) - 1)).toBeLessThan(0.06);
    expect(Math.abs(area('both') / ring(29, 19) - 1)).toBeLessThan(0.02);
  });
});

describe('objects', () => {
  // Two ranks of three pixels, by hand: all wheel; half wheel, half lamp; a quarter lamp over nothing.
  const ranks = (a: [string, number][][]) =>
    pictureOf(a.length, 1, (i) => {
      const pair = a[i >> 2][(i & 3) >> 1];
      return !pair ? 0 : i & 1 ? pair[1] : idFloat(pair[0]);
    });
  const passes = () => [
    ranks([
      [['wheel', 1]],
      [
        ['wheel', 0.5],
        ['lamp', 0.5],
      ],
      [['lamp', 0.25]],
    ]),
    ranks([[], [], [['ring_a', 0.125]]]),
  ];
  const head = (objects: string[]) =>
    ({ type: 'ids', media: 'm', pass: 'ids', idFormat: 'ranked', ranks: 2, objects }) as const;
  const known = ['wheel', 'lamp', 'ring_a', 'ring_b'];
  const matte = (objects: string[]) => row(idsMatte(workspace, head(objects) as never, passes(), known));
  test('of a ranked pass have their exact coverage, by name, by pattern, by the bits of an id', () => {
    expect(matte(['wheel'])).toEqual([1, 0.5, 0]);
    expect(matte(['lamp'])).toEqual([0, 0.5, 0.25]);
    expect(matte(['lamp', 'wheel'])).toEqual([1, 1, 0.25]);
    expect(matte(['ring*', 'nobody'])).toEqual([0, 0, 0.125]);
    expect(matte([idName(idBits('lamp'))])).toEqual([0, 0.5, 0.25]);
    expect(matte([])).toEqual([0, 0, 0]);
  });
  test('patterns know * and ?, and nothing else', () => {
    expect(namesMeant(['ring_?'], known)).toEqual(['ring_a', 'ring_b']);
    expect(namesMeant(['*'], known)).toEqual(known);
    expect(namesMeant(['w.*'], known)).toEqual([]);
  });
  test('of numbers and flat colours are whole pixels, softened by an alpha', () => {
    const numbers = grey([3, 4, 3]);
    const alpha = pictureOf(3, 1, (i) => ((i & 3) === 3 ? [1, 1, 0.5][i >> 2] : 0));
    const flat = { ...head(['3']), idFormat: 'number' } as never;
    expect(row(idsMatte(workspace, flat, [numbers], [], undefined))).toEqual([1, 0, 1]);
    expect(row(idsMatte(workspace, flat, [numbers], [], alpha))).toEqual([1, 0, 0.5]);
    const colours = pictureOf(2, 1, (i) => [1, 0, 0.2158605, 1, 0, 1, 0, 1][i]);
    const named = { ...head(['#ff0080']), idFormat: 'colour' } as never;
    expect(row(idsMatte(workspace, named, [colours], []))).toEqual([1, 0]);
  });
});

describe('refining', () => {
  test('levels, by their formula', () => {
    const m = plane(5, 1, (i) => [0, 0.2, 0.5, 0.8, 1][i]);
    const got = row(levels(workspace, m, { black: 0.2, white: 0.8, gamma: 2, invert: false }));
    [0, 0, Math.sqrt(0.5), 1, 1].forEach((v, i) => void expect(got[i]).toBeCloseTo(v, 6));
  });
  test('combining is by the larger, the smaller, the product, and what is left', () => {
    const a = plane(3, 1, (i) => [0.2, 0.6, 1][i]);
    const b = plane(3, 1, (i) => [0.5, 0.5, 0][i]);
    const near = (got: Picture, want: number[]) =>
      want.forEach((v, i) => void expect(got.data[i]).toBeCloseTo(v, 6));
    near(combine(workspace, a, b, 'union'), [0.5, 0.6, 1]);
    near(combine(workspace, a, b, 'intersect'), [0.2, 0.5, 0]);
    near(combine(workspace, a, b, 'multiply'), [0.1, 0.3, 0]);
    near(combine(workspace, a, b, 'subtract'), [0.2, 0.5, 1]);
    near(combine(workspace, a, b, 'either'), [0.5, 0.5, 1]);
  });
  test('cleaning takes islands below a size, by sides and corners, and fills holes: one the dual of the other', () => {
    const drawn = ['##......', '##...#..', '......#.', '........', '####....', '#..#...#', '####....'];
    const m = plane(8, 7, (i) => (drawn[Math.floor(i / 8)][i % 8] === '#' ? 1 : 0));
    const got = (p: Picture) =>
      drawn.map((_, y) => [...p.data.subarray(y * 8, y * 8 + 8)].map((v) => (v ? '#' : '.')).join(''));
    expect(got(clean(workspace, m, 3, false))).toEqual([
      '##......',
      '##......',
      '........',
      '........',
      '####....',
      '#..#....',
      '####....',
    ]);
    expect(got(clean(workspace, m, 3, true))[5]).toBe('####...#');
    const dual = complement(workspace, clean(workspace, complement(workspace, m), 3, false));
    expect(row(clean(workspace, m, 3, true))).toEqual(row(dual));
  });
  test('the median drops what one frame alone has; the mean blends', () => {
    const frames = [0, 1, 0.25].map((v) => plane(1, 1, () => v));
    expect(steadyOf(workspace, frames, 'median').data[0]).toBe(0.25);
    expect(steadyOf(workspace, frames, 'mean').data[0]).toBeCloseTo(1.25 / 3, 6);
    expect(steadyOf(workspace, frames.slice(0, 2), 'median').data[0]).toBe(0.5);
  });
});
