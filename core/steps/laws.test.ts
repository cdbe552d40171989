import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../tests/runtime';
import { cut } from '../kernels/cut';
import { forgetSpectra } from '../kernels/fourier';
import { toLookAt } from '../kernels/plane';
import { openWorkspace } from '../kernels/workspace';
import type { Kind } from '../picture/kind';
import type { Picture } from '../picture/picture';
import { grown, type Region } from '../picture/region';
import { defaultsOf, type StepSpec, type Values } from './define';
import { steps } from './registry';

/** Laws of every step, run over the whole registry: a new step is under them from its first line. */
afterEach(() => {
  workspace.clear();
  forgetSpectra(runtime);
  expect(runtime.arena.used).toBe(0);
});

const [width, height] = [203, 149];
const smooth = (i: number) => (noise(7, 2)(i >> 6) + noise(9, 2)((i >> 6) + 1)) / 2;

/** Something that the step works on: a picture with alpha, numbers, or a matte. */
function given(kind: Kind, seed = 1): Picture {
  if (kind === 'matte')
    return pictureOf(width, height, (i) => Math.min(1, Math.max(0, noise(seed, 1)(i >> 3) - 0.2)), 1);
  const value = noise(seed, 30);
  return pictureOf(width, height, (i) =>
    (i & 3) === 3 ? Math.min(1, noise(seed + 1, 1)(i >> 4)) : value(i),
  );
}

/** Values that make a step do something. */
const activeValues: Record<string, Values> = {
  opacity: { amount: 0.4 },
  transform: { moveX: 7.5, rotate: 12, scale: 0.8 },
  'pick-channels': { red: 'blue' },
  'matte-levels': { black: 0.2, white: 0.8, gamma: 1.5 },
  'luminance-key': { low: 0.6 },
  'temporal-filter': { frames: 0 },
  'edge-light': { width: 5, soft: 2 },
  repaint: { what: 'colours', samples: [[0.5, 0.5, 0.5]], near: 0.2, soft: 0.3 },
  glass: { samples: [[0.5, 0.5, 0.5]], near: 0.2, soft: 0.3 },
  warp: { amount: 6, noiseSize: 20 },
  facing: { camera: 'typed' },
  'position-solid': { radius: 0.8 },
  'depth-mist': { near: 0, far: 2 },
  'mist-density': { near: 0, far: 2 },
  bloom: { threshold: 0.5, radius: 24 },
  glow: { size: 6 },
  'aperture-spikes': { size: 24, threshold: 1 },
  spikes: { length: 14, threshold: 1 },
};
const valuesOf = (spec: StepSpec) => ({ ...defaultsOf(spec.values), ...activeValues[spec.id] }) as never;
const kindOf = (spec: StepSpec): Kind => spec.accepts?.[0] ?? 'picture';

/** Something for every slot of a step but the matte inside which it acts. */
const slotsOf = (spec: StepSpec): Record<string, Picture> =>
  Object.fromEntries(
    Object.entries(spec.slots)
      .filter(([key]) => key !== 'mask')
      .map(([key, slot], i) => [key, given(slot.kind, 11 + i)]),
  );
/** The other frames that a step looks at. */
const neighbours = (spec: StepSpec): Picture[] =>
  (spec.frames?.(valuesOf(spec)) ?? []).map((_, i) => given(kindOf(spec), 31 + i));
const same = (a: Picture, b: Picture) =>
  a.data.length === b.data.length && a.data.every((v, i) => Object.is(v, b.data[i]));

describe.each(steps.map((s) => [s.id, s] as const))('%s', (_, spec) => {
  const kind = kindOf(spec);
  const produces = spec.produces ?? kind;

  test('declares handles and a summary value that it has', () => {
    const keys = Object.keys(spec.values);
    if (spec.summaryValue) expect(keys).toContain(spec.summaryValue);
    for (const h of spec.handles ?? []) {
      const used =
        h.type === 'point' ? [h.x, h.y, ...(h.from ?? [])] : [h.angle, h.length, ...(h.at ?? []).flat()];
      for (const key of used) if (key !== undefined) expect(keys).toContain(key);
    }
  });

  test('takes any matte as a mask: nothing changes outside it, all inside, half-way between', () => {
    expect(Object.keys(spec.slots)).toContain('mask');
    const before = given(kind);
    const mask = pictureOf(width, height, (i) => [0, 0.5, 1][i % 3], 1);
    const whole = spec.run(workspace, before, {}, valuesOf(spec));
    const part = spec.run(workspace, before, { mask }, valuesOf(spec));
    expect(part.channels).toBe(produces === 'matte' ? 1 : 4);
    const n = part.channels;
    let worst = 0;
    for (let i = 0; i < part.data.length; i++) {
      const m = [0, 0.5, 1][Math.floor(i / n) % 3];
      // A key has nothing to leave outside.
      const outside = produces !== kind ? 0 : before.data[i];
      if (m === 0 && !Object.is(part.data[i], outside)) worst = Math.max(worst, 1);
      if (m === 1 && part.data[i] !== whole.data[i]) worst = Math.max(worst, 1);
      const half = outside + (whole.data[i] - outside) / 2;
      if (m === 0.5) worst = Math.max(worst, Math.abs(part.data[i] - half) / Math.max(1, Math.abs(half)));
    }
    expect(worst).toBeLessThan(2e-6);
  });

  test('gives finite numbers for finite ones, and alpha and mattes from 0 to 1', () => {
    const out = spec.run(workspace, given(kind, 5), {}, valuesOf(spec));
    expect(out.data.every(Number.isFinite)).toBe(true);
    const step = out.channels === 1 ? 1 : 4;
    let [least, most] = [1, 0];
    for (let i = step - 1; i < out.data.length; i += step) {
      least = Math.min(least, out.data[i]);
      most = Math.max(most, out.data[i]);
    }
    expect(least).toBeGreaterThanOrEqual(0);
    expect(most).toBeLessThanOrEqual(1);
  });

  test('computes a part as it is in the whole', () => {
    const wanted: Region = { x: 100, y: 70, width: 28, height: 24, of: { width, height } };
    const before =
      kind === 'matte' ? given('matte') : pictureOf(width, height, (i) => ((i & 3) === 3 ? 0.5 : smooth(i)));
    const values = valuesOf(spec);
    const region = grown(wanted, spec.reach(values));
    const whole = cut(workspace, spec.run(workspace, before, {}, values), wanted);
    const partial = openWorkspace(runtime, region);
    const input = region ? cut(partial, before, region) : before;
    const part = cut(workspace, spec.run(partial, input, {}, values), wanted, region);
    let worst = 0;
    for (let i = 0; i < whole.data.length; i++)
      worst = Math.max(worst, Math.abs(part.data[i] - whole.data[i]) / Math.max(1, Math.abs(whole.data[i])));
    partial.clear();
    expect(worst).toBeLessThan(spec.stage === 'light' ? 4e-3 : 1e-5);
  });

  test('with all of its slots filled: nothing outside the matte, the other way round with Invert', () => {
    const before = given(kind);
    const mask = pictureOf(width, height, (i) => i % 2, 1);
    const full = { ...slotsOf(spec), mask };
    const [plain, turned] = [false, true].map((invert) =>
      spec.run(workspace, before, full, { ...(valuesOf(spec) as object), invert } as never, neighbours(spec)),
    );
    const n = plain.channels;
    const outsideOf = (i: number) => (produces !== kind ? 0 : before.data[i]);
    let worst = 0;
    for (let i = 0; i < plain.data.length; i++) {
      const out = Math.floor(i / n) % 2 === 0 ? plain : turned;
      if (!Object.is(out.data[i], outsideOf(i))) worst = Math.max(worst, 1);
    }
    expect(worst).toBe(0);
    expect(plain.data.every(Number.isFinite) && turned.data.every(Number.isFinite)).toBe(true);
    if (n === 1) expect(plain.data.every((m) => m >= 0 && m <= 1)).toBe(true);
  });

  test('Invert without a matte changes nothing', () => {
    if (!spec.values.invert) return;
    const before = given(kind);
    const shows = spec.values.show ? ['result', 'light', 'taken'] : [undefined];
    for (const show of shows) {
      const values = { ...(valuesOf(spec) as object), ...(show ? { show } : {}) };
      const plain = spec.run(
        workspace,
        before,
        slotsOf(spec),
        { ...values, invert: false } as never,
        neighbours(spec),
      );
      const turned = spec.run(
        workspace,
        before,
        slotsOf(spec),
        { ...values, invert: true } as never,
        neighbours(spec),
      );
      expect(same(plain, turned)).toBe(true);
    }
  });

  test('can be looked at', () => {
    expect(toLookAt(workspace, spec.run(workspace, given(kind), {}, valuesOf(spec))).channels).toBe(4);
  });
});
