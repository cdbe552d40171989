import { afterEach, expect, test } from 'vitest';
import { planOf } from '../../core/evaluate/plan/plan';
import { parseFinish } from '../../core/finish/validation';
import { mothAndComet } from '../../server/seed/moth-and-comet';
import { runtime, workspace } from '../../tests/runtime';
import { fileOf, layers, patternOf, strokesOn } from './layers';
import { painted, size } from './paint';
import { drawingOf, poseOf } from './pose';

afterEach(() => {
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
});

const named = (name: string) => layers.find((l) => l.name === name)!;

test('a drawing is the same each time, premultiplied, its coverage in 0 to 1', () => {
  const one = painted(workspace, strokesOn(named('body'), 5));
  expect([one.width, one.height]).toEqual([size.width, size.height]);
  expect(painted(workspace, strokesOn(named('body'), 5)).data).toEqual(one.data);
  let covered = 0;
  for (let i = 0; i < one.data.length; i += 4) {
    const a = one.data[i + 3];
    covered += a;
    expect(a >= 0 && a <= 1 && Math.max(one.data[i], one.data[i + 1], one.data[i + 2]) <= a + 1e-6).toBe(
      true,
    );
  }
  // A figure, not a spot and not the frame.
  expect(covered / (size.width * size.height)).toBeGreaterThan(0.01);
  expect(covered / (size.width * size.height)).toBeLessThan(0.1);
}, 180_000);

test('drawings stand on twos, the shade on some frames alone, the tail once', () => {
  expect([1, 2, 3, 23, 24].map(drawingOf)).toEqual([1, 1, 2, 12, 12]);
  expect(poseOf(drawingOf(5))).toEqual(poseOf(drawingOf(6)));
  expect(poseOf(3)).not.toEqual(poseOf(4));
  expect(named('comet').frames).toEqual([1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23]);
  expect(named('form_shade').frames).not.toContain(11);
  expect([patternOf(named('tail')), patternOf(named('body')), fileOf(named('body'), 7)]).toEqual([
    'tail.png',
    'body.####.png',
    'body.0007.png',
  ]);
});

test.each([1, 2, 4, 24])('its finishes stand with %i frames, and can be computed on each', (last) => {
  const { shot, others } = mothAndComet(last);
  for (const finish of [shot.finish, ...others]) {
    const doc = parseFinish(JSON.parse(JSON.stringify(finish)));
    for (const frame of [1, last]) {
      const request = { finish: doc, point: { strand: doc.main, after: 'end' }, frame, scale: 0.5 };
      const { nodes } = planOf(request, (media, f) => {
        expect(shot.media.map((m) => m.name)).toContain(media);
        return `${media}@${f}`;
      });
      expect(nodes.length).toBeGreaterThan(7);
    }
  }
});
