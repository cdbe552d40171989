import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../../tests/runtime';
import { over } from '../../kernels/point';
import type { Rgb } from '../../math/rgb';
import type { Picture } from '../../picture/picture';
import { stepSpec } from '../registry';
import { defaultsOf, type Values } from '../shared/define';

/**
 * Line art stays crisp: a drawing of one colour, laid over black, grey and white after each step, shows that colour by its coverage,
 * α·C + (1 − α)·B (Porter & Duff 1984), and nothing darker or brighter along its edges.
 */
afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const [width, height] = [96, 80];
const colour: Rgb = [0.8, 0.45, 0.1];

/** Coverage of a disc, by 16 × 16 places in each pixel. */
function disc(cx: number, cy: number, r: number): Float32Array {
  return Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    let inside = 0;
    for (let k = 0; k < 256; k++)
      if (Math.hypot(x + ((k & 15) + 0.5) / 16 - cx, y + ((k >> 4) + 0.5) / 16 - cy) < r) inside++;
    return inside / 256;
  });
}
const shape = disc(47.3, 38.6, 22.4);
const matteOf = (plane: Float32Array) => pictureOf(width, height, (i) => plane[i], 1);
const drawing = () => pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : colour[i % 4]) * shape[i >> 2]);

function run(type: string, picture: Picture, values: Values = {}, slots: Record<string, Picture> = {}) {
  const spec = stepSpec(type)!;
  const neighbours = (spec.frames?.({ ...defaultsOf(spec.values), ...values } as never) ?? []).map(
    () => picture,
  );
  return spec.run(workspace, picture, slots, { ...defaultsOf(spec.values), ...values } as never, neighbours);
}

/** The furthest that a drawing of one colour lies from that colour by its coverage, over three backings. */
function fringe(done: Picture, exact: Rgb): number {
  let worst = 0;
  for (const b of [0, 0.18, 1]) {
    const backing = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : b));
    const laid = over(workspace, done, backing).data;
    for (let i = 0; i < laid.length; i += 4) {
      const a = done.data[i + 3];
      for (let c = 0; c < 3; c++)
        worst = Math.max(worst, Math.abs(laid[i + c] - (a * exact[c] + (1 - a) * b)));
    }
  }
  return worst;
}

const all = () => pictureOf(width, height, () => 1, 1);
const by = (k: Rgb): Rgb => [colour[0] * k[0], colour[1] * k[1], colour[2] * k[2]];
const blue: Rgb = [0.1, 0.2, 0.9];

describe('no fringes on a flat drawing', () => {
  test.each<[string, string, Values, () => Record<string, Picture>, Rgb]>([
    ['opacity', 'opacity', { amount: 0.4 }, () => ({}), colour],
    ['bilinear', 'transform', { rotate: 21, moveX: 3.3, filter: 'bilinear' }, () => ({}), colour],
    ['Mitchell', 'transform', { rotate: 21, scale: 1.3, filter: 'mitchell' }, () => ({}), colour],
    ['Lanczos', 'transform', { rotate: 21, moveY: 0.5, filter: 'lanczos' }, () => ({}), colour],
    ['Lanczos, straight', 'transform', { moveX: 0.4, moveY: 0.5, filter: 'lanczos' }, () => ({}), colour],
    ['made smaller', 'transform', { scale: 0.4, filter: 'lanczos' }, () => ({}), colour],
    ['warp', 'warp', { amount: 9, size: 14 }, () => ({}), colour],
    ['grown', 'grow-shrink', { by: 5.5 }, () => ({}), colour],
    ['shrunk', 'grow-shrink', { by: -3.25 }, () => ({}), colour],
    ['filled', 'grow-shrink', { by: 2, colour: 'fill', fill: blue }, () => ({}), blue],
    ['repainted', 'repaint', { colour: blue }, () => ({}), blue],
    [
      'repainted by its colour',
      'repaint',
      { what: 'colours', samples: [colour], colour: blue },
      () => ({}),
      blue,
    ],
    [
      'painted with a strand',
      'repaint',
      {},
      () => ({ paint: pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : blue[i % 4])) }),
      blue,
    ],
    [
      'shade past its edge',
      'form-shade',
      { colour: [0.5, 0.4, 0.6], amount: 1 },
      () => ({ shape: all() }),
      by([0.5, 0.4, 0.6]),
    ],
    [
      'shade along its edge',
      'form-shade',
      { colour: [0.5, 0.4, 0.6], amount: 1 },
      () => ({ shape: matteOf(shape) }),
      by([0.5, 0.4, 0.6]),
    ],
    [
      'soft shade along its edge',
      'form-shade',
      { colour: blue, amount: 1, mode: 'tint', soft: 8 },
      () => ({ shape: matteOf(shape) }),
      blue,
    ],
    ['warm spill', 'warm-spill', { gains: [1.5, 1.1, 0.75] }, () => ({}), by([1.5, 1.1, 0.75])],
  ])('%s', (_, type, values, slots, exact) => {
    const done = run(type, drawing(), values, slots());
    expect(done.data.some((v, i) => i % 4 === 3 && v > 0.99)).toBe(type !== 'opacity');
    // To within what alpha may pass 1 by before it is held there; the blurs of soft shade hold to a thousandth.
    expect(fringe(done, exact)).toBeLessThan(values.soft ? 2e-3 : 1.2e-5);
  });

  test('glass is as thin along its edge as inside', () => {
    const given = drawing();
    const done = run('glass', given, { samples: [colour], transmittance: 0.75 });
    for (let i = 0; i < done.data.length; i++) expect(done.data[i]).toBeCloseTo(0.25 * given.data[i], 6);
  });

  test('light that is laid stays what it is over every backing', () => {
    const given = drawing();
    const out = run('edge-light', given, { angle: 90, width: 6, soft: 2, amount: 1, colour: [1, 1, 1] });
    for (let i = 0; i < out.data.length; i += 4) {
      const light = [0, 1, 2].map((c) => out.data[i + c] - given.data[i + c]);
      // The same white light in every channel, never more than the figure covers, which it leaves as it was.
      expect(Math.abs(light[0] - light[2])).toBeLessThan(1e-6);
      expect(light[1]).toBeLessThanOrEqual(given.data[i + 3] + 1e-6);
      expect(light[1]).toBeGreaterThanOrEqual(-1e-6);
      expect(out.data[i + 3]).toBe(given.data[i + 3]);
    }
  });
});

test('two colours in one drawing: nothing lies outside them, whatever the filter', () => {
  // A dark line around a bright disc; a soft reading filter mixes them, and only them.
  const inner = disc(47.3, 38.6, 19);
  const line: Rgb = [0.02, 0.01, 0.05];
  const given = pictureOf(width, height, (i) => {
    const [c, p] = [i % 4, i >> 2];
    return c === 3 ? shape[p] : line[c] * (shape[p] - inner[p]) + colour[c] * inner[p];
  });
  for (const [type, values] of [
    ['transform', { rotate: 33, filter: 'bilinear' }],
    ['warp', { amount: 7, size: 20 }],
    ['grow-shrink', { by: 4 }],
    ['grow-shrink', { by: -2 }],
  ] as const) {
    const { data } = run(type, given, values);
    for (let i = 0; i < data.length; i += 4)
      for (let c = 0; c < 3; c++) {
        expect(data[i + c]).toBeGreaterThanOrEqual(data[i + 3] * line[c] - 1e-5);
        expect(data[i + c]).toBeLessThanOrEqual(data[i + 3] * colour[c] + 1e-5);
      }
  }
});

test('a flat group at opacity o over B is o·group + (1 − o·α)·B', () => {
  const random = noise(5, 3);
  const group = pictureOf(width, height, (i) => (i % 4 === 3 ? Math.min(1, random(i >> 5)) : random(i)));
  const backing = pictureOf(width, height, (i) => (i % 4 === 3 ? 1 : noise(8, 9)(i)));
  for (const o of [0.13, 0.5, 0.92]) {
    const laid = over(workspace, run('opacity', group, { amount: o }), backing).data;
    for (let i = 0; i < laid.length; i++) {
      const exact = o * group.data[i] + (1 - o * group.data[(i >> 2) * 4 + 3]) * backing.data[i];
      expect(Math.abs(laid[i] - exact)).toBeLessThan(1e-5);
    }
  }
});
