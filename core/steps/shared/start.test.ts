import { afterEach, describe, expect, test } from 'vitest';
import { noise, pictureOf, runtime, workspace } from '../../../tests/runtime';
import { encodeSrgb } from '../../colour/srgb';
import { forgetSpectra } from '../../kernels/fourier';
import type { Picture } from '../../picture/picture';
import { lightHistogram, lightThreshold } from '../../scopes/light';
import { valueHistogram } from '../../scopes/values';
import { middleOfLight } from '../light/take';
import { steps } from '../registry';
import { defaultsOf, type StepSpec } from './define';
import type { StartFacts } from './start-facts';

afterEach(() => {
  workspace.clear();
  forgetSpectra(runtime);
});

const [width, height] = [320, 180];
/** A frame of an even noise about `level`, with a window `times` as bright in its upper left. */
const frame = (level: number, times: number) => {
  const grain = noise(3, 1);
  return pictureOf(width, height, (i) => {
    if ((i & 3) === 3) return 1;
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
    const isWindow = x > 60 && x < 110 && y > 30 && y < 70;
    return level * (0.5 + grain(i >> 2)) * (isWindow ? times : 1);
  });
};
const facts = (p: Picture): StartFacts => {
  const threshold = lightThreshold(lightHistogram(p));
  const middle = middleOfLight(p);
  return {
    threshold,
    middle: middle && [middle[0] - (width - 1) / 2, (height - 1) / 2 - middle[1]],
    values: valueHistogram(p, 'luminance'),
  };
};
/** The largest change on the screen, in codes of 8 bits. */
function change(spec: StepSpec, p: Picture): number {
  const values = { ...defaultsOf(spec.values), ...spec.start?.(facts(p)) };
  const out = spec.run(workspace, p, {}, values as never);
  const code = (v: number) => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, v))));
  let most = 0;
  for (let i = 0; i < p.data.length; i++)
    if ((i & 3) < 3) most = Math.max(most, Math.abs(code(out.data[i]) - code(p.data[i])));
  return most;
}

describe('a light step that has just been added changes what one sees', () => {
  const light = steps.filter((s) => s.stage === 'light');
  test.each(light.map((s) => [s.id, s] as const))('%s', (_, spec) => {
    // An ordinary render with nothing above 1, a dim one, one with lamps far above 1.
    for (const [level, times] of [
      [0.15, 5],
      [0.02, 6],
      [0.1, 200],
    ]) {
      expect(change(spec, frame(level, times))).toBeGreaterThanOrEqual(2);
      workspace.clear();
      forgetSpectra(runtime);
    }
  });
});

test('rays begin at the brightest light, so that they go to all sides of it', () => {
  const rays = steps.find((s) => s.id === 'light-rays')!;
  const { centreX, centreY } = rays.start!(facts(frame(0.1, 50)));
  // Within the window, whose edges lie at 60 to 110 and 30 to 70.
  expect(Math.abs((centreX as number) - (85 - (width - 1) / 2))).toBeLessThan(5);
  expect(Math.abs((centreY as number) - ((height - 1) / 2 - 50))).toBeLessThan(5);
});

test('mist and keys of depth begin at how the depth lies', () => {
  const depth = pictureOf(width, height, (i) => 3 + ((i >> 2) % width) / 10);
  const values = valueHistogram(depth, 'red');
  const start = (id: string) => steps.find((s) => s.id === id)!.start!({ values });
  for (const id of ['depth-mist', 'mist-density'])
    expect(start(id)).toMatchObject({ near: 4.6, far: 33.4, visibility: 57.6 });
  expect(start('depth-range')).toMatchObject({ low: 4.6, high: 19 });
});

describe('a key of light begins where there is light', () => {
  const started = (p: Picture) =>
    steps.find((s) => s.id === 'luminance-key')!.start!({ values: valueHistogram(p, 'luminance') }) as {
      low: number;
      lowSoft: number;
    };
  /** Levels and alpha by column, over the first 6 rows of 180; the others are nothing, black or not covered. */
  const columns = (levels: readonly number[], covered: boolean) =>
    pictureOf(width, height, (i) => {
      const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
      if ((i & 3) === 3) return covered || y < 6 ? 1 : 0;
      return y < 6 ? levels[x % levels.length] : 0;
    });

  test('all lamps of a pass that is black beside them, the dim ones too', () => {
    expect(started(columns([8, 20, 30], true))).toMatchObject({ low: 5, lowSoft: 5 });
  });
  test('the bright parts of a drawing that covers little of the frame', () => {
    const { low, lowSoft } = started(columns([0.1, 0.2, 0.2, 0.9], false));
    expect(low).toBeCloseTo(0.9);
    expect(lowSoft).toBeCloseTo(0.35);
  });
  test('not where all is black', () => {
    expect(started(columns([0], true))).toEqual({});
  });
});
