import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../tests/runtime';
import { draftValues } from '../evaluate/plan/draft-values';
import { cut } from '../kernels/cut';
import { forgetSpectra } from '../kernels/fourier';
import { toLookAt } from '../kernels/plane';
import { pickCentres, shrink } from '../kernels/sample';
import { openWorkspace } from '../kernels/workspace';
import type { Kind } from '../picture/kind';
import type { Picture } from '../picture/picture';
import { grown, type Region } from '../picture/region';
import { steps } from './registry';
import { defaultsOf, type StepSpec, type Values } from './shared/define';

/** Laws of every step, run over the whole registry: a new step is under them from its first line. */
afterEach(() => {
  workspace.clear();
  forgetSpectra(runtime);
  expect(runtime.arena.used).toBe(0);
});

const [width, height] = [203, 149];
const smooth = (i: number) => (noise(7, 2)(i >> 6) + noise(9, 2)((i >> 6) + 1)) / 2;

/** Something that a step works on: a picture far above 1 here and there with partial alpha, numbers, or a matte. */
function given(kind: Kind, seed = 1, w = width, h = height): Picture {
  if (kind === 'matte')
    return pictureOf(w, h, (i) => Math.min(1, Math.max(0, noise(seed, 1)(i >> 3) - 0.2)), 1);
  const value = noise(seed, 30);
  return pictureOf(w, h, (i) => ((i & 3) === 3 ? Math.min(1, noise(seed + 1, 1)(i >> 4)) : value(i)));
}

/** The same kinds of things without any detail that a draft could not show: soft hills of light, HDR, of partial alpha. */
function hills(kind: Kind, seed = 1): Picture {
  const [a, b] = [3 + (seed % 4), 2 + (seed % 3)];
  const at = (i: number, c: number) => {
    const [x, y] = [(i % width) / width, Math.floor(i / width) / height];
    const wave = Math.sin(a * x * Math.PI + c) * Math.sin(b * y * Math.PI + c * 0.7 + seed);
    return 0.5 + 0.5 * wave;
  };
  if (kind === 'matte') return pictureOf(width, height, (i) => at(i, 0), 1);
  return pictureOf(width, height, (i) =>
    (i & 3) === 3
      ? at(i >> 2, 9)
      : 0.2 + 6 * at(i >> 2, i & 3) ** 4 * (kind === 'data' ? 0.3 : at(i >> 2, 9)),
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
  repaint: { appliesTo: 'colours', samples: [[0.5, 0.5, 0.5]], near: 0.2, soft: 0.3 },
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

/** Something for every slot of a step but the matte inside which it acts. */
const slotsOf = (spec: StepSpec, make = (kind: Kind, seed: number) => given(kind, seed)) =>
  Object.fromEntries(
    Object.entries(spec.slots)
      .filter(([key]) => key !== 'mask')
      .map(([key, slot], i) => [key, make(slot.kind, 11 + i)]),
  );
const same = (a: Picture, b: Picture) =>
  a.data.length === b.data.length && a.data.every((v, i) => Object.is(v, b.data[i]));

const cases = steps.flatMap((s) => (s.accepts ?? ['picture']).map((kind) => [s.id, kind, s] as const));

describe.each(cases)('%s on a %s', (_, kind, spec) => {
  const produces = spec.produces ?? kind;
  /** The other frames that it looks at. */
  const neighbours = (spec: StepSpec): Picture[] =>
    (spec.frames?.(valuesOf(spec)) ?? []).map((_, i) => given(kind, 31 + i));
  const bare: [string, Record<string, Picture>][] = [];
  const filled = (): [string, Record<string, Picture>][] =>
    Object.keys(spec.slots).length > 1 ? [...bare, ['filled', slotsOf(spec)]] : bare;
  bare.push(['empty', {}]);

  test('declares the value that inverts a slot', () => {
    for (const { invertedBy } of Object.values(spec.slots))
      if (invertedBy) expect(spec.values).toHaveProperty(invertedBy);
  });

  test('declares editors of values that it has, in a section that it has', () => {
    for (const { kind, section, holds = [], ...keys } of spec.editors ?? []) {
      const described = [...Object.values(spec.slots), ...Object.values(spec.values)];
      expect(described.map((d) => d.section)).toContain(section);
      const { channel: _, depth, ...valueKeys } = keys as { channel?: string; depth?: string };
      if (depth) expect(spec.slots).toHaveProperty(depth);
      for (const key of [...holds, ...Object.values(valueKeys).flat()])
        expect(spec.values, `${kind} of ${spec.name}`).toHaveProperty(key as string);
    }
  });

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
    for (const [state, slots] of filled()) {
      const whole = spec.run(workspace, before, slots, valuesOf(spec), neighbours(spec));
      const part = spec.run(workspace, before, { ...slots, mask }, valuesOf(spec), neighbours(spec));
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
      expect(worst, `slots ${state}`).toBeLessThan(2e-6);
    }
  });

  test('gives finite numbers for finite ones, and alpha and mattes from 0 to 1', () => {
    for (const [state, slots] of filled()) {
      const out = spec.run(workspace, given(kind, 5), slots, valuesOf(spec), neighbours(spec));
      expect(out.data.every(Number.isFinite), `slots ${state}`).toBe(true);
      const step = out.channels === 1 ? 1 : 4;
      let [least, most] = [1, 0];
      for (let i = step - 1; i < out.data.length; i += step) {
        least = Math.min(least, out.data[i]);
        most = Math.max(most, out.data[i]);
      }
      expect(least).toBeGreaterThanOrEqual(0);
      expect(most).toBeLessThanOrEqual(1);
    }
  });

  test.each([
    [1, 1],
    [1, 6],
    [7, 1],
    [3, 2],
    [13, 9],
  ])('works on %d by %d pixels, all slots filled', (w, h) => {
    const slots = slotsOf(spec, (k, seed) => given(k, seed, w, h));
    const others = (spec.frames?.(valuesOf(spec)) ?? []).map((_, i) => given(kind, 31 + i, w, h));
    const out = spec.run(workspace, given(kind, 3, w, h), slots, valuesOf(spec), others);
    expect([out.width, out.height, out.data.every(Number.isFinite)]).toEqual([w, h, true]);
  });

  test('returns every bit at amount 0, all slots filled', () => {
    // Opacity’s amount is what is left, and its neutral value 1.
    if (!('amount' in spec.values) || spec.id === 'opacity') return;
    const values = { ...(valuesOf(spec) as object), amount: 0 } as never;
    expect(spec.neutral(values)).toBe(true);
    const before = given(kind);
    expect(same(spec.run(workspace, before, slotsOf(spec), values, neighbours(spec)), before)).toBe(true);
  });

  test('a draft is the full result scaled down, all slots filled', () => {
    const values = valuesOf(spec);
    const full = hills(kind, 2);
    const slots = slotsOf(spec, hills);
    const others = (spec.frames?.(values) ?? []).map((_, i) => hills(kind, 31 + i));
    const less = (p: Picture, k: Kind) => (k === 'data' ? pickCentres : shrink)(workspace, p, 0.5);
    const want = shrink(workspace, spec.run(workspace, full, slots, values, others), 0.5);
    const small = Object.fromEntries(
      Object.entries(slots).map(([key, p]) => [key, less(p, spec.slots[key].kind)]),
    );
    const draft = spec.run(
      workspace,
      less(full, kind),
      small,
      draftValues(spec.values, values, 0.5) as never,
      others.map((p) => less(p, kind)),
    );
    expect([draft.width, draft.height]).toEqual([want.width, want.height]);
    let [square, peak] = [0, 1e-6];
    for (let i = 0; i < want.data.length; i++) {
      square += (want.data[i] - draft.data[i]) ** 2;
      peak = Math.max(peak, want.data[i]);
    }
    // The edge of a matte is a few pixels wide, and a draft's as many: there it is another edge.
    const most = produces === 'matte' ? 0.1 : 0.03;
    expect(Math.sqrt(square / want.data.length) / peak).toBeLessThan(most);
  });

  test('computes a part as it is in the whole', () => {
    const wanted: Region = { x: 100, y: 70, width: 28, height: 24, of: { width, height } };
    const before =
      kind === 'matte' ? given('matte') : pictureOf(width, height, (i) => ((i & 3) === 3 ? 0.5 : smooth(i)));
    const values = valuesOf(spec);
    const region = grown(wanted, spec.reach(values));
    const others = neighbours(spec);
    for (const [state, slots] of [bare[0], ['filled', slotsOf(spec, hills)]] as typeof bare) {
      const whole = cut(workspace, spec.run(workspace, before, slots, values, others), wanted);
      const partial = openWorkspace(runtime, region);
      const here = (p: Picture) => (region ? cut(partial, p, region) : p);
      const there = Object.fromEntries(Object.entries(slots).map(([key, p]) => [key, here(p)]));
      const part = cut(
        workspace,
        spec.run(partial, here(before), there, values, others.map(here)),
        wanted,
        region,
      );
      let worst = 0;
      for (let i = 0; i < whole.data.length; i++)
        worst = Math.max(
          worst,
          Math.abs(part.data[i] - whole.data[i]) / Math.max(1, Math.abs(whole.data[i])),
        );
      partial.clear();
      expect(worst, `slots ${state}`).toBeLessThan(spec.stage === 'light' ? 4e-3 : 1e-5);
    }
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
