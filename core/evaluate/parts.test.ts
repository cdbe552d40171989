import { expect, test } from 'vitest';
import { noise, plainRuntime } from '../../tests/runtime';
import { addStep, newFinish } from '../finish/edits';
import type { Finish, Head } from '../finish/finish';
import { startStrand } from '../finish/new-strand';
import { setValues } from '../finish/value-edits';
import { idFloat } from '../formats/id-mattes';
import type { Workspace } from '../kernels/workspace';
import { PictureCache } from './cache';
import { type Request, regionGiven } from './plan/node';
import { planOf } from './plan/plan';
import { evaluate, type FrameSource } from './run';

const [width, height] = [640, 320];
const names = ['ring_a', 'ring_b', 'globe'];
/** A beauty with a few lamps, a matte that flickers, and ids; frames 1 to 5 are there. */
const source: FrameSource = {
  identity(media, frame) {
    if (frame < 1 || frame > 5) throw new Error(`Frame ${frame} is not there.`);
    return `${media}:${frame}`;
  },
  metadata: async () => ({ objects: { ids: names } }),
  load:
    async ({ pass }, frame) =>
    (workspace: Workspace) => {
      const p = workspace.picture(width, height);
      const dim = noise(3, 1);
      for (let i = 0; i < p.data.length; i++) {
        const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)];
        if (pass === 'ids00')
          p.data[i] = i & 1 ? 0.5 : idFloat(names[((i & 2) >> 1) + (x > width / 2 ? 1 : 0)]);
        else if (pass === 'flicker') p.data[i] = frame === 3 ? 0 : 0.75;
        else p.data[i] = (i & 3) === 3 ? 1 : dim(i >> 7) * 0.2 + (Math.hypot(x - 150, y - 90) < 4 ? 30 : 0);
      }
      return p;
    },
};
const runtime = plainRuntime(128);
const pixels = async (request: Request) => {
  const cache = new PictureCache(runtime.arena, 64 * 2 ** 20);
  const done = await evaluate(request, { runtime, source, cache }, (p) => ({ ...p, data: p.data.slice() }));
  cache.empty();
  return done;
};
const pass = (name: string): Head => ({ type: 'pass', media: 'hall', pass: name });
const end = (strand: string) => ({ strand, after: 'end' });

test('a part of the picture is the same part of the whole, and no more is computed than its steps reach', async () => {
  let doc = newFinish('a', 'A', pass(''));
  for (const [i, type] of ['bloom', 'caption', 'glow'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  doc = setValues(doc, 'bloom', { radius: 10 }).apply(doc);
  doc = setValues(doc, 'glow', { size: 4 }).apply(doc);
  const region = { x: 150, y: 70, width: 30, height: 20, of: { width, height } };
  for (const scale of [1, 0.5]) {
    const request = { finish: doc, point: end('main'), frame: 1, scale };
    const whole = await pixels(request);
    const part = await pixels({ ...request, region });
    const at = regionGiven({ region, scale })!;
    expect([part.width, part.height]).toEqual([at.width, at.height]);
    expect(part.width * part.height).toBeLessThan((whole.width * whole.height) / 2);
    let worst = 0;
    for (let y = 0; y < part.height; y++) {
      for (let i = 0; i < part.width * 4; i++) {
        const there = whole.data[((y + at.y) * whole.width + at.x) * 4 + i];
        worst = Math.max(worst, Math.abs(part.data[y * part.width * 4 + i] - there) / (1 + there));
      }
    }
    expect(worst).toBeLessThan(4e-3);
    const { nodes } = planOf({ ...request, region }, source.identity);
    if (scale === 1)
      if (scale === 1)
        // Half as large, a part on the grid is nearly all of it.
        for (const n of nodes) if (n.type === 'step') expect(n.region!.width).toBeLessThan(width);
  }
});

test('a step that looks at other frames calms a matte, and leaves out frames that are not there', async () => {
  const base = newFinish('a', 'A', pass(''));
  const from = { key: '', name: 'M', description: '', head: pass('flicker'), kind: 'picture' as const };
  const { edit, strand } = startStrand(base, { ...from, steps: ['as-matte', 'temporal-filter'] });
  const doc = setValues(edit.apply(base), 'as-matte', { channel: 'luminance' }).apply(edit.apply(base));
  const value = async (finish: Finish, frame: number) =>
    (await pixels({ finish, point: end(strand), frame, scale: 0.25 })).data[0];
  expect(await value(doc, 3)).toBeCloseTo(0.75, 6);
  const mean = setValues(doc, 'temporal-filter', { method: 'mean' }).apply(doc);
  expect(await value(mean, 3)).toBeCloseTo(0.5, 6);
  expect(await value(mean, 1)).toBeCloseTo(0.75, 6);
  const bare = setValues(doc, 'temporal-filter', { frames: 0 }).apply(doc);
  expect(await value(bare, 3)).toBe(0);
});

test('patterns of names are looked up on the frame; coverage of a draft is the mean of the full one', async () => {
  const base = newFinish('a', 'A', pass(''));
  const head: Head = {
    type: 'ids',
    media: 'hall',
    pass: 'ids',
    idFormat: 'ranked',
    ranks: 1,
    objects: ['ring*'],
  };
  const { edit, strand } = startStrand(base, {
    key: '',
    name: 'Rings',
    description: '',
    head,
    kind: 'matte',
  });
  for (const scale of [1, 0.25]) {
    const m = await pixels({ finish: edit.apply(base), point: end(strand), frame: 1, scale });
    expect(m.channels).toBe(1);
    // Left of the middle both ranks are rings, right of it one is.
    expect(m.data[2]).toBe(1);
    expect(m.data[m.width - 2]).toBe(0.5);
  }
});
