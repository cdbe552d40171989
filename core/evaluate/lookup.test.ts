import { afterEach, expect, test } from 'vitest';
import { pictureOf, runtime, workspace } from '../../tests/runtime';
import { addStep, newFinish } from '../finish/edits';
import type { Finish } from '../finish/finish';
import { setValues } from '../finish/value-edits';
import { packCube } from '../formats/cube';
import { runColour } from '../kernels/colour';
import { copy } from '../kernels/point';
import { stepSpec } from '../steps/registry';
import { defaultsOf } from '../steps/shared/define';
import { PictureCache } from './cache';
import { cubeOf, pixelRunAt } from './lookup';
import { evaluate } from './run';

afterEach(() => {
  workspace.clear();
});

const graded = (): Finish => {
  let doc = newFinish('f', 'F', { type: 'pass', media: 'hall', pass: '' });
  for (const [i, type] of ['white-balance', 'grade', 'curves', 'tone-curve'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  doc = setValues(doc, 'white-balance', { temperature: 5200 }).apply(doc);
  doc = setValues(doc, 'grade', { slopeRed: 1.1, saturation: 1.15 }).apply(doc);
  return setValues(doc, 'curves', {
    luminance: [
      [-4, -4.3],
      [0, 0.1],
      [4, 4.2],
    ],
  }).apply(doc);
};

test('a run of steps of colour as a cube does what the steps do, in the space it is made for', () => {
  const run = pixelRunAt(graded(), 'tone-curve', 1);
  expect(run.names).toEqual(['White balance', 'Grade', 'Curves', 'Tone curve']);
  const cube = cubeOf(workspace, run, 33, 'stops');
  const spec = stepSpec('lookup-table')!;
  const values = {
    table: packCube(cube),
    input: 'stops',
    inputLow: -10,
    inputHigh: 10,
    output: 'stops',
    outputLow: -10,
    outputHigh: 10,
  };
  const table = spec.program!({ ...defaultsOf(spec.values), ...values } as never);
  // From −6 to +6 stops, of moderate saturation.
  const picture = pictureOf(200, 1, (i) => {
    if ((i & 3) === 3) return 1;
    return 0.18 * 2 ** (((i >> 2) / 200) * 12 - 6) * [1, 0.85, 0.7][i & 3];
  });
  const [straight, looked] = [
    runColour(workspace, picture, run.program),
    runColour(workspace, picture, table),
  ];
  for (let i = 0; i < 800; i++)
    expect(Math.abs(looked.data[i] - straight.data[i])).toBeLessThan(0.02 * straight.data[i] + 1e-3);
});

test('a step with a mask, or one that looks elsewhere, ends the run; of a blur there is no table', () => {
  let doc = graded();
  doc = addStep('main', 2, 'blur', 'blur').apply(doc);
  expect(pixelRunAt(doc, 'tone-curve', 1).names).toEqual(['Curves', 'Tone curve']);
  expect(() => pixelRunAt(doc, 'blur', 1)).toThrow('does not change each pixel by itself');
});

test('steps of colour one after the other are worked out at once: the same bits, and nothing kept between them', async () => {
  const doc = graded();
  const source = pictureOf(64, 48, (i) => ((i & 3) === 3 ? [1, 0.4][(i >> 2) & 1] : ((i * 31) % 97) / 40));
  const render = async (finish: Finish, after: string, cache: PictureCache, steps: string[] = []) => {
    const request = { finish, point: { strand: 'main', after }, frame: 1, scale: 1 };
    return evaluate(
      request,
      {
        runtime,
        cache,
        source: {
          identity: () => 'same',
          load: async () => (w: never) => copy(w, source),
          metadata: async () => ({ objects: {} }),
        } as never,
        progress: ({ what }) => steps.push(what),
      },
      (p) => Array.from(p.data),
    );
  };
  const steps: string[] = [];
  const together = await render(doc, 'end', new PictureCache(runtime.arena, 64e6), steps);
  expect(steps.filter((s) => s !== 'the frame')).toEqual(['Tone curve']);
  // One after the other: each is asked for and kept before the next.
  const cache = new PictureCache(runtime.arena, 64e6);
  for (const after of ['white-balance', 'grade', 'curves']) await render(doc, after, cache);
  expect(await render(doc, 'end', cache)).toEqual(together);
});
