import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../../tests/runtime';
import { shrink } from '../../kernels/sample';
import type { Picture } from '../../picture/picture';
import { backing } from '../finish/backing';
import { defaultsOf, type StepSpec, type Values } from '../shared/define';
import { join } from './join';
import { opacity } from './opacity';
import { pickChannels } from './pick-channels';
import { premultiply } from './premultiply';
import { transform } from './transform';
import { unpremultiply } from './unpremultiply';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const run = (step: StepSpec, picture: Picture, given: Values = {}, slots: Record<string, Picture> = {}) =>
  step.run(workspace, picture, slots, { ...defaultsOf(step.values), ...given } as never);
const neutral = (step: StepSpec, given: Values = {}) =>
  step.neutral({ ...defaultsOf(step.values), ...given } as never);
/** Premultiplied, with light above 1. */
const premultiplied = (w: number, h: number, seed: number) => {
  const p = pictureOf(w, h, noise(seed));
  for (let i = 0; i < p.data.length; i += 4) {
    p.data[i + 3] = Math.min(1, p.data[i + 3]);
    for (let c = 0; c < 3; c++) p.data[i + c] *= p.data[i + 3];
  }
  return p;
};

describe('the laws', () => {
  test('1 neutral values are declared, so that the step is not run', () => {
    expect(neutral(join, { amount: 0 })).toBe(true);
    expect(neutral(opacity)).toBe(true);
    expect(neutral(transform)).toBe(true);
    expect(neutral(transform, { rotate: 1 })).toBe(false);
    expect(neutral(pickChannels)).toBe(true);
    expect(neutral(pickChannels, { red: 'green' })).toBe(false);
    expect(neutral(backing)).toBe(false);
  });

  test('1 a join without a picture gives its strand back bit for bit', () => {
    const p = premultiplied(9, 5, 3);
    expect(run(join, p).data).toEqual(p.data);
  });

  test('4 outside its matte a join or an opacity changes no bit', () => {
    const [p, q] = [premultiplied(9, 5, 3), premultiplied(9, 5, 4)];
    const mask = pictureOf(9, 5, (i) => i % 2, 1);
    for (const out of [run(join, p, {}, { picture: q, mask }), run(opacity, p, { amount: 0.3 }, { mask })]) {
      for (let i = 0; i < out.data.length; i++) if ((i >> 2) % 2 === 0) expect(out.data[i]).toBe(p.data[i]);
    }
  });

  test('5 alpha stays in 0…1 and 6 finite stays finite, in every mode of a join', () => {
    const [p, q] = [premultiplied(13, 7, 3), premultiplied(13, 7, 4)];
    const { mode } = join.values;
    for (const m of Object.keys(mode.type === 'choice' ? mode.options : {})) {
      const { data } = run(join, p, { mode: m, amount: 0.7 }, { picture: q });
      for (let i = 0; i < data.length; i++) {
        expect(Number.isFinite(data[i])).toBe(true);
        if ((i & 3) === 3) {
          expect(data[i]).toBeGreaterThanOrEqual(-1e-6);
          expect(data[i]).toBeLessThanOrEqual(1 + 1e-6);
        }
      }
      workspace.clear();
    }
  });
});

describe('opacity', () => {
  test('fades what is above it as one flat picture: overlaps do not show through', () => {
    const opaque = (v: number) => pictureOf(1, 1, (i) => (i === 3 ? 1 : v));
    const stacked = run(join, opaque(0.2), {}, { picture: opaque(0.8) });
    expect(Array.from(run(opacity, stacked, { amount: 0.5 }).data)).toEqual(
      [0.4, 0.4, 0.4, 0.5].map(Math.fround),
    );
  });
});

describe('transform', () => {
  /** A soft dot at (x, y) from the middle, y upwards. */
  const dot = (x: number, y: number) =>
    pictureOf(81, 61, (i) => {
      const p = i >> 2;
      const [dx, dy] = [(p % 81) - 40 - x, 30 - Math.floor(p / 81) - y];
      return Math.exp(-(dx * dx + dy * dy) / 8);
    });
  const centre = ({ data, width, height }: Picture) => {
    let [sum, sx, sy] = [0, 0, 0];
    for (let p = 0; p < width * height; p++) {
      sum += data[p * 4];
      sx += data[p * 4] * ((p % width) - (width - 1) / 2);
      sy += data[p * 4] * ((height - 1) / 2 - Math.floor(p / width));
    }
    return [sx / sum, sy / sum];
  };
  test.each([
    ['moves to the right and upwards', { moveX: 7, moveY: 4 }, [17, 9]],
    ['turns counter-clockwise about the middle', { rotate: 90 }, [-5, 10]],
    ['scales about the middle', { scale: 1.5 }, [15, 7.5]],
    ['turns about its pivot', { rotate: 180, pivotX: 4, pivotY: -2 }, [-2, -9]],
    ['does all in one', { rotate: 90, scale: 0.5, moveX: 3, moveY: 1 }, [0.5, 6]],
  ] as const)('%s', (_, given, [x, y]) => {
    for (const filter of ['bilinear', 'mitchell', 'lanczos']) {
      const [cx, cy] = centre(run(transform, dot(10, 5), { ...given, filter }));
      expect(cx).toBeCloseTo(x, 1);
      expect(cy).toBeCloseTo(y, 1);
      workspace.clear();
    }
  });

  test('3 draft: half size is the full result scaled down', () => {
    const given = { rotate: 20, scale: 0.8 };
    const full = shrink(workspace, run(transform, dot(10, 5), { ...given, moveX: 8 }), 0.5);
    const draft = run(transform, shrink(workspace, dot(10, 5), 0.5), { ...given, moveX: 4 });
    let worst = 0;
    for (let i = 0; i < full.data.length; i++)
      worst = Math.max(worst, Math.abs(full.data[i] - draft.data[i]));
    expect(worst).toBeLessThan(0.12);
  });

  test('7 steady: light made smaller keeps its total within 1 %, wherever it stands', () => {
    const total = (p: Picture) => p.data.reduce((a, b) => a + b, 0);
    const sums = [0, 0.3, 0.6].map((d) => total(run(transform, dot(d, d), { scale: 0.4 })));
    expect((Math.max(...sums) - Math.min(...sums)) / sums[0]).toBeLessThan(0.01);
    expect(sums[0] / total(dot(0, 0))).toBeCloseTo(0.16, 2);
  });
});

test('premultiply and un-premultiply undo each other where alpha is above 0', () => {
  const p = premultiplied(11, 3, 5);
  const there = run(premultiply, run(unpremultiply, p));
  for (let i = 0; i < p.data.length; i++) {
    const alpha = p.data[i | 3];
    if (alpha > 0)
      expect(Math.abs(there.data[i] - p.data[i])).toBeLessThan(1e-5 * Math.max(1, Math.abs(p.data[i])));
  }
});

test('a backing makes opaque and leaves what is opaque alone', () => {
  const p = pictureOf(2, 1, (i) => [0.5, 0.5, 0.5, 1, 0, 0, 0, 0][i]);
  const out = run(backing, p, { colour: [0.1, 0.2, 0.3] }).data;
  expect(Array.from(out)).toEqual([0.5, 0.5, 0.5, 1, 0.1, 0.2, 0.3, 1].map(Math.fround));
  const squares = run(
    backing,
    pictureOf(4, 1, () => 0),
    { type: 'checker', size: 2 },
  ).data;
  expect([0, 1, 2, 3].map((x) => squares[x * 4])).toEqual([0.1, 0.1, 0.2, 0.2].map(Math.fround));
});
