import { readFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { noise, plainRuntime } from '../../tests/runtime';
import { PictureCache } from '../evaluate/cache';
import type { StrandPoint } from '../evaluate/plan/node';
import { planOf } from '../evaluate/plan/plan';
import { evaluate, type FrameSource } from '../evaluate/run';
import { valuesOn } from '../finish/animated';
import { copyOf, duplicateStep, duplicateStrand, pasteStep } from '../finish/copies';
import { andThen } from '../finish/edit';
import {
  addStep,
  addStrand,
  linkSlot,
  moveStep,
  moveStepTo,
  newFinish,
  removeStep,
  setBypass,
  splitAt,
} from '../finish/edits';
import { type Finish, findStep, mainStrand } from '../finish/finish';
import { addGuide, follow } from '../finish/guide-edits';
import { setModulators, toggleKey } from '../finish/key-edits';
import { finishFormat } from '../finish/schema';
import { contentsOf, inputIdOf, isUse, linksOf, slotsOf } from '../finish/uses';
import { openFinish, parseFinish } from '../finish/validation';
import { setValues } from '../finish/value-edits';
import type { Workspace } from '../kernels/workspace';
import { closeUse } from './close';
import { differences, overridden } from './differences';
import { freeRecipe } from './free';
import { addDrive, addFront, removeFront, setDrive, setFrontDefault, takeBack } from './front-edits';
import { makeRecipe } from './make';
import { publishedRecipeSchema } from './published-schema';
import { openRecipe, type Recipe, recipeOf } from './recipe';
import { addRecipe, frontChanges, updateUse } from './use';

const identity = (media: string, frame: number) => `${media}:${frame}`;
const keyOf = (finish: Finish, point: StrandPoint, frame = 3, scale = 1) =>
  planOf({ finish, point, frame, scale }, identity).key;
const endOf = (doc: Finish): StrandPoint => ({ strand: doc.main, after: 'end' });

const about = {
  id: 'glowing',
  edition: 1,
  name: 'Glowing',
  description: 'Glows.',
  tags: ['light'],
  licence: '',
};
const recipeFrom = (doc: Finish, use: string, edition = 1): Recipe =>
  recipeOf(doc, use, { ...about, edition });

/** A finish without a recipe, in which what the recipe took from is still there. */
const without = (doc: Finish, id: string): Finish => {
  const strands = doc.strands.map(({ forSlot: _, ...strand }) => strand);
  const kept = { ...doc, strands };
  return removeStep(kept, id).apply(kept);
};

const pass = (name: string, media = 'hall') => ({ type: 'pass' as const, media, pass: name });
const types = [
  'glow',
  'bloom',
  'spikes',
  'edge-light',
  'depth-mist',
  'grade',
  'blur',
  'vignette',
  'grain',
  'light-rays',
];

/**
 * A finish in which all sorts of links lead to and fro: a depth pass with a key, a matte of the main strand's own picture, one of an earlier step, a
 * strand that two steps share, a guide, keys.
 */
function tangled(chosen: readonly number[], links: readonly number[]): Finish {
  let doc = newFinish('a', 'A', pass(''));
  doc = addStrand(doc, pass('depth'), 'data', 'Depth').apply(doc);
  doc = addStep('strand', 0, 'depth-range', 'range').apply(doc);
  doc = addStrand(doc, { type: 'tap', strand: 'main', after: 'head' }, 'picture', 'Own').apply(doc);
  doc = addStep('strand-2', 0, 'luminance-key', 'key').apply(doc);
  doc = addStrand(doc, { type: 'colour', colour: [1, 0.5, 0.2], alpha: 1 }, 'picture', 'Colour').apply(doc);
  doc = addStrand(doc, pass('emission'), 'picture', 'Lamps').apply(doc);
  doc = addGuide(doc, 'Globe', { x: 10, y: 20 }, 1).apply(doc);
  chosen.forEach((n, i) => {
    doc = addStep('main', i, types[n % types.length], `s${i}`).apply(doc);
    const step = findStep(doc, `s${i}`)!.step;
    const source = (['strand', 'strand-2', 'strand-3', 'strand-4', 'main'] as const)[links[i] % 5];
    const after = source === 'main' ? (i > 1 ? `s${i - 2}` : 'head') : 'end';
    const slot =
      ['light-rays', 'glow', 'bloom', 'spikes'].includes(step.type) && links[i] % 2 ? 'light' : 'mask';
    if (step.type === 'depth-mist')
      doc = linkSlot(doc, `s${i}`, 'depth', { strand: 'strand', after: 'head' }).apply(doc);
    else if (step.type !== 'grain' && step.type !== 'vignette')
      doc = linkSlot(doc, `s${i}`, slot, { strand: source, after, as: 'luminance' }).apply(doc);
    if (step.type === 'light-rays')
      doc = follow(doc, `s${i}`, { x: 'centreX', y: 'centreY' }, 'guide').apply(doc);
    if (step.type === 'glow') doc = toggleKey(doc, `s${i}`, 'amount', 2).apply(doc);
  });
  return doc;
}

const finishes = fc
  .record({
    chosen: fc.array(fc.nat(99), { minLength: 2, maxLength: 7 }),
    links: fc.array(fc.nat(99), { minLength: 7, maxLength: 7 }),
    from: fc.nat(6),
    to: fc.nat(6),
  })
  .map(({ chosen, links, from, to }) => {
    const doc = tangled(chosen, links);
    const [first, last] = [from % chosen.length, to % chosen.length].sort((a, b) => a - b);
    return { doc, steps: chosen.map((_, i) => `s${i}`).slice(first, last + 1) };
  });

/** Every point that a finish has, by its strand and step. */
const pointsOf = (doc: Finish): StrandPoint[] =>
  doc.strands.flatMap((s) => ['head', ...s.steps.map((t) => t.id)].map((after) => ({ strand: s.id, after })));

describe('a recipe of any chosen steps', () => {
  test('changes no picture, stands by itself, and gives the same elsewhere and back', () => {
    fc.assert(
      fc.property(finishes, ({ doc, steps }) => {
        const { edit, id } = makeRecipe(doc, 'main', steps, 'Glowing');
        const made = edit.apply(doc);
        for (const point of pointsOf(doc))
          for (const frame of [1, 4])
            if (made.strands.some((s) => s.id === point.strand))
              expect(keyOf(made, point, frame)).toBe(keyOf(doc, point, frame));
        expect(keyOf(made, { strand: 'main', after: id })).toBe(
          keyOf(doc, { strand: 'main', after: steps.at(-1)! }),
        );

        // What took from the middle of the recipe lost it with the recipe.
        const inner = new Set(contentsOf(made, id).steps.map((t) => t.id));
        const later = mainStrand(made).steps.slice(contentsOf(made, id).last);
        fc.pre(
          !later.some((t) => Object.values(t.slots).some((tap) => inner.has(tap.after) || tap.after === id)),
        );

        // As a file, in the same place of a document without it, linked as it was.
        const { recipe } = openRecipe(JSON.parse(JSON.stringify(recipeFrom(made, id))));
        const links = Object.fromEntries(
          slotsOf(made, id).flatMap(({ strand, head }) => (head.from ? [[strand.id, head.from]] : [])),
        );
        const bare = without(made, id);
        const at = { strand: 'main', index: contentsOf(made, id).first };
        const used = addRecipe(bare, recipe, at, { linked: true, links });
        const again = used.edit.apply(bare);
        expect(keyOf(again, endOf(again))).toBe(keyOf(doc, endOf(doc)));
        expect(differences(again, used.id, recipe)).toEqual([]);

        // Freed it is steps again, and nothing is left of the recipe.
        const free = freeRecipe(made, id).apply(made);
        expect(keyOf(free, endOf(free))).toBe(keyOf(doc, endOf(doc)));
        expect(free.strands.some((s) => s.inside || s.steps.some((t) => t.type.startsWith('recipe')))).toBe(
          false,
        );
        expect(parseFinish(JSON.parse(JSON.stringify(again)))).toEqual(again);
      }),
      { numRuns: 150 },
    );
  });

  test('inside another recipe, twice, and five deep at most', () => {
    fc.assert(
      fc.property(finishes, ({ doc, steps }) => {
        const inner = makeRecipe(doc, 'main', steps, 'Inner');
        const one = inner.edit.apply(doc);
        const outer = makeRecipe(one, 'main', [mainStrand(one).steps[0].id, inner.id], 'Outer');
        const two = outer.edit.apply(one);
        expect(keyOf(two, endOf(two))).toBe(keyOf(doc, endOf(doc)));
        const inside = new Set(contentsOf(two, outer.id).steps.map((t) => t.id));
        const later = mainStrand(two).steps.slice(contentsOf(two, outer.id).last);
        fc.pre(
          !later.some((t) =>
            Object.values(t.slots).some((tap) => inside.has(tap.after) || tap.after === outer.id),
          ),
        );
        const { recipe } = openRecipe(JSON.parse(JSON.stringify(recipeFrom(two, outer.id))));
        const links = Object.fromEntries(
          slotsOf(two, outer.id).flatMap(({ strand, head }) => (head.from ? [[strand.id, head.from]] : [])),
        );
        const bare = without(two, outer.id);
        expect(bare.strands.every((s) => !s.inside)).toBe(true);
        const used = addRecipe(bare, recipe, { strand: 'main', index: 0 }, { linked: true, links });
        const again = used.edit.apply(bare);
        expect(keyOf(again, endOf(again))).toBe(keyOf(doc, endOf(doc)));
        expect(differences(again, used.id, recipe)).toEqual([]);
        const freed = freeRecipe(again, used.id).apply(again);
        expect(keyOf(freed, endOf(freed))).toBe(keyOf(doc, endOf(doc)));
      }),
      { numRuns: 60 },
    );
    let doc = addStep('main', 0, 'glow', 's').apply(newFinish('a', 'A', pass('')));
    let id = 's';
    for (let n = 0; n < 5; n++) {
      const made = makeRecipe(doc, 'main', [id], `R${n}`);
      doc = made.edit.apply(doc);
      id = made.id;
    }
    expect(() => makeRecipe(doc, 'main', [id], 'R').edit.apply(doc)).toThrow('5 deep');
  });

  test('moves, is copied, duplicated and taken away as one, and other steps pass it as a whole', () => {
    let doc = tangled([0, 5, 1, 7], [1, 0, 1, 0]);
    const { edit, id } = makeRecipe(doc, 'main', ['s1', 's2'], 'Glowing');
    doc = edit.apply(doc);
    const order = (d: Finish) => mainStrand(d).steps.map((s) => s.id);
    const input = inputIdOf(id);
    expect(order(doc)).toEqual(['s0', input, 's1', 's2', id, 's3']);
    expect(order(moveStep(doc, 's0', 1).apply(doc))).toEqual([input, 's1', 's2', id, 's0', 's3']);
    expect(order(moveStep(doc, id, 1).apply(doc))).toEqual(['s0', 's3', input, 's1', 's2', id]);
    expect(order(moveStep(doc, id, -1).apply(doc))).toEqual([input, 's1', 's2', id, 's0', 's3']);
    // A step inside does not leave by a key.
    expect(order(moveStep(doc, 's2', 1).apply(doc))).toEqual(order(doc));
    expect(order(moveStepTo(doc, id, 'main', 2).apply(doc))).toEqual(['s0', 's3', input, 's1', 's2', id]);
    const twice = duplicateStep(doc, id, false).apply(doc);
    const copy = order(twice).find((s) => s !== id && isUse(findStep(twice, s)!.step))!;
    expect(linksOf(twice, findStep(twice, copy)!.step)).toEqual(
      Object.fromEntries(
        Object.entries(linksOf(twice, findStep(twice, id)!.step)).map(([k, t]) => [
          k === 'mask' ? k : `${copy}.${k}`,
          t,
        ]),
      ),
    );
    const strands = duplicateStrand(doc, 'main', false).apply(doc);
    const other = strands.strands.find((s) => s.name === 'Frame copy')!;
    expect(keyOf(strands, { strand: other.id, after: 'end' })).toBe(keyOf(doc, endOf(doc)));
    const bare = newFinish('b', 'B', pass(''));
    const pasted = pasteStep('main', 0, copyOf(doc, id), 'pasted').apply(bare);
    expect(order(pasted)).toHaveLength(4);
    const gone = removeStep(doc, id).apply(doc);
    expect(order(gone)).toEqual(['s0', 's3']);
    expect(gone.strands.every((s) => !s.inside)).toBe(true);
    // Half of a recipe cannot go elsewhere.
    expect(() => moveStepTo(doc, input, 'strand-3', 0).apply(doc)).not.toThrow();
  });
});

describe('master amount', () => {
  const source: FrameSource = {
    identity,
    metadata: async () => ({ objects: {} }),
    load: async (_, frame) => (workspace: Workspace) => {
      const p = workspace.picture(33, 19);
      const random = noise(frame, 1);
      for (let i = 0; i < p.data.length; i++)
        p.data[i] = (i & 3) === 3 ? random(i) : random(i) * random(i + 7) * 12;
      return p;
    },
  };
  const runtime = plainRuntime(64);
  const picture = async (finish: Finish, point = endOf(finish)) => {
    const cache = new PictureCache(runtime.arena, 32 * 2 ** 20);
    const out = await evaluate({ finish, point, frame: 1, scale: 1 }, { runtime, source, cache }, (p) =>
      p.data.slice(),
    );
    cache.empty();
    return out;
  };

  test('0 gives the input, 1 the look, and between it goes as a flat mix does, also by a matte', async () => {
    let doc = newFinish('a', 'A', pass(''));
    for (const [i, type] of ['gain', 'glow', 'grade'].entries())
      doc = addStep('main', i, type, `s${i}`).apply(doc);
    doc = setValues(doc, 's0', { stops: 1.5 }).apply(doc);
    doc = setValues(doc, 's1', { threshold: 0.1, size: 4 }).apply(doc);
    doc = addStrand(
      doc,
      { type: 'gradient', from: [0, 0, 0], fromAlpha: 1, to: [1, 1, 1], toAlpha: 1, angle: 20 },
      'picture',
      'Ramp',
    ).apply(doc);
    const { edit, id } = makeRecipe(doc, 'main', ['s1', 's2'], 'Glowing');
    const made = edit.apply(doc);
    const input = await picture(doc, { strand: 'main', after: 's0' });
    const look = await picture(doc);
    const at = async (amount: number) => picture(setValues(made, id, { amount }).apply(made));
    expect(await at(0)).toEqual(input);
    expect(await at(1)).toEqual(look);
    expect(await picture(setBypass(made, id, true).apply(made))).toEqual(input);
    for (const amount of [0.5, 0.13, 0.97]) {
      const out = await at(amount);
      out.forEach((v, i) => {
        const wanted = input[i] + amount * (look[i] - input[i]);
        expect(Math.abs(v - wanted)).toBeLessThan(2e-6 * (1 + Math.abs(input[i]) + Math.abs(look[i])));
      });
    }
    const masked = linkSlot(made, id, 'mask', { strand: 'strand', after: 'end', as: 'luminance' }).apply(
      made,
    );
    const ramp = await picture(doc, { strand: 'strand', after: 'end' });
    for (const invert of [false, true]) {
      const half = setValues(masked, id, { amount: 0.5, invert }).apply(masked);
      const out = await picture(half);
      out.forEach((v, i) => {
        const level = ramp[(i >> 2) * 4];
        const k = 0.5 * (invert ? 1 - level : level);
        expect(Math.abs(v - (input[i] + k * (look[i] - input[i])))).toBeLessThan(
          4e-6 * (1 + Math.abs(input[i]) + Math.abs(look[i])),
        );
      });
      // Freed, a join does the same.
      expect(await picture(freeRecipe(half, id).apply(half))).toEqual(out);
    }
    const half = setValues(made, id, { amount: 0.5 }).apply(made);
    expect(await picture(freeRecipe(half, id).apply(half))).toEqual(await picture(half));
    const off = setBypass(made, id, true).apply(made);
    expect(await picture(freeRecipe(off, id).apply(off))).toEqual(input);
  });

  test('of a matte it goes from matte to matte in the same way, over its whole range', async () => {
    let doc = newFinish('a', 'A', pass(''));
    doc = addStrand(
      doc,
      { type: 'gradient', from: [0, 0, 0], fromAlpha: 1, to: [1, 1, 1], toAlpha: 1, angle: 20 },
      'picture',
      'Ramp',
    ).apply(doc);
    for (const [i, type] of ['luminance-key', 'feather', 'invert'].entries())
      doc = addStep('main', i, type, `s${i}`).apply(doc);
    doc = setValues(doc, 's0', { low: 0.5, lowSoft: 0.5 }).apply(doc);
    const { edit, id } = makeRecipe(doc, 'main', ['s1', 's2'], 'Softer');
    const made = linkSlot(edit.apply(doc), id, 'mask', {
      strand: 'strand',
      after: 'end',
      as: 'luminance',
    }).apply(edit.apply(doc));
    const [input, look] = [await picture(doc, { strand: 'main', after: 's0' }), await picture(doc)];
    const ramp = await picture(doc, { strand: 'strand', after: 'end' });
    expect(input.length).toBe(33 * 19);
    for (const amount of [0, 0.01, 0.37, 0.5, 0.99, 1])
      for (const invert of [false, true]) {
        const out = await picture(setValues(made, id, { amount, invert }).apply(made));
        out.forEach((v, i) => {
          const k = amount * (invert ? 1 - ramp[4 * i] : ramp[4 * i]);
          expect(Math.abs(v - (input[i] + k * (look[i] - input[i])))).toBeLessThan(3e-7);
        });
      }
    expect(() => freeRecipe(made, id).apply(made)).toThrow('Set its amount to 1');
  });

  test('a slot that nothing is linked to is as no link at all', async () => {
    let doc = newFinish('a', 'A', pass(''));
    doc = addStrand(doc, pass('emission'), 'picture', 'Lamps').apply(doc);
    doc = addStep('main', 0, 'glow', 's').apply(doc);
    const bare = doc;
    doc = linkSlot(doc, 's', 'light', { strand: 'strand', after: 'end' }).apply(doc);
    const { edit, id } = makeRecipe(doc, 'main', ['s'], 'Glowing');
    const made = edit.apply(doc);
    const [slot] = slotsOf(made, id);
    expect(keyOf(made, endOf(made))).toBe(keyOf(doc, endOf(doc)));
    const freed = linkSlot(made, id, slot.strand.id, undefined).apply(made);
    expect(keyOf(freed, endOf(freed))).toBe(keyOf(bare, endOf(bare)));
    // Its own picture is nothing, of the size of the frame.
    expect((await picture(freed, { strand: slot.strand.id, after: 'end' })).every((v) => v === 0)).toBe(true);
  });
});

describe('the front', () => {
  const made = () => {
    let doc = newFinish('a', 'A', pass(''));
    doc = addStep('main', 0, 'glow', 'a').apply(doc);
    doc = addStep('main', 1, 'bloom', 'b').apply(doc);
    doc = setValues(doc, 'a', { size: 40, amount: 0.7 }).apply(doc);
    doc = setValues(doc, 'b', { radius: 10 }).apply(doc);
    const { edit, id } = makeRecipe(doc, 'main', ['a', 'b'], 'Glowing');
    doc = edit.apply(doc);
    doc = addFront(doc, id, 'a', 'size').apply(doc);
    doc = addDrive(doc, id, 'size', 'b', 'radius').apply(doc);
    return { doc, id };
  };
  const now = (doc: Finish, step: string, key: string, frame = 1) =>
    valuesOn(doc, findStep(doc, step)!.step, frame)[key];

  test('one control drives several values by factors, and changes nothing as it is made', () => {
    const { doc, id } = made();
    expect([now(doc, 'a', 'size'), now(doc, 'b', 'radius')]).toEqual([40, 10]);
    const wide = setValues(doc, id, { size: 80 }).apply(doc);
    expect([now(wide, 'a', 'size'), now(wide, 'b', 'radius')]).toEqual([80, 20]);
    // Stored and opened again it is the same; nothing is mended.
    expect(openFinish(JSON.parse(JSON.stringify(wide)))).toEqual({ finish: wide, repairs: [] });
    // Bounds of what is driven hold.
    const none = setValues(doc, id, { size: 0.5 }).apply(doc);
    expect(now(none, 'b', 'radius')).toBe(1);
    const curved = setDrive(doc, id, 'size', 1, {
      curve: [
        [0, 5],
        [40, 10],
        [80, 100],
      ],
    }).apply(doc);
    expect(now(curved, 'b', 'radius')).toBe(10);
    expect(now(setValues(curved, id, { size: 80 }).apply(curved), 'b', 'radius')).toBe(100);
    expect(() => addFront(doc, id, 'b', 'radius')).toThrow('driven by');
    expect(() => addDrive(doc, id, 'size', 'b', 'mode').apply(doc)).toThrow('number');
  });

  test('has keys and modulators, and what is driven keeps its own on top', () => {
    const { doc, id } = made();
    let keyed = toggleKey(doc, id, 'size', 1).apply(doc);
    keyed = setValues(keyed, id, { size: 100 }, 11, true).apply(keyed);
    expect([1, 6, 11].map((f) => now(keyed, 'a', 'size', f))).toEqual([40, 70, 100]);
    expect(now(keyed, 'b', 'radius', 11)).toBe(25);
    const moved = setModulators(keyed, 'b', 'radius', [
      { type: 'wave', form: 'square', frequency: 1, depth: 3, phase: 0 },
    ]).apply(keyed);
    expect(now(moved, 'b', 'radius', 1)).toBe(13);
    // Freed, all goes on as before.
    const free = freeRecipe(moved, id).apply(moved);
    for (const f of [1, 4, 6, 11, 20]) {
      expect(now(free, 'a', 'size', f)).toBeCloseTo(now(moved, 'a', 'size', f) as number, 9);
      expect(now(free, 'b', 'radius', f)).toBeCloseTo(now(moved, 'b', 'radius', f) as number, 9);
    }
  });

  test('fold, unfold, free: the same, wherever the front stands', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 400, noNaN: true }), (size) => {
        const { doc, id } = made();
        const set = setValues(doc, id, { size }).apply(doc);
        const free = freeRecipe(set, id).apply(set);
        expect(keyOf(free, endOf(free))).toBe(keyOf(set, endOf(set)));
        const off = removeFront(set, id, 'size').apply(set);
        expect(keyOf(off, endOf(off))).toBe(keyOf(set, endOf(set)));
        const standard = setFrontDefault(set, id, 'size').apply(set);
        expect(keyOf(standard, endOf(standard))).toBe(keyOf(set, endOf(set)));
        expect(overridden(findStep(standard, id)!.step)).toEqual([]);
      }),
    );
  });

  test('says what a shot has of its own, and takes it back', () => {
    const { doc, id } = made();
    const use = (d: Finish) => findStep(d, id)!.step;
    expect(overridden(use(doc))).toEqual([]);
    const own = setValues(doc, id, { size: 41 }).apply(doc);
    expect(overridden(use(own))).toEqual(['size']);
    expect(overridden(use(takeBack(own, id, 'size').apply(own)))).toEqual([]);
  });

  test('what a step had on it goes with the step', () => {
    const { doc, id } = made();
    const less = removeStep(doc, 'b').apply(doc);
    expect(findStep(less, id)!.step.front).toMatchObject([{ drives: [{ step: 'a' }] }]);
    const none = removeStep(less, 'a').apply(less);
    expect(findStep(none, id)!.step.front).toEqual([]);
    expect(findStep(none, id)!.step.values).toEqual({ amount: 1, invert: false });
  });
});

describe('another version', () => {
  test('keeps the values, keys and links of the shot, and says which controls are gone and new', () => {
    let doc = tangled([0, 5, 1], [1, 0, 1]);
    const { edit, id } = makeRecipe(doc, 'main', ['s0', 's1', 's2'], 'Glowing');
    doc = edit.apply(doc);
    doc = addFront(doc, id, 's0', 'size').apply(doc);
    doc = addFront(doc, id, 's2', 'radius').apply(doc);
    const first = recipeFrom(doc, id);
    // The second version: another step, one control less, another default, one control more.
    let second = removeFront(doc, id, 'radius').apply(doc);
    second = setFrontDefault(setValues(second, id, { size: 77 }).apply(second), id, 'size').apply(
      setValues(second, id, { size: 77 }).apply(second),
    );
    second = addStep('main', contentsOf(second, id).last, 'blur', 'new').apply(second);
    second = removeStep(second, 's1').apply(second);
    second = addFront(second, id, 'new', 'radius').apply(second);
    const next = recipeFrom(second, id, 2);
    expect(
      differences(doc, id, next)
        .map((d) => d.words)
        .join('; '),
    ).toMatch(/Blur of the recipe is not here/);

    let shot = newFinish('b', 'B', pass('', 'moth'));
    shot = addStrand(shot, pass('emission', 'moth'), 'picture', 'Lamps').apply(shot);
    const links = Object.fromEntries(
      slotsOf(doc, id).map(({ strand }) => [strand.id, { strand: 'strand', after: 'end' }]),
    );
    const used = addRecipe(shot, first, { strand: 'main', index: 0 }, { linked: true, links });
    shot = used.edit.apply(shot);
    shot = setValues(shot, used.id, { radius: 9, amount: 0.4 }).apply(shot);
    const moved = setValues(shot, used.id, { size: 300 }, 5, true).apply(shot);
    const updated = updateUse(used.id, next).apply(moved);
    const use = findStep(updated, used.id)!.step;
    expect(use.recipe).toEqual({ id: 'glowing', version: 2, linked: true });
    expect(use.values.amount).toBe(0.4);
    expect(use.animation).toEqual(findStep(moved, used.id)!.step.animation);
    expect(differences(updated, used.id, next)).toEqual([]);
    expect(frontChanges(first.front, next.front)).toEqual({ gone: [], fresh: [] });
    expect(slotsOf(updated, used.id).every((s) => s.head.from?.strand === 'strand')).toBe(true);
    // What stood at its default follows the new one.
    const still = updateUse(used.id, next).apply(shot);
    expect(findStep(still, used.id)!.step.values.size).toBe(77);
  });

  test('who took from a step that is gone takes what the recipe gives', () => {
    let doc = tangled([0, 1], [1, 1]);
    const { edit, id } = makeRecipe(doc, 'main', ['s0', 's1'], 'Glowing');
    doc = edit.apply(doc);
    const first = recipeFrom(doc, id);
    const shorter = recipeFrom(removeStep(doc, 's0').apply(doc), id, 2);
    const split = splitAt(doc, 'main', 's0').apply(doc);
    const updated = updateUse(id, shorter).apply(split);
    expect(updated.strands.find((s) => s.name === 'Frame split')!.head).toMatchObject({
      type: 'tap',
      strand: 'main',
      after: id,
    });
    expect(frontChanges(first.front, shorter.front)).toEqual({ gone: [], fresh: [] });
  });

  test('edits inside make it differ, until it is the recipe again', () => {
    let doc = tangled([0, 5], [1, 0]);
    const { edit, id } = makeRecipe(doc, 'main', ['s0', 's1'], 'Glowing');
    doc = edit.apply(doc);
    const recipe = recipeFrom(doc, id);
    const changed = setValues(doc, 's0', { size: 123 }).apply(doc);
    expect(differences(changed, id, recipe)).toEqual([
      { at: 's0', words: expect.stringMatching(/^.* of Glow: 123, in the recipe /) },
    ]);
    expect(differences(updateUse(id, recipe).apply(changed), id, recipe)).toEqual([]);
  });
});

test('a recipe that is wrong is refused by name', () => {
  const doc = tangled([0, 5], [1, 0]);
  const { edit, id } = makeRecipe(doc, 'main', ['s0'], 'Glowing');
  const made = edit.apply(doc);
  const good = JSON.parse(JSON.stringify(recipeFrom(made, id)));
  expect(() => openRecipe({ ...good, format: 'x' })).toThrow('not a Zafiro recipe');
  expect(() => openRecipe({ ...good, version: 99 })).toThrow('newer Zafiro');
  expect(() => openRecipe({ ...good, inside: undefined })).toThrow('nothing inside');
  expect(() => openRecipe({ ...good, picture: 'abc' })).toThrow('no PNG');
  const wrong = structuredClone(good);
  wrong.inside.strands[0].head = { type: 'pass', media: 'x', pass: '' };
  expect(() => openRecipe(wrong)).toThrow('begin at its input');
  const driving = {
    ...good,
    front: [
      {
        id: 'x',
        name: 'X',
        value: { type: 'toggle', default: true },
        drives: [{ step: 'nobody', value: 'x' }],
      },
    ],
  };
  expect(() => openRecipe(driving)).toThrow('not there');
  const wrongType = (value: string) => ({
    ...good,
    front: [
      { id: 'x', name: 'X', value: { type: 'toggle', default: true }, drives: [{ step: 's0', value }] },
    ],
  });
  expect(() => openRecipe(wrongType('size'))).toThrow('X cannot drive Size of Glow');
  expect(() => openRecipe(wrongType('__proto__'))).toThrow('cannot drive');
  const twice = {
    ...good,
    front: ['x', 'y'].map((id) => ({
      id,
      name: id,
      value: { type: 'toggle', default: true },
      drives: [{ step: 's0', value: 'invert' }],
    })),
  };
  expect(() => openRecipe(twice)).toThrow('driven twice');
});

test('a recipe of an earlier version of the format is upgraded with what is inside', () => {
  const old = {
    format: 'zafiro-recipe',
    version: 3,
    id: 'spot',
    edition: 2,
    name: 'Spot',
    front: [],
    inside: {
      main: 'main',
      strands: [
        {
          id: 'main',
          name: 'Recipe',
          kind: 'picture',
          head: { type: 'input' },
          steps: [{ id: 'glow', type: 'glow', slots: { mask: { strand: 'spot', after: 'end' } } }],
        },
        {
          id: 'spot',
          name: 'Spot',
          kind: 'matte',
          // As version 3 wrote shapes: lists of keys of paths.
          head: {
            type: 'shapes',
            shapes: [
              {
                id: 's',
                name: 'Spot',
                paths: [
                  {
                    frame: 1,
                    points: [
                      { x: 0, y: 0 },
                      { x: 9, y: 0 },
                      { x: 0, y: 9 },
                    ],
                  },
                ],
              },
            ],
          },
          steps: [],
        },
      ],
    },
  };
  const { recipe } = openRecipe(old);
  expect(recipe).toMatchObject({ version: finishFormat, edition: 2, description: '', tags: [] });
  expect(recipe.inside.strands[1].head).toMatchObject({
    shapes: [
      {
        path: [
          { x: 0, y: 0 },
          { x: 9, y: 0 },
          { x: 0, y: 9 },
        ],
      },
    ],
  });
  const used = addRecipe(
    newFinish('b', 'B', pass('')),
    recipe,
    { strand: 'main', index: 0 },
    { linked: true },
  );
  expect(() => used.edit.apply(newFinish('b', 'B', pass('')))).not.toThrow();
});

test('values of a stored recipe that are out of bounds by now are brought inside, and said', () => {
  const doc = tangled([0], [1]);
  const { edit, id } = makeRecipe(doc, 'main', ['s0'], 'Glowing');
  const stored = JSON.parse(JSON.stringify(recipeFrom(edit.apply(doc), id)));
  stored.inside.strands[0].steps[0].values.size = 99_999;
  expect(() => openRecipe(stored)).toThrow('Size of Glow');
  const { recipe, repairs } = openRecipe(stored, true);
  expect(repairs).toEqual([expect.stringMatching(/^Size of Glow was 99999, now /)]);
  expect(recipe.inside.strands[0].steps[0].values.size).toBeLessThan(99_999);
});

test('the published JSON Schema is the one that the declarations give', () => {
  const published = JSON.parse(
    readFileSync(new URL('../../docs/recipe.schema.json', import.meta.url), 'utf8'),
  );
  // After a change of a declaration: node_modules/.bin/tsx tools/finish-schema.ts
  expect(publishedRecipeSchema(toJsonSchema)).toEqual(published);
});

test('slots of a duplicate take what those of the original take, also where names inside meet', () => {
  // Used from the library, what is inside is called “glowing.slot”; what is added inside later may be called “slot” too.
  let doc = tangled([0, 5], [4, 0]);
  doc = linkSlot(doc, 's0', 'mask', { strand: 'strand-4', after: 'end', as: 'luminance' }).apply(doc);
  const made = makeRecipe(doc, 'main', ['s0'], 'Glowing');
  const { recipe } = openRecipe(JSON.parse(JSON.stringify(recipeFrom(made.edit.apply(doc), made.id))));
  let shot = addStrand(newFinish('b', 'B', pass('')), pass('one'), 'picture', 'One').apply(
    newFinish('b', 'B', pass('')),
  );
  shot = addStrand(shot, pass('two'), 'picture', 'Two').apply(shot);
  const used = addRecipe(shot, recipe, { strand: 'main', index: 0 }, { linked: true });
  shot = used.edit.apply(shot);
  const [first] = slotsOf(shot, used.id);
  const meeting = first.strand.id.slice(used.id.length + 1);
  shot = linkSlot(shot, used.id, first.strand.id, { strand: 'strand', after: 'end' }).apply(shot);
  const second = {
    ...first.strand,
    id: meeting,
    name: 'Second',
    head: { type: 'input' as const, from: { strand: 'strand-2', after: 'end' } },
  };
  shot = parseFinish({ ...shot, strands: [...shot.strands, second] });
  const twice = duplicateStep(shot, used.id, false).apply(shot);
  const [, copy] = mainStrand(twice).steps.filter(isUse);
  expect(slotsOf(twice, copy.id).map((s) => s.head.from?.strand)).toEqual(['strand', 'strand-2']);
  const next = updateUse(used.id, recipe).apply(shot);
  expect(slotsOf(next, used.id).map((s) => [s.strand.id, s.head.from?.strand])).toEqual([
    [first.strand.id, 'strand'],
  ]);
});

test('a front says nothing any more of steps that went with a recipe inside', () => {
  let doc = tangled([0, 5, 1], [0, 0, 0]);
  const inner = makeRecipe(doc, 'main', ['s1'], 'Inner');
  doc = inner.edit.apply(doc);
  doc = addStep('strand-3', 0, 'blur', 'inside-blur').apply(doc);
  doc = linkSlot(doc, 's1', 'mask', { strand: 'strand-3', after: 'end', as: 'luminance' }).apply(doc);
  const closed = structuredClone(doc);
  closeUse(closed, inner.id);
  const outer = makeRecipe(closed, 'main', ['s0', inner.id], 'Outer');
  doc = outer.edit.apply(closed);
  doc = addFront(doc, outer.id, 'inside-blur', 'radius').apply(doc);
  const less = removeStep(doc, inner.id).apply(doc);
  expect(findStep(less, 'inside-blur')).toBeUndefined();
  expect(findStep(less, outer.id)!.step.front).toEqual([]);
  expect(() => openRecipe(JSON.parse(JSON.stringify(recipeFrom(less, outer.id))))).not.toThrow();
});

test('half a recipe, a recipe inside itself, and strands of none are refused', () => {
  const doc = tangled([0, 5], [1, 0]);
  const { edit, id } = makeRecipe(doc, 'main', ['s0'], 'Glowing');
  const made = edit.apply(doc);
  const json = () => JSON.parse(JSON.stringify(made));
  const half = json();
  half.strands[0].steps = half.strands[0].steps.filter((s: { id: string }) => s.id !== inputIdOf(id));
  expect(() => parseFinish(half)).toThrow('without an end');
  const lost = json();
  lost.strands[1].inside = 'nobody';
  expect(() => parseFinish(lost)).toThrow('not there');
  const looped = json();
  looped.strands[0].inside = id;
  expect(() => parseFinish(looped)).toThrow();
});

test('a recipe can be used again and again, and its slots linked in the same edit', () => {
  const doc = tangled([0, 4], [1, 0]);
  const { edit, id } = makeRecipe(doc, 'main', ['s0', 's1'], 'Glowing');
  const { recipe } = openRecipe(JSON.parse(JSON.stringify(recipeFrom(edit.apply(doc), id))));
  let shot = addStrand(newFinish('b', 'B', pass('')), pass('depth'), 'data', 'Depth').apply(
    newFinish('b', 'B', pass('')),
  );
  for (const n of [1, 2, 3]) {
    const used = addRecipe(shot, recipe, { strand: 'main', index: 0 }, { linked: true });
    const [slot] = slotsOf(used.edit.apply(shot), used.id);
    shot = andThen(used.edit, (d) =>
      linkSlot(d, used.id, slot.strand.id, { strand: 'strand', after: 'end' }),
    ).apply(shot);
    expect(mainStrand(shot).steps.filter(isUse)).toHaveLength(n);
  }
});

test('what is made twice by itself is closed once', () => {
  const doc = tangled([0, 5, 1], [1, 0, 1]);
  const { edit, id } = makeRecipe(doc, 'main', ['s0', 's2'], 'Glowing');
  const made = edit.apply(doc);
  const again = structuredClone(made);
  closeUse(again, id);
  expect(again).toEqual(made);
});
