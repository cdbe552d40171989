import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../../tests/runtime';
import type { Picture } from '../../picture/picture';
import { stepSpec } from '../registry';
import { defaultsOf, type Values } from '../shared/define';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const [width, height] = [120, 90];
function run(
  type: string,
  picture: Picture,
  values: Values = {},
  slots: Record<string, Picture> = {},
  frame?: number,
  neighbours?: readonly Picture[],
) {
  const spec = stepSpec(type)!;
  return spec.run(
    workspace,
    picture,
    slots,
    { ...defaultsOf(spec.values), ...values } as never,
    neighbours,
    frame,
  );
}
/** A square figure of one grey, its left upper corner at (x, y). */
const square = (x: number, y: number, size: number, grey = 0.4) =>
  pictureOf(width, height, (i) => {
    const [px, py] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
    const inside = px >= x && px < x + size && py >= y && py < y + size;
    return inside ? (i % 4 === 3 ? 1 : grey) : 0;
  });
const plane = (value: (x: number, y: number) => number) =>
  pictureOf(width, height, (i) => value(i % width, Math.floor(i / width)), 1);
const red = (p: Picture, x: number, y: number) => p.data[(y * width + x) * 4];

describe('form shade', () => {
  const given = () => square(30, 20, 50);

  test('a frame without a matte, or with an empty one, stays bit for bit', () => {
    expect(run('form-shade', given()).data).toEqual(given().data);
    expect(run('form-shade', given(), { soft: 6 }, { shape: plane(() => 0) }).data).toEqual(given().data);
  });

  test('is c(1 + o(colour − 1)) multiplied, c + o(colour·α − c) as a tint', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 1, noNaN: true }), (o) => {
        const shape = plane((x) => (x < 60 ? 1 : 0));
        const values: Values = { colour: [0.5, 0.5, 0.5], amount: o };
        const dark = run('form-shade', given(), values, { shape });
        expect(red(dark, 40, 40)).toBeCloseTo(0.4 * (1 - o * 0.5), 5);
        expect(red(dark, 70, 40)).toBe(red(given(), 70, 40));
        const tint = run('form-shade', given(), { ...values, mode: 'tint' }, { shape });
        expect(red(tint, 40, 40)).toBeCloseTo(0.4 + o * 0.1, 5);
        workspace.clear();
      }),
      { numRuns: 20 },
    );
  });

  test('its edge fades inside the figure over about its radius, and nowhere else', () => {
    const shape = plane((x) => (x < 60 ? 1 : 0));
    const soft = run('form-shade', given(), { colour: [0, 0, 0], amount: 1, soft: 12 }, { shape });
    const row = Array.from({ length: 50 }, (_, i) => red(soft, 30 + i, 45));
    for (let i = 1; i < row.length; i++) expect(row[i]).toBeGreaterThanOrEqual(row[i - 1] - 1e-4);
    // Dark along the figure's own edge, half-way on the shade's, as it was beyond its radius.
    expect(row[0]).toBeLessThan(0.001);
    expect((row[29] + row[30]) / 2).toBeCloseTo(0.2, 2);
    expect(row[45]).toBeCloseTo(0.4, 2);
  });
});

describe('edge light', () => {
  const light = (values: Values, at: [number, number] = [30, 20]) => {
    const given = square(...at, 50);
    const out = run('edge-light', given, {
      width: 6,
      soft: 0,
      amount: 1,
      colour: [1, 1, 1],
      angle: 180,
      ...values,
    });
    return (x: number, y: number) => red(out, x, y) - red(given, x, y);
  };

  test('is α(1 − α moved): as wide as said, on the side it comes from', () => {
    const left = light({});
    for (const [x, exact] of [
      [29, 0],
      [30, 1],
      [35, 1],
      [36, 0],
      [79, 0],
    ])
      expect(left(x, 45)).toBeCloseTo(exact, 5);
    const right = light({ angle: 0 });
    expect([right(79, 45), right(74, 45), right(73, 45), right(30, 45)].map(Math.round)).toEqual([
      1, 1, 0, 0,
    ]);
    // Half a pixel of width is half a pixel of light.
    expect(light({ width: 0.5 })(30, 45)).toBeCloseTo(0.5, 2);
  });

  test('outside it shines around the figure and may grow its alpha', () => {
    const outside = light({ side: 'outside' });
    expect([outside(29, 45), outside(24, 45), outside(23, 45), outside(30, 45)].map(Math.round)).toEqual([
      1, 1, 0, 0,
    ]);
    const given = square(30, 20, 50);
    const values = { side: 'outside', width: 6, soft: 0, amount: 1, angle: 180 };
    const alpha = (alphaGrows: boolean) =>
      run('edge-light', given, { ...values, alphaGrows }).data[(45 * width + 26) * 4 + 3];
    expect(alpha(true)).toBe(1);
    expect(alpha(false)).toBe(0);
  });

  test('follows the figure: moved, it is moved as far', () => {
    const [here, there] = [light({ soft: 2 }), light({ soft: 2 }, [37, 24])];
    for (let y = 20; y < 70; y += 7)
      for (let x = 25; x < 80; x += 5) expect(there(x + 7, y + 4)).toBeCloseTo(here(x, y), 5);
  });

  test('falls off away from its centre as (1 − (r/reach)²)², to nothing at its reach', () => {
    const values = { falloff: 'centre', centreX: 30.5 - 59.5, centreY: 0.5, reach: 40, width: 1 };
    const left = light(values);
    for (const y of [20, 30, 44, 60]) {
      const r = Math.hypot(0.5, y - 44) / 40;
      expect(left(30, y)).toBeCloseTo((1 - r * r) ** 2, 4);
    }
  });
});

describe('warm spill', () => {
  test('takes the light’s colour near it, less with the distance, nothing past its reach', () => {
    const given = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : 0.5));
    const light = plane((x) => (x === 20 ? 1 : 0));
    const out = run('warm-spill', given, { gains: [2, 1, 0.5], reach: 50 }, { light });
    for (const x of [20, 30, 45, 60]) {
      const near = (1 - ((x - 20) / 50) ** 2) ** 2;
      expect(red(out, x, 40)).toBeCloseTo(0.5 * (1 + near), 1);
    }
    expect(red(out, 71, 40)).toBe(0.5);
    for (let x = 21; x < width; x++) expect(red(out, x, 40)).toBeLessThanOrEqual(red(out, x - 1, 40));
  });
});

describe('repaint and glass', () => {
  test('only the parts that have the colour are painted, or seen through', () => {
    const given = square(30, 20, 50, 0.4);
    const other = [0.9, 0.1, 0.1];
    for (let y = 30; y < 50; y++)
      for (let x = 40; x < 60; x++) given.data.set([...other, 1], (y * width + x) * 4);
    const painted = run('repaint', given, { appliesTo: 'colours', samples: [other], colour: [0, 0.7, 0] });
    const at = (p: Picture, x: number, y: number) => [
      ...p.data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
    ];
    expect(at(painted, 50, 40)[1]).toBeCloseTo(0.7, 5);
    expect(at(painted, 35, 25)).toEqual(at(given, 35, 25));
    const clear = run('glass', given, { samples: [other], transmittance: 0.8, tint: [1, 0.5, 1] });
    [0.18, 0.01, 0.02, 0.2].forEach((v, c) => void expect(at(clear, 50, 40)[c]).toBeCloseTo(v, 5));
    expect(at(clear, 35, 25)).toEqual(at(given, 35, 25));
  });
});

describe('warp', () => {
  const given = () => pictureOf(width, height, noise(3, 2));
  const values = { amount: 8, noiseSize: 24 };

  test('carries nothing further than its amount', () => {
    const out = run('warp', square(40, 30, 20), values);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (x < 31 || x > 69 || y < 21 || y > 59) expect(out.data[(y * width + x) * 4 + 3]).toBe(0);
  });

  test('gradient noise is 0 where its cells meet (Perlin 2002): those pixels stay', () => {
    // Cells of two pixels meet in the corners of pixels; noise that has moved by half a pixel meets in their middles.
    const p = given();
    const still = {
      amount: 8,
      noiseSize: 2,
      octaves: 1,
      noiseEvolution: 0,
      noiseSpeed: 0.5,
      noiseDirection: 45,
    };
    const out = run('warp', p, { ...still, noiseSpeed: Math.SQRT1_2 }, {}, 1);
    let stayed = 0;
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = (y * width + x) * 4;
        if (Math.abs(out.data[i] - p.data[i]) < 2e-4) stayed++;
      }
    // A quarter of the pixels at least.
    expect(stayed).toBeGreaterThan((width * height) / 4.2);
  });

  test('the same numbers move two layers together, another seed does not, and frames differ', () => {
    const [a, b] = [square(30, 20, 50, 0.4), square(30, 20, 50, 0.9)];
    const alpha = (p: Picture) => Float32Array.from({ length: width * height }, (_, i) => p.data[i * 4 + 3]);
    const one = alpha(run('warp', a, values, {}, 3));
    expect(alpha(run('warp', b, values, {}, 3))).toEqual(one);
    expect(alpha(run('warp', b, { ...values, seed: 2 }, {}, 3))).not.toEqual(one);
    expect(alpha(run('warp', b, values, {}, 4))).not.toEqual(one);
    expect(alpha(run('warp', b, { ...values, noiseEvolution: 0 }, {}, 4))).toEqual(
      alpha(run('warp', b, { ...values, noiseEvolution: 0 }, {}, 9)),
    );
  });

  test('along an angle nothing moves across it', () => {
    const rows = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : Math.floor((i >> 2) / width) / height));
    const out = run('warp', rows, { ...values, direction: 'along', angle: 0, border: 'continued' });
    for (let i = 0; i < out.data.length; i++) expect(out.data[i]).toBeCloseTo(rows.data[i], 5);
  });
});

describe('a glow along its movement', () => {
  test('stretches the way that the light goes, and is even where it stands still', () => {
    const spark = (x: number) => square(x, 44, 2, 4);
    const values = { direction: 'moving', size: 10, sizes: 1, amount: 1 };
    const out = run('glow', spark(60), values, {}, 2, [spark(50), spark(70)]);
    expect(red(out, 72, 44)).toBeGreaterThan(10 * red(out, 60, 56));
    const still = run('glow', spark(60), values, {}, 2, [spark(60), spark(60)]);
    expect(red(still, 72, 44)).toBeCloseTo(red(still, 60, 56), 3);
  });
});

describe('a drawing grown or shrunk', () => {
  test('three nested shapes come from one drawing', () => {
    const given = square(40, 30, 20, 0.6);
    const areas = [6, 0.001, -6].map((by) => {
      const { data } = run('grow-shrink', given, { distance: by });
      let sum = 0;
      for (let i = 3; i < data.length; i += 4) sum += data[i];
      return sum;
    });
    // The middle; with sides and quarter discs added (Steiner's formula); without a frame of six pixels.
    expect(areas[1]).toBeCloseTo(400, 0);
    expect(areas[0] / (400 + 4 * 20 * 6 + Math.PI * 36)).toBeCloseTo(1, 1);
    expect(areas[2]).toBeCloseTo(64, 0);
  });
});

describe('spared ink', () => {
  /** A figure of mid grey crossed by a line of ink, light on all of it. */
  const drawn = () =>
    pictureOf(width, height, (i) => {
      const [px, py] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
      if (px < 20 || px >= 100 || py < 10 || py >= 80) return 0;
      return i % 4 === 3 ? 1 : px >= 96 ? 0.002 : 0.4;
    });
  const lit = { angle: 0, width: 8, soft: 0, amount: 2 } as const;

  test('edge light brightens paint beside a line and leaves the line as it is', () => {
    const shape = plane((x, y) => (x >= 20 && x < 100 && y >= 10 && y < 80 ? 1 : 0));
    const all = run('edge-light', drawn(), { ...lit, spareInk: 'none' }, { shape });
    const spared = run('edge-light', drawn(), { ...lit, spareInk: 'dark' }, { shape });
    expect(red(all, 97, 45)).toBeGreaterThan(0.2);
    expect(red(spared, 97, 45)).toBeCloseTo(0.002, 5);
    expect(red(spared, 94, 45)).toBe(red(all, 94, 45));
    expect(red(spared, 94, 45)).toBeGreaterThan(0.5);
  });

  test('form shade leaves lines of the chosen colour alone', () => {
    const shape = plane(() => 1);
    const values: Values = {
      soft: 0,
      amount: 1,
      spareInk: 'colour',
      inkColour: [0.4, 0.4, 0.4],
      inkNear: 0.1,
    };
    const shaded = run('form-shade', drawn(), values, { shape });
    expect(red(shaded, 50, 45)).toBeCloseTo(0.4, 5);
    expect(red(shaded, 97, 45)).toBeLessThan(0.0019);
  });

  test('any step that spares it leaves the line as it is, whatever its other values, and changes no more than without it', () => {
    const shape = plane((x, y) => (x >= 20 && x < 100 && y >= 10 && y < 80 ? 1 : 0));
    fc.assert(
      fc.property(
        fc.constantFrom('edge-light', 'form-shade'),
        fc.record({
          amount: fc.double({ min: 0, max: 4, noNaN: true }),
          soft: fc.double({ min: 0, max: 12, noNaN: true }),
          inkNear: fc.double({ min: 0.15, max: 0.6, noNaN: true }),
        }),
        (id, values) => {
          const own = Object.fromEntries(
            Object.entries(values).filter(([key]) => key in stepSpec(id)!.values),
          );
          const plain = run(id, drawn(), { ...own, spareInk: 'none' }, { shape });
          const spared = run(id, drawn(), { ...own, spareInk: 'dark' }, { shape });
          for (let x = 20; x < 100; x++) {
            const was = x >= 96 ? 0.002 : 0.4;
            const [most, change] = [Math.abs(red(plain, x, 45) - was), Math.abs(red(spared, x, 45) - was)];
            expect(change).toBeLessThanOrEqual(x >= 96 ? 1e-5 : most + 1e-6);
          }
        },
      ),
      { numRuns: 40 },
    );
  });

  test('is on from the start on drawings alone', () => {
    const start = stepSpec('edge-light')!.start!;
    expect(start({ flat: 0.9 } as never)).toEqual({ spareInk: 'dark' });
    expect(start({ flat: 0.05 } as never)).toEqual({});
    expect(start({} as never)).toEqual({});
  });
});
