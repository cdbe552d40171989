import { describe, expect, test } from 'vitest';
import { addStep, linkPass, newFinish, setBypass, setHead, setValue } from '../finish/edits';
import type { Finish } from '../finish/finish';
import { blank, type Picture } from '../picture/picture';
import { PictureCache } from './cache';
import { planOf } from './plan';
import { evaluate, type FrameSource, Overtaken } from './run';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const emission = { type: 'pass', media: 'hall', pass: 'emission' } as const;
let doc: Finish = newFinish('hall', 'Hall', head);
for (const [i, id] of ['a', 'b', 'c'].entries()) doc = addStep('main', i, 'bloom', id).apply(doc);

/** A source of small pictures that counts what is loaded; a frame's content may change. */
function source(contents: Record<number, string> = {}) {
  const loads: string[] = [];
  const s: FrameSource = {
    identity: (media, frame) => `${media}:${frame}:${contents[frame] ?? ''}`,
    async load({ pass }, frame) {
      loads.push(`${pass}@${frame}`);
      const p: Picture = blank(16, 12);
      p.data.fill(pass === '' ? 0.5 : 0);
      p.data.fill(9, 80, 88);
      return p;
    },
  };
  return { ...s, loads };
}

const request = (finish: Finish, frame = 1, after = 'end', scale = 1) => ({
  finish,
  place: { strand: 'main', after },
  frame,
  scale,
});
const keys = (finish: Finish, frame = 1, scale = 1, contents = {}) =>
  planOf(request(finish, frame, 'end', scale), source(contents).identity);
const steps = (finish: Finish) =>
  keys(finish)
    .nodes.filter((n) => n.type === 'step')
    .map((n) => n.strand + n.key);

describe('the plan', () => {
  test('leaves out bypassed and neutral steps, and all steps on data', () => {
    expect(steps(doc)).toHaveLength(3);
    expect(steps(setBypass(doc, 'b', true).apply(doc))).toHaveLength(2);
    expect(steps(setValue(doc, 'b', 'amount', 0).apply(doc))).toHaveLength(2);
    const depth = setHead(doc, 'main', { ...head, pass: 'depth' }, 'data', 'depth').apply(doc);
    expect(steps(depth)).toHaveLength(0);
  });

  test('keys change with everything a result depends on, and with nothing else', () => {
    const { key } = keys(doc);
    expect(keys(doc, 2).key).not.toBe(key);
    expect(keys(doc, 1, 0.5).key).not.toBe(key);
    expect(keys(doc, 1, 1, { 1: 'rendered again' }).key).not.toBe(key);
    expect(keys(setValue(doc, 'a', 'radius', 97).apply(doc)).key).not.toBe(key);
    expect(keys({ ...doc, name: 'Another name' }).key).toBe(key);
    expect(keys(setBypass(setValue(doc, 'b', 'amount', 0).apply(doc), 'b', true).apply(doc)).key).toBe(
      keys(setBypass(doc, 'b', true).apply(doc)).key,
    );
  });

  test('lengths in pixels follow the draft’s scale', () => {
    const node = planOf(request(doc, 1, 'a', 0.25), source().identity).nodes.at(-1)!;
    expect(node.type === 'step' && node.values).toMatchObject({ radius: 24, amount: 0.5 });
  });
});

describe('the run', () => {
  test('computes again only what comes after the change', async () => {
    const cache = new PictureCache(1e9);
    const from = source();
    await evaluate(request(doc), { source: from, cache });
    const before = cache.bytes;
    const perPicture = 16 * 12 * 16;
    expect(before).toBe(4 * perPicture);
    await evaluate(request(setValue(doc, 'c', 'amount', 2).apply(doc)), { source: from, cache });
    expect(cache.bytes).toBe(5 * perPicture);
    await evaluate(request(doc), { source: from, cache });
    expect(cache.bytes).toBe(5 * perPicture);
    expect(from.loads).toEqual(['@1']);
  });

  test('amount 0 returns the input bit for bit, and bypass too', async () => {
    const from = source();
    const run = { source: from, cache: new PictureCache(1e9) };
    const input = await evaluate(request(doc, 1, 'head'), run);
    let off = doc;
    for (const id of ['a', 'b', 'c']) off = setValue(off, id, 'amount', 0).apply(off);
    expect((await evaluate(request(off), run)).data).toEqual(input.data);
  });

  test('a slot takes another strand, read as a matte where the slot is one', async () => {
    const run = { source: source(), cache: new PictureCache(1e9) };
    const kept = linkPass(doc, 'a', 'where', emission, 'emission', 'alpha').apply(doc);
    const input = await evaluate(request(doc, 1, 'head'), run);
    const out = await evaluate(request(kept, 1, 'a'), run);
    expect(planOf(request(kept), run.source.identity).nodes.map((n) => n.type)).toContain('matte');
    // The emission pass has alpha only in its two bright pixels: nothing else may change.
    for (let i = 0; i < out.data.length; i++) if (i < 80 || i >= 88) expect(out.data[i]).toBe(input.data[i]);
    expect(out.data[81]).not.toBe(input.data[81]);
  });

  test('a slot of another size is refused in words', async () => {
    const odd: FrameSource = {
      ...source(),
      load: async ({ pass }) => (pass === '' ? blank(16, 12) : blank(8, 12)),
    };
    const kept = linkPass(doc, 'a', 'light', emission, 'emission').apply(doc);
    await expect(evaluate(request(kept), { source: odd, cache: new PictureCache(1e9) })).rejects.toThrow(
      /slot light of Bloom has 8 by 12 in place of 16 by 12 pixels/,
    );
  });

  test('stops when overtaken, and keeps what was done', async () => {
    const cache = new PictureCache(1e9);
    const from = source();
    let asked = 0;
    const overtaken = () => ++asked > 2;
    await expect(evaluate(request(doc), { source: from, cache, overtaken })).rejects.toThrow(Overtaken);
    const done = cache.bytes;
    expect(done).toBeGreaterThan(0);
    await evaluate(request(doc), { source: from, cache });
    expect(from.loads).toHaveLength(1);
  });
});

test('the cache drops what was used least recently, and stays within its bytes', () => {
  const cache = new PictureCache(3 * 64);
  const picture = blank(2, 2);
  for (const key of ['a', 'b', 'c']) cache.set(key, picture);
  cache.get('a');
  cache.set('d', picture);
  expect(['a', 'b', 'c', 'd'].filter((k) => cache.get(k))).toEqual(['a', 'c', 'd']);
  expect(cache.bytes).toBe(3 * 64);
});
