import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { plainRepair } from '../../../tests/plain/repair';
import { noise, pictureOf, workspace } from '../../../tests/runtime';
import { repaired } from '../../kernels/repair';

afterEach(() => workspace.clear());

describe('broken pixels become what is sound around them', () => {
  test('as it is defined, over odd sizes, with numbers that are none, negatives and strays', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(1, 2, 3, 7, 13),
        fc.constantFrom(1, 2, 5, 11),
        fc.nat(1e6),
        fc.constantFrom(0, 4, 20),
        (width, height, seed, stray) => {
          const value = noise(seed);
          const kinds = noise(seed + 1, 1);
          const p = pictureOf(width, height, (i) => {
            const kind = kinds(i >> 2);
            if (kind < 0.06) return Number.NaN;
            if (kind < 0.1) return Number.POSITIVE_INFINITY;
            if (kind < 0.2 && i % 4 === 0) return -99;
            return i % 4 === 3 ? 1 : value(i);
          });
          const at = (x: number, y: number) =>
            Array.from(p.data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4));
          const rule = { least: -0.01, stray };
          const plain = plainRepair(width, height, at, { ...rule, dark: 1e-3, radius: 8 });
          const { data } = repaired(workspace, p, rule);
          expect(data.every(Number.isFinite)).toBe(true);
          data.forEach((v, i) => {
            expect(Math.abs(v - plain[i])).toBeLessThanOrEqual(1e-5 * Math.max(1, Math.abs(plain[i])));
          });
          workspace.clear();
        },
      ),
      { numRuns: 60 },
    );
  });

  test('sound pixels stay bit for bit, lamps too where strays are kept', () => {
    const p = pictureOf(9, 9, (i) => (i >> 2 === 40 ? 5000 : 0.1));
    expect(repaired(workspace, p, { least: -0.01, stray: 0 }).data).toEqual(p.data);
    const once = repaired(workspace, p, { least: -0.01, stray: 100 });
    expect(once.data[40 * 4]).toBeCloseTo(0.1);
    // An edge and its corner are no strays: three of the eight pixels about a corner are as bright.
    const edge = pictureOf(8, 8, (i) => ((i >> 2) % 8 < 4 && i >> 2 < 32 ? 50 : 10));
    expect(repaired(workspace, edge, { least: -0.01, stray: 10 }).data).toEqual(edge.data);
  });

  test('a speck that is negative beside a sun takes the light around it', () => {
    const p = pictureOf(5, 5, (i) => (i === 12 * 4 ? -99 : i % 4 === 3 ? 1 : 3));
    expect(Array.from(repaired(workspace, p, { least: -0.01, stray: 0 }).data.subarray(48, 52))).toEqual([
      3, 3, 3, 1,
    ]);
  });
});
