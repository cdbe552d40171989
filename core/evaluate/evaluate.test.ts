import { describe, expect, test } from 'vitest';
import { plainRuntime } from '../../tests/runtime';
import { addStep, linkPass, linkSlot, newFinish, setBypass, setHead, splitAt } from '../finish/edits';
import type { Finish, Tap } from '../finish/finish';
import { newShape } from '../finish/shape-edits';
import { slotsOf } from '../finish/uses';
import { setValue } from '../finish/value-edits';
import { openWorkspace, type Workspace } from '../kernels/workspace';
import { rectangle } from '../math/path';
import type { Picture } from '../picture/picture';
import { freeRecipe } from '../recipes/free';
import { makeRecipe } from '../recipes/make';
import { PictureCache } from './cache';
import { planOf } from './plan/plan';
import { evaluate as evaluateInto, type FrameSource, Overtaken, type Run } from './run';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const emission = { type: 'pass', media: 'hall', pass: 'emission' } as const;
let doc: Finish = newFinish('hall', 'Hall', head);
for (const [i, id] of ['a', 'b', 'c'].entries()) doc = addStep('main', i, 'bloom', id).apply(doc);

/** A source of small pictures that counts what is loaded; a frame's content may change. */
function source(contents: Record<number, string> = {}) {
  const loads: string[] = [];
  const s: FrameSource = {
    identity: (media, frame) => `${media}:${frame}:${contents[frame] ?? ''}`,
    metadata: async () => ({ objects: { ids: ['ring one', 'ring two', 'globe'] }, camera: [0, 0, 5] }),
    async load({ pass }, frame) {
      loads.push(`${pass}@${frame}`);
      return (workspace: Workspace) => {
        const p = workspace.picture(16, 12);
        p.data.fill(pass === '' ? 0.5 : 0);
        p.data.fill(9, 80, 88);
        return p;
      };
    },
  };
  return { ...s, loads };
}

const runtime = plainRuntime(64);
const newCache = () => new PictureCache(runtime.arena, 32 * 2 ** 20);
/** A copy of the result, which the cache may give back. */
const evaluate = (r: Parameters<typeof planOf>[0], run: Omit<Run, 'runtime'>) =>
  evaluateInto(r, { runtime, ...run }, ({ width, height, data }) => ({ width, height, data: data.slice() }));

const request = (finish: Finish, frame = 1, after = 'end', scale = 1) => ({
  finish,
  point: { strand: 'main', after },
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

  test('an inverted link gives the complement of its matte, read from a picture or not, and through the slot of a recipe', async () => {
    const strand = { id: 'lamps', name: 'Lamps', kind: 'picture' as const, head: emission, steps: [] };
    let plain: Finish = addStep('main', 0, 'opacity', 'fade').apply(newFinish('hall', 'Hall', head));
    plain = setValue(plain, 'fade', 'amount', 0.4).apply({ ...plain, strands: [...plain.strands, strand] });
    const tap = { strand: 'lamps', after: 'end' };
    const masked = (of: Tap) => linkSlot(plain, 'fade', 'mask', of).apply(plain);
    const pixels = async (finish: Finish) =>
      (await evaluate(request(finish), { source: source(), cache: newCache() })).data;
    const byValue = setValue(masked(tap), 'fade', 'invert', true).apply(masked(tap));
    expect(await pixels(masked({ ...tap, invert: true }))).toEqual(await pixels(byValue));
    expect(await pixels(masked({ ...tap, invert: true }))).not.toEqual(await pixels(masked(tap)));
    // In a recipe the slot carries it: the picture is the same when the recipe is made, and when it is freed.
    const once = masked({ ...tap, invert: true });
    const made = makeRecipe(once, 'main', ['fade'], 'Faded');
    const recipe = made.edit.apply(once);
    expect(await pixels(recipe)).toEqual(await pixels(once));
    // A slot that takes a matte inverts it once more.
    const drawn = { type: 'shapes' as const, shapes: [newShape('half', 'Half', rectangle(0, 0, 8, 12))] };
    const shapes = { id: 'drawn', name: 'Drawn', kind: 'matte' as const, head: drawn, steps: [] };
    plain = { ...plain, strands: [...plain.strands, shapes] };
    const half = { strand: 'drawn', after: 'end' };
    const inRecipe = makeRecipe(masked({ ...half, invert: true }), 'main', ['fade'], 'Faded');
    const outside = inRecipe.edit.apply(masked({ ...half, invert: true }));
    const [slot] = slotsOf(outside, inRecipe.id);
    const link = { ...slot.head.from!, invert: true as const };
    const twice = linkSlot(outside, inRecipe.id, slot.strand.id, link).apply(outside);
    expect(await pixels(twice)).toEqual(await pixels(masked(half)));
    expect(await pixels(freeRecipe(twice, inRecipe.id).apply(twice))).toEqual(await pixels(masked(half)));
  });

  test('a place is planned once, however many take from it', () => {
    // Each takes its light from the point above it: the ways through the plan double with every step.
    let long: Finish = newFinish('long', 'Long', head);
    const count = 300;
    long = {
      ...long,
      strands: [
        {
          ...long.strands[0],
          steps: Array.from({ length: count }, (_, i) => ({
            ...doc.strands[0].steps[0],
            id: `s${i}`,
            slots: { light: { strand: 'main', after: i === 0 ? 'head' : `s${i - 1}` } },
          })),
        },
      ],
    };
    expect(keys(long).nodes).toHaveLength(count + 1);
    const split = Array.from({ length: 60 }, (_, i) => i).reduce<Finish>(
      (d) => splitAt(d, d.strands.at(-1)!.id, 'head').apply(d),
      doc,
    );
    const last = split.strands.at(-1)!.id;
    const plan = planOf({ ...request(split), point: { strand: last, after: 'end' } }, source().identity);
    expect(plan.nodes).toHaveLength(1);
  });

  test('a glow along its movement looks at the light it is linked to, on the frames around', () => {
    const glow = addStep('main', 0, 'glow', 'glow').apply(newFinish('hall', 'Hall', head));
    const moving = setValue(glow, 'glow', 'direction', 'moving').apply(glow);
    const linked = linkPass(moving, 'glow', 'light', emission, 'emission').apply(moving);
    const looked = (finish: Finish) => {
      const { nodes } = keys(finish, 5);
      const node = nodes.at(-1)!;
      return node.type === 'step'
        ? node.neighbours.map((key) => {
            const head = nodes.find((n) => n.key === key)!;
            return head.type === 'head' && [head.head.pass, head.frame];
          })
        : [];
    };
    expect(looked(moving)).toEqual([
      ['', 4],
      ['', 6],
    ]);
    expect(looked(linked)).toEqual([
      ['emission', 4],
      ['emission', 6],
    ]);
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
    const cache = newCache();
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
    const run = { source: from, cache: newCache() };
    const input = await evaluate(request(doc, 1, 'head'), run);
    let off = doc;
    for (const id of ['a', 'b', 'c']) off = setValue(off, id, 'amount', 0).apply(off);
    expect((await evaluate(request(off), run)).data).toEqual(input.data);
  });

  test('a slot takes another strand, read as a matte where the slot is one', async () => {
    const run = { source: source(), cache: newCache() };
    const kept = linkPass(doc, 'a', 'mask', emission, 'emission', 'alpha').apply(doc);
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
      load:
        async ({ pass }) =>
        (workspace) =>
          workspace.blank(pass === '' ? 16 : 8, 12),
    };
    const kept = linkPass(doc, 'a', 'light', emission, 'emission').apply(doc);
    await expect(evaluate(request(kept), { source: odd, cache: newCache() })).rejects.toThrow(
      /slot light of Bloom has 8 by 12 in place of 16 by 12 pixels/,
    );
  });

  test('stops when overtaken, and keeps what was done', async () => {
    const cache = newCache();
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

test('the cache gives back what was used least recently, stays within its bytes, and keeps what is in use', () => {
  const { arena } = plainRuntime(8);
  const cache = new PictureCache(arena, 3 * 64);
  const workspace = openWorkspace({ ...runtime, arena });
  const put = (key: string) => {
    cache.put(key, workspace.picture(2, 2) as Picture);
    cache.unpin(key);
  };
  const has = (key: string) => {
    const there = cache.pin(key) !== undefined;
    if (there) cache.unpin(key);
    return there;
  };
  for (const key of ['a', 'b', 'c']) put(key);
  cache.pin('a');
  put('d');
  put('e');
  expect(['a', 'b', 'c', 'd', 'e'].filter(has)).toEqual(['a', 'd', 'e']);
  expect(cache.bytes).toBe(3 * 64);
  cache.empty();
  expect(['a', 'd', 'e'].filter(has)).toEqual(['a']);
});

test('300 edits leave the arena where it began', async () => {
  const own = plainRuntime(64);
  const cache = new PictureCache(own.arena, 100_000);
  const run = { runtime: own, source: source(), cache };
  let edited = doc;
  for (let i = 0; i < 300; i++) {
    edited = setValue(edited, ['a', 'b', 'c'][i % 3], 'amount', 0.1 + (i % 50) / 40).apply(edited);
    await evaluateInto(request(edited, 1 + (i % 4), 'end', i % 7 ? 1 : 0.5), run, () => 0);
    expect(cache.bytes).toBeLessThanOrEqual(100_000);
  }
  cache.empty();
  expect(own.arena.used).toBe(0);
});

test('a memory that is too small for the cache’s wish makes room, and says so where even that is not enough', async () => {
  const small = plainRuntime(1);
  const cache = new PictureCache(small.arena, 1e9);
  const big: FrameSource = { ...source(), load: async () => (workspace) => workspace.blank(64, 64) };
  const run = { runtime: small, source: big, cache };
  for (let frame = 1; frame < 40; frame++) await evaluateInto(request(doc, frame, 'head'), run, () => 0);
  const huge: FrameSource = { ...source(), load: async () => (workspace) => workspace.blank(4000, 4000) };
  await expect(evaluateInto(request(doc, 99), { ...run, source: huge }, () => 0)).rejects.toThrow(
    /memory is spent/,
  );
});

test('facing asks for the camera only where positions are linked: in camera space it is the origin', async () => {
  const normals = { type: 'pass', media: 'hall', pass: 'normal' } as const;
  const positions = { type: 'pass', media: 'hall', pass: 'position' } as const;
  let facing = newFinish('facing', 'Facing', normals);
  facing = addStep('main', 0, 'facing', 'f').apply(facing);
  const without: FrameSource = { ...source(), metadata: async () => ({ objects: {} }) };
  const cache = newCache();
  expect((await evaluate(request(facing), { source: without, cache })).width).toBe(16);
  const world = linkPass(facing, 'f', 'positions', positions, 'position', undefined, 'data').apply(facing);
  await expect(evaluate(request(world), { source: without, cache })).rejects.toThrow(
    /do not contain the camera position/,
  );
  expect((await evaluate(request(world), { source: source(), cache })).width).toBe(16);
});

test('objects by a pattern of names fail the frame where the list of names cannot be read; chosen one by one they do not need it', async () => {
  const ids = (objects: string[]) =>
    newFinish(
      'ids',
      'Ids',
      {
        type: 'ids',
        media: 'hall',
        pass: 'ids',
        idFormat: 'ranked',
        ranks: 1,
        objects,
      },
      'data',
    );
  const unread: FrameSource = {
    ...source(),
    metadata: async () => ({
      objects: { ids: [] },
      unreadable: { ids: 'The manifest names.json cannot be read: it is not there' },
    }),
  };
  const run = (objects: string[], from: FrameSource) =>
    evaluate(request(ids(objects)), { source: from, cache: newCache() });
  await expect(run(['ring*'], unread)).rejects.toThrow(
    /Frame 1: .*by a pattern of names\. The manifest names\.json/,
  );
  expect((await run(['globe'], unread)).width).toBe(16);
  expect((await run(['ring*'], source())).width).toBe(16);
});
