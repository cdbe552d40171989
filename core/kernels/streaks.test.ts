import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { at, point, sum } from '../../tests/point';
import { workspace } from '../../tests/runtime';
import { streaks } from './streaks';

afterEach(() => workspace.clear());

describe('light drawn out along an angle', () => {
  const none = { length: [0, 0, 0] as const, gain: 0 };
  test('keeps its light; 95 % of it within its length; nothing against it', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 360, noNaN: true }), (angle) => {
        const forth = { length: [60, 60, 60] as const, gain: 1 };
        const out = streaks(workspace, point(301, 301, 150, 150, 10), [{ angle, forth, back: none }]);
        expect(Math.abs(sum(out) - 10)).toBeLessThan(0.15);
        let within = 0;
        let against = 0;
        const [ux, uy] = [Math.cos((angle * Math.PI) / 180), -Math.sin((angle * Math.PI) / 180)];
        for (let i = 0; i < 301 * 301; i++) {
          const along = ((i % 301) - 150) * ux + (Math.floor(i / 301) - 150) * uy;
          if (along < -1.5) against += out.data[i * 4];
          else if (along <= 60) within += out.data[i * 4];
        }
        expect(against).toBeLessThan(1e-5);
        expect(within / sum(out, 0)).toBeGreaterThan(0.93);
        expect(within / sum(out, 0)).toBeLessThan(0.97);
        workspace.clear();
      }),
      { numRuns: 40 },
    );
  });
  test('each colour has its own length', () => {
    const forth = { length: [120, 60, 20] as const, gain: 1 };
    const out = streaks(workspace, point(201, 9, 20, 4, 10), [{ angle: 0, forth, back: none }]);
    expect(at(out, 120, 4, 0)).toBeGreaterThan(at(out, 120, 4, 1));
    expect(at(out, 120, 4, 1)).toBeGreaterThan(at(out, 120, 4, 2));
  });
});
