import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { pictureOf, runtime, workspace } from '../../../tests/runtime';
import { forgetSpectra } from '../../kernels/fourier';
import { shrink } from '../../kernels/sample';
import type { Picture } from '../../picture/picture';
import { steps } from '../registry';
import { defaultsOf, type StepSpec, type Values } from '../shared/define';
import { beamGains, brightest } from './light-rays';
import { streaksOf } from './spikes';

afterEach(() => {
  workspace.clear();
  forgetSpectra(runtime);
  expect(runtime.arena.used).toBe(0);
});

const sum = (p: Picture, c = 1) => p.data.reduce((s, v, i) => s + ((i & 3) === c ? v : 0), 0);
/** A point of light of the given sum, shared among the four pixels around it. */
const point = (width: number, height: number, x: number, y: number, light: number) =>
  pictureOf(width, height, (i) => {
    if ((i & 3) === 3) return 0;
    const [px, py] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
    return light * Math.max(0, 1 - Math.abs(px - x)) * Math.max(0, 1 - Math.abs(py - y));
  });
const disc = (width: number, height: number, cx: number, cy: number, r: number, light: number) =>
  pictureOf(width, height, (i) => {
    if ((i & 3) === 3) return 1;
    const away = Math.hypot(((i >> 2) % width) - cx, Math.floor((i >> 2) / width) - cy);
    return light / (1 + Math.exp((away - r) * 1.5));
  });

/** Settings at which each step spreads what it takes whole, within a small picture. */
const settings: Record<string, Values> = {
  glow: { size: 5 },
  bloom: { radius: 16 },
  'aperture-spikes': { size: 36 },
  spikes: { length: 24, width: 1 },
  'lens-reflections': { list: [[-0.6, 0.02, 1, 1, 1, 1, 0.2, 0]] },
  'light-rays': { centreX: 20, centreY: 12, length: 0.5 },
};
/** At a hard edge the narrowest part of a bloom, the way of a ray within a pixel, and fringes are finer than a draft. */
const tolerance: Record<string, number> = {
  bloom: 0.07,
  'light-rays': 0.07,
  'aperture-spikes': 0.05,
  'lens-reflections': 0.05,
};
const alone = { threshold: 0, knee: 0, show: 'light', amount: 1 };
const light = steps.filter((s) => s.stage === 'light');
const valuesOf = (spec: StepSpec, given: Values = {}) =>
  ({ ...defaultsOf(spec.values), ...settings[spec.id], ...given }) as never;
const run = (spec: StepSpec, p: Picture, given: Values = {}) =>
  spec.run(workspace, p, {}, valuesOf(spec, given));
const scaled = (spec: StepSpec, given: Values, scale: number): Values =>
  Object.fromEntries(
    Object.entries(valuesOf(spec, given) as Values).map(([key, v]) => {
      const declared = spec.values[key];
      return [key, declared.type === 'number' && declared.unit === 'px' ? (v as number) * scale : v];
    }),
  );

describe.each(light.map((s) => [s.id, s] as const))('%s', (id, spec) => {
  test('amount 0 is neutral unless the light alone is shown', () => {
    expect(spec.neutral(valuesOf(spec, { amount: 0, show: 'result' }))).toBe(true);
    expect(spec.neutral(valuesOf(spec, { amount: 0, show: 'light' }))).toBe(false);
  });

  test('law 3: a draft is the full result scaled down', () => {
    const full = disc(160, 120, 82, 58, 9, 6);
    const small = shrink(workspace, full, 0.5);
    const want = shrink(workspace, run(spec, full, alone), 0.5);
    const got = spec.run(workspace, small, {}, scaled(spec, alone, 0.5) as never);
    const peak = Math.max(...want.data.filter((_, i) => (i & 3) < 3));
    let worst = 0;
    for (let i = 0; i < want.data.length; i++)
      if ((i & 3) < 3) worst = Math.max(worst, Math.abs(want.data[i] - got.data[i]));
    expect(worst / peak).toBeLessThan(tolerance[id] ?? 0.03);
  });

  test('law 5: alpha grows with light and never past 1; the colour is not clipped', () => {
    const bright = run(spec, point(81, 61, 40, 30, 4000), { ...alone, show: 'result' });
    const alphas = bright.data.filter((_, i) => (i & 3) === 3);
    expect(Math.max(...alphas)).toBeLessThanOrEqual(1);
    expect(Math.min(...alphas)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...bright.data)).toBeGreaterThan(20);
  });

  test('law 6: what is not finite spreads no further than its pixels', () => {
    const broken = disc(61, 41, 30, 20, 5, 4);
    broken.data[(8 * 61 + 9) * 4] = Number.NaN;
    broken.data[(30 * 61 + 44) * 4 + 1] = Number.POSITIVE_INFINITY;
    const out = run(spec, broken, { ...alone, show: 'result' });
    for (let i = 0; i < out.data.length; i++) {
      const p = i >> 2;
      if (p !== 8 * 61 + 9 && p !== 30 * 61 + 44) expect(Number.isFinite(out.data[i])).toBe(true);
    }
  });

  test('law 7: a point moved by parts of a pixel keeps its light within 0.1 %, mirrored images within 1 %', () => {
    // Rays are a mean over a way that grows with the distance: their light does, too.
    const given = id === 'light-rays' ? { ...alone, source: 'direction', angle: -37, reach: 20 } : alone;
    const whole = sum(run(spec, point(121, 101, 60, 50, 30), given));
    for (const [dx, dy] of [
      [0.25, 0],
      [0.5, 0.5],
      [0.1, 0.8],
    ])
      expect(Math.abs(sum(run(spec, point(121, 101, 60 + dx, 50 + dy, 30), given)) / whole - 1)).toBeLessThan(
        id === 'lens-reflections' ? 0.01 : 0.001,
      );
  });

  test('what is taken can be looked at by itself', () => {
    const p = disc(41, 31, 20, 15, 4, 5);
    const taken = run(spec, p, { threshold: 2, knee: 0, show: 'taken', amount: 0.1 });
    expect(taken.data[(15 * 41 + 20) * 4]).toBeCloseTo(3, 1);
    expect(taken.data[0]).toBe(0);
  });
});

describe('spikes', () => {
  test('keep the light, and are the same turned by a ray', () => {
    const spec = steps.find((s) => s.id === 'spikes')!;
    const source = point(161, 161, 80, 80, 10);
    const first = run(spec, source, { ...alone, rays: 5, angle: 13, colourShift: 0 });
    const turned = run(spec, source, { ...alone, rays: 5, angle: 13 + 72, colourShift: 0 });
    expect(Math.abs(sum(first) - 10)).toBeLessThan(0.3);
    const worst = first.data.reduce((w, v, i) => Math.max(w, Math.abs(v - turned.data[i])), 0);
    expect(worst).toBeLessThan(1e-4);
  });
  test('their gains sum to one, whatever they are like', () => {
    const values = fc.record({
      rays: fc.integer({ min: 1, max: 24 }),
      angle: fc.constant(0),
      length: fc.double({ min: 1, max: 400, noNaN: true }),
      taper: fc.double({ min: 0, max: 1, noNaN: true }),
      irregularity: fc.double({ min: 0, max: 1, noNaN: true }),
      seed: fc.integer({ min: 0, max: 99 }),
      colourShift: fc.double({ min: -1, max: 1, noNaN: true }),
      sides: fc.constantFrom('one' as const, 'two' as const),
    });
    fc.assert(
      fc.property(values, (v) => {
        const streaks = streaksOf(v);
        expect(streaks.reduce((s, { forth, back }) => s + forth.gain + back.gain, 0)).toBeCloseTo(1, 6);
        // Two rays a streak where they lie opposite.
        expect(streaks.length).toBe(v.sides === 'one' && v.rays % 2 === 0 ? v.rays / 2 : v.rays);
      }),
    );
  });
});

describe('lens reflections', () => {
  test('lie at −s·(p − c) + c for a scale s, in their tint', () => {
    const spec = steps.find((s) => s.id === 'lens-reflections')!;
    for (const s of [-0.5, -1, 0.5]) {
      const list = [[s, 0.01, 1, 1, 0.5, 0.25, 0, 0]];
      const out = run(spec, point(201, 151, 130, 60, 400), { ...alone, list });
      let [sum, sx, sy] = [0, 0, 0];
      for (let i = 0; i < 201 * 151; i++) {
        const l = out.data[i * 4];
        sum += l;
        sx += l * (i % 201);
        sy += l * Math.floor(i / 201);
      }
      expect(sx / sum).toBeCloseTo(100 + s * 30, 0);
      expect(sy / sum).toBeCloseTo(75 + s * -15, 0);
      const at = (Math.round(75 + s * -15) * 201 + Math.round(100 + s * 30)) * 4;
      expect(out.data[at + 2] / out.data[at]).toBeCloseTo(0.25, 3);
    }
  });
});

describe('light rays', () => {
  test('find the brightest light', () => {
    const [x, y] = brightest(disc(81, 61, 52, 20, 4, 9));
    expect(x).toBeCloseTo(52, 0);
    expect(y).toBeCloseTo(20, 0);
    expect(brightest(pictureOf(9, 5, () => 0))).toEqual([4, 2]);
  });
  const beams = { beamContrast: 0.8, beamCount: 40, beamRotation: 0, beamDrift: 0, beamEvolution: 0 };
  test('beams are smooth around the circle, dim by their depth, and turn', () => {
    const gain = beamGains(beams, 3, 0);
    for (let k = 0; k < 400; k++) {
      const g = gain(k / 400);
      expect(g).toBeGreaterThanOrEqual(0.2 - 1e-9);
      expect(g).toBeLessThanOrEqual(1);
      expect(Math.abs(gain((k + 1) / 400) - g)).toBeLessThan(0.2);
    }
    expect(beamGains({ ...beams, beamRotation: 36 }, 3, 0)(0.3)).toBeCloseTo(gain(0.2), 6);
    // Nine degrees a frame: after four frames the same.
    expect(beamGains({ ...beams, beamDrift: 9 }, 3, 4)(0.3)).toBeCloseTo(gain(0.2), 6);
  });
  test('beams change without a jump from frame to frame', () => {
    const moving = { ...beams, beamEvolution: 0.1 };
    let most = 0;
    for (let frame = 0; frame < 40; frame++) {
      const [one, two] = [beamGains(moving, 3, frame), beamGains(moving, 3, frame + 1)];
      for (let k = 0; k < 40; k++) most = Math.max(most, Math.abs(one(k / 40) - two(k / 40)));
    }
    expect(most).toBeLessThan(0.16);
    expect(most).toBeGreaterThan(0.05);
    const [first, later] = [beamGains(moving, 3, 0), beamGains(moving, 3, 10)];
    expect(
      Array.from({ length: 40 }, (_, k) => Math.abs(first(k / 40) - later(k / 40))).some((d) => d > 0.3),
    ).toBe(true);
  });

  const spec = steps.find((s) => s.id === 'light-rays')!;
  const far = { ...alone, source: 'direction', angle: 0, reach: 400 };
  test('a far sun’s beams lie side by side', () => {
    const wall = pictureOf(60, 90, (i) => ((i & 3) < 3 && (i >> 2) % 60 === 5 ? 10 : 0));
    const out = run(spec, wall, { ...far, beamContrast: 1, beamCount: 8 });
    const column = Array.from({ length: 90 }, (_, y) => out.data[(y * 60 + 40) * 4]);
    expect(Math.max(...column) / Math.max(1e-6, Math.min(...column))).toBeGreaterThan(2);
    for (let y = 1; y < 90; y++)
      expect(Math.abs(column[y] - column[y - 1])).toBeLessThan(0.45 * Math.max(...column));
  });
  test('rays stop at what is nearer than their light, not at the sky nor at what lies behind', () => {
    const source = point(80, 21, 5, 10, 100);
    const depthOf = (there: number) =>
      pictureOf(80, 21, (i) => {
        const x = (i >> 2) % 80;
        return x === 5 ? 20 : x === 30 ? there : Number.POSITIVE_INFINITY;
      });
    const at = (there: number, distance: number) =>
      spec.run(
        workspace,
        source,
        { depth: depthOf(there) },
        valuesOf(spec, { ...far, lightDistance: distance }),
      ).data[(10 * 80 + 60) * 4];
    expect(at(5, 20)).toBe(0);
    expect(at(50, 20)).toBeGreaterThan(0);
    // A light in the sky is behind everything.
    expect(at(50, 0)).toBe(0);
    expect(at(Number.POSITIVE_INFINITY, 0)).toBe(at(50, 20));
  });
});
