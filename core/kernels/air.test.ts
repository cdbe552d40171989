import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../tests/runtime';
import { mixPasses } from './air';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const [width, height] = [23, 17];
const light = (seed: number) => pictureOf(width, height, noise(seed, 20));

describe('a mix of passes', () => {
  const passes = () => [light(1), light(2), light(3)];
  const gains = [
    [1, 1, 1],
    [0.5, 2, 0],
    [3, 0.1, 1],
  ] as const;

  test('is their sum, each times its gains, with the alpha of the first or of the beauty', () => {
    const given = passes();
    const mix = given.map((picture, i) => ({ picture, gains: gains[i] }));
    const out = mixPasses(workspace, mix, undefined, false);
    const beauty = light(9);
    const covered = mixPasses(workspace, mix, beauty, false);
    for (let i = 0; i < out.data.length; i++) {
      const sum = given.reduce((s, p, k) => s + p.data[i] * gains[k][i % 4], 0);
      if (i % 4 < 3) expect(out.data[i]).toBeCloseTo(sum, 4);
      else {
        expect(out.data[i]).toBe(given[0].data[i]);
        expect(covered.data[i]).toBe(beauty.data[i]);
      }
    }
  });

  test('gains hold inside a matte alone: half of them where it is half, as rendered where it is not', () => {
    const [a, b] = passes();
    const within = pictureOf(width, height, (i) => [0, 0.5, 1][i % 3], 1);
    const plain = { picture: a, gains: gains[0] };
    const out = mixPasses(
      workspace,
      [plain, { picture: b, gains: [1 / 3, 1 / 3, 1 / 3], within }],
      undefined,
      false,
    );
    for (let p = 0; p < width * height; p++) {
      const gain = [1, 2 / 3, 1 / 3][p % 3];
      expect(out.data[p * 4]).toBeCloseTo(a.data[p * 4] + gain * b.data[p * 4], 4);
    }
  });

  test('its residual is what the beauty has beyond the sum: nothing where the passes add up', () => {
    const mix = passes().map((picture) => ({ picture, gains: gains[0] }));
    const beauty = mixPasses(workspace, mix, undefined, false);
    const none = mixPasses(workspace, mix, beauty, true);
    for (let i = 0; i < none.data.length; i++) if (i % 4 < 3) expect(none.data[i]).toBe(0);
    beauty.data[0] += 2;
    expect(mixPasses(workspace, mix, beauty, true).data[0]).toBeCloseTo(2, 4);
  });
});
