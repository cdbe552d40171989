import BezierEasing from 'bezier-easing';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { planOf } from '../evaluate/plan/plan';
import { easedAt } from '../time/bezier';
import { type Key as AnyKey, nextKey, numberOn } from '../time/keys';
import { valuesOn } from './animated';
import { duplicateStep, unlinkCopy } from './copies';
import type { Edit } from './edit';
import { addStep, newFinish, removeStep } from './edits';
import { type Finish, findStep } from './finish';
import {
  bake,
  changeEach,
  copiedKeys,
  easings,
  type KeyAt,
  moveKey,
  moveKeys,
  pasteKeys,
  removeKeys,
  scaleKeys,
  setEasing,
  setHandle,
  setInterpolation,
  setModulators,
  shiftKeys,
  toggleKey,
} from './key-edits';
import { pasteTable, rowsOfKeys, toTsv } from './key-table';
import { parseFinish } from './validation';
import { setValue, setValues } from './value-edits';

type Key = AnyKey<number>;
// In thousandths: next to 0 the package's own search gives up.
const share = fc.integer({ min: 0, max: 1000 }).map((v) => v / 1000);
const height = fc.double({ min: -2, max: 3, noNaN: true });

describe('between keys', () => {
  test('the eased way is the cubic-bezier() of W3C CSS Easing Functions Level 1', () => {
    // The bezier-easing package computes that function; it rounds its search to about 1e-6.
    fc.assert(
      fc.property(share, height, share, height, share, (x1, y1, x2, y2, x) => {
        const reference = BezierEasing(x1, y1, x2, y2)(x);
        const got = easedAt(x, [0, 0], [x1, y1], [x2, y2], [1, 1]);
        // Where the curve stands upright a small step in x is a large one in y.
        const near = [x - 2e-6, x + 2e-6].map((v) => easedAt(v, [0, 0], [x1, y1], [x2, y2], [1, 1]));
        expect(reference).toBeGreaterThan(Math.min(got, ...near) - 1e-5);
        expect(reference).toBeLessThan(Math.max(got, ...near) + 1e-5);
      }),
    );
  });

  test('handles that would run back in time are held: the way never turns around', () => {
    fc.assert(
      fc.property(height, height, (a, b) => {
        let before = -1;
        for (let x = 0; x <= 1; x += 0.05) {
          // Rising from 0 to 1 with level handles.
          const y = easedAt(x, [0, 0], [a, 0], [b, 1], [1, 1]);
          expect(y).toBeGreaterThanOrEqual(before - 1e-12);
          before = y;
        }
      }),
    );
  });

  test('every way begins and ends at its keys, and holds before and after them', () => {
    const keys: Key[] = [
      { frame: 3, value: 2, interpolation: 'hold' },
      { frame: 7, value: 6, interpolation: 'linear' },
      { frame: 11, value: 4 },
      { frame: 15, value: 8 },
    ];
    const at = (frame: number) => numberOn(keys, frame);
    expect([1, 3, 6, 7, 9, 11, 15, 40].map(at)).toEqual([2, 2, 2, 6, 5, 4, 8, 8]);
    // Half-way between level handles is half-way between the values; it starts slowly.
    expect(at(13)).toBeCloseTo(6, 9);
    expect(at(12) - 4).toBeLessThan(1);
    expect(numberOn([keys[0]], -100)).toBe(2);
    expect([nextKey(keys, 7, 1), nextKey(keys, 7, -1), nextKey(keys, 15, 1)]).toEqual([11, 3, undefined]);
  });
});

const base = () => {
  const doc = newFinish('f', 'F', { type: 'pass', media: 'moth', pass: '' });
  return addStep('main', 0, 'opacity', 'fade').apply(doc);
};
const edited = (doc: Finish, ...edits: ((doc: Finish) => Edit)[]): Finish =>
  parseFinish(JSON.parse(JSON.stringify(edits.reduce((d, e) => e(d).apply(d), doc))));
const amount = (doc: Finish, frame: number, at = 0) => valuesOn(doc, doc.strands[0].steps[at], frame).amount;

describe('edits of keys', () => {
  test('a key is put on a frame with the value it has there; a change on another frame is another key', () => {
    const doc = edited(
      base(),
      (d) => toggleKey(d, 'fade', 'amount', 5),
      (d) => setValue(d, 'fade', 'amount', 0, 9),
      (d) => setInterpolation(d, 'fade', 'amount', 6, 'linear'),
    );
    expect([1, 5, 6, 7, 9, 20].map((f) => amount(doc, f))).toEqual([1, 1, 0.75, 0.5, 0, 0]);
    const moved = edited(doc, (d) => moveKey(d, 'fade', 'amount', 9, 7));
    expect([5, 6, 7].map((f) => amount(moved, f))).toEqual([1, 0.5, 0]);
    // A key in between goes on as the one before it does.
    const more = edited(doc, (d) => setValue(d, 'fade', 'amount', 0.2, 6));
    expect(more.strands[0].steps[0].animation?.amount.keys?.map((k) => k.interpolation)).toEqual([
      'linear',
      'linear',
      undefined,
    ]);
  });

  test('the last key that goes leaves its value; without a frame a value stands on all', () => {
    const keyed = edited(
      base(),
      (d) => setValue(d, 'fade', 'amount', 0.3),
      (d) => toggleKey(d, 'fade', 'amount', 5),
    );
    const bare = edited(keyed, (d) => toggleKey(d, 'fade', 'amount', 5));
    expect(bare.strands[0].steps[0]).toMatchObject({ values: { amount: 0.3 } });
    expect(bare.strands[0].steps[0].animation).toBeUndefined();
    const set = edited(keyed, (d) => setValue(d, 'fade', 'amount', 0.8));
    expect([1, 9].map((f) => amount(set, f))).toEqual([0.8, 0.8]);
  });

  test('copies follow the keys too, and keep them when they stand alone', () => {
    const doc = edited(
      base(),
      (d) => toggleKey(d, 'fade', 'amount', 1),
      (d) => setValue(d, 'fade', 'amount', 0, 3),
      (d) => duplicateStep(d, 'fade', true),
    );
    for (const d of [
      doc,
      edited(doc, (e) => unlinkCopy(e, 'opacity')),
      edited(doc, (e) => duplicateStep(e, 'fade', false)),
    ])
      expect([1, 2, 3].map((f) => amount(d, f, 1))).toEqual([1, 0.5, 0]);
    const heir = edited(doc, (d) => removeStep(d, 'fade'));
    expect([1, 3].map((f) => amount(heir, f))).toEqual([1, 0]);
  });

  test('each frame is computed with its own values', () => {
    const doc = edited(
      base(),
      (d) => toggleKey(d, 'fade', 'amount', 1),
      (d) => setValue(d, 'fade', 'amount', 0.5, 3),
    );
    const steps = [1, 2, 3].map((frame) => {
      const request = { finish: doc, point: { strand: 'main', after: 'end' }, frame, scale: 1 };
      const node = planOf(request, (m, f) => `${m}@${f}`).nodes.find((n) => n.type === 'step');
      return node?.type === 'step' ? node.values.amount : undefined;
    });
    // At 1 nothing has to be done.
    expect(steps).toEqual([undefined, 0.75, 0.5]);
  });

  test('keys that cannot be are refused, by their place', () => {
    const keyed = (keys: unknown) => {
      const doc = JSON.parse(JSON.stringify(base()));
      const tracks = Object.entries(keys as object).map(([key, list]) => [key, { keys: list }]);
      doc.strands[0].steps[0].animation = Object.fromEntries(tracks);
      return () => parseFinish(doc);
    };
    expect(keyed({ amount: [{ frame: 1, value: 7 }] })).toThrow(
      'lies between 0 and 1 (strand main, step fade, key on frame 1)',
    );
    expect(
      keyed({
        amount: [
          { frame: 2, value: 1 },
          { frame: 2, value: 0 },
        ],
      }),
    ).toThrow('out of order');
    expect(keyed({ invert: [{ frame: 2, value: 1 }] })).toThrow(
      'true or false (strand main, step fade, key on frame 2)',
    );
    expect(keyed({ nothing: [{ frame: 2, value: 1 }] })).toThrow('no value “nothing”');
    expect(keyed({ amount: [] })).toThrow('keys are missing');
    expect(keyed({ amount: [{ frame: 1.5, value: 1 }] })).toThrow('animation.amount.keys.0.frame');
  });
});

describe('several keys at once', () => {
  const made = () =>
    edited(
      base(),
      () => addStep('main', 1, 'bloom', 'bloom'),
      (d) => setValues(d, 'fade', { amount: 0.1 }, 1, true),
      (d) => setValues(d, 'fade', { amount: 0.5 }, 5, true),
      (d) => setValues(d, 'fade', { amount: 0.9 }, 9, true),
      (d) => setValues(d, 'bloom', { tint: [1, 0, 0] }, 5, true),
      (d) => setValues(d, 'bloom', { tint: [0, 1, 0] }, 8, true),
    );
  const keysOf = (doc: Finish, step: string, key: string) =>
    (findStep(doc, step)?.step.animation?.[key]?.keys ?? []).map((k) => [k.frame, k.value]);
  const all = (doc: Finish): KeyAt[] =>
    doc.strands[0].steps.flatMap((step) =>
      Object.entries(step.animation ?? {}).flatMap(([key, track]) =>
        (track.keys ?? []).map((k) => ({ of: step.id, key, frame: k.frame })),
      ),
    );

  test('get their keys by being changed', () => {
    const doc = made();
    expect(keysOf(doc, 'fade', 'amount')).toEqual([
      [1, 0.1],
      [5, 0.5],
      [9, 0.9],
    ]);
    expect(valuesOn(doc, findStep(doc, 'bloom')!.step, 20).tint).toEqual([0, 1, 0]);
  });

  test('are moved, stretched, reversed, removed, copied and pasted across values', () => {
    const doc = made();
    const moved = moveKeys(doc, all(doc), 3).apply(doc);
    expect(keysOf(moved, 'fade', 'amount').map(([f]) => f)).toEqual([4, 8, 12]);
    expect(keysOf(moved, 'bloom', 'tint').map(([f]) => f)).toEqual([8, 11]);
    const wide = scaleKeys(doc, all(doc), 1, 2).apply(doc);
    expect(keysOf(wide, 'fade', 'amount').map(([f]) => f)).toEqual([1, 9, 17]);
    const back = scaleKeys(doc, all(doc), 5, -1).apply(doc);
    expect(keysOf(back, 'fade', 'amount')).toEqual([
      [1, 0.9],
      [5, 0.5],
      [9, 0.1],
    ]);
    const fewer = removeKeys(doc, all(doc).slice(0, 2)).apply(doc);
    expect(keysOf(fewer, 'fade', 'amount')).toEqual([[9, 0.9]]);
    const pasted = pasteKeys(copiedKeys(doc, all(doc)), 101).apply(doc);
    expect(keysOf(pasted, 'fade', 'amount').slice(3)).toEqual([
      [101, 0.1],
      [105, 0.5],
      [109, 0.9],
    ]);
    expect(
      keysOf(pasted, 'bloom', 'tint')
        .slice(2)
        .map(([f]) => f),
    ).toEqual([105, 108]);
  });

  test('stay in order and valid, whatever is done to them, and a value is left when all are gone', () => {
    const some = fc.array(
      fc.tuple(
        fc.constantFrom('move', 'scale', 'remove', 'paste', 'interpolate'),
        fc.integer({ min: -30, max: 30 }),
        fc.nat(31),
      ),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(some, (acts) => {
        let doc = made();
        for (const [what, by, mask] of acts) {
          const chosen = all(doc).filter((_, i) => (mask >> (i % 5)) & 1);
          if (chosen.length === 0) continue;
          const act = {
            move: () => moveKeys(doc, chosen, by),
            scale: () => scaleKeys(doc, chosen, 4, by / 8),
            remove: () => removeKeys(doc, chosen),
            paste: () => pasteKeys(copiedKeys(doc, chosen), by),
            interpolate: () => changeEach(doc, chosen, { interpolation: 'linear', out: [2, 0] }),
          }[what as 'move']();
          doc = act.apply(doc);
          expect(parseFinish(JSON.parse(JSON.stringify(doc)))).toEqual(doc);
        }
        const bare = all(doc).length > 0 ? removeKeys(doc, all(doc)).apply(doc) : doc;
        expect(all(bare)).toEqual([]);
        expect(parseFinish(JSON.parse(JSON.stringify(bare)))).toEqual(bare);
      }),
      { numRuns: 60 },
    );
  });

  test('are shifted by frames and value within what is declared, and shaped by handles that are joined or not', () => {
    const doc = made();
    const chosen = all(doc).filter((k) => k.key === 'amount');
    const shifted = shiftKeys(doc, chosen, 2, 0.3).apply(doc);
    expect(keysOf(shifted, 'fade', 'amount')).toEqual([
      [3, 0.4],
      [7, 0.8],
      [11, 1],
    ]);
    const middle = { of: 'fade', key: 'amount', frame: 5 };
    const key = (d: Finish) => findStep(d, 'fade')!.step.animation!.amount.keys![1];
    expect(key(setHandle(doc, middle, 'out', [2, 0.2], true).apply(doc))).toMatchObject({
      out: [2, 0.2],
      in: [-4 / 3, expect.closeTo(-0.4 / 3)],
    });
    expect(key(setHandle(doc, middle, 'in', [-2, 0.1], false).apply(doc)).out).toBeUndefined();
    // It never goes to the other side, so that time does not run back.
    expect(key(setHandle(doc, middle, 'out', [-3, 0.2], true).apply(doc)).out).toEqual([0, 0.2]);
    fc.assert(
      fc.property(
        fc.integer({ min: -9, max: 9 }),
        fc.double({ min: -2, max: 2, noNaN: true }),
        (frames, value) => {
          const shaped = setHandle(doc, middle, 'out', [frames, value], true).apply(doc);
          expect(parseFinish(JSON.parse(JSON.stringify(shaped))).strands).toHaveLength(1);
          const values = Array.from({ length: 90 }, (_, i) => amount(shaped, 5 + i / 20) as number);
          expect(values.every((v) => v >= 0 && v <= 1)).toBe(true);
        },
      ),
      { numRuns: 30 },
    );
  });

  test('take the named easings of CSS: the timing that browsers have', () => {
    const doc = made();
    const chosen = [{ of: 'fade', key: 'amount', frame: 1 }];
    for (const [name, { points }] of Object.entries(easings)) {
      const eased = setEasing(doc, chosen, name as keyof typeof easings).apply(doc);
      const reference = BezierEasing(...(points as unknown as [number, number, number, number]));
      for (const frame of [1, 2, 3, 4, 5])
        expect(amount(eased, frame)).toBeCloseTo(0.1 + 0.4 * reference((frame - 1) / 4), 4);
      expect(parseFinish(JSON.parse(JSON.stringify(eased)))).toEqual(eased);
    }
  });

  test('modulators become keys that are nowhere further than the tolerance', () => {
    const wave = { type: 'wave', form: 'sine', frequency: 1, depth: 0.3, phase: 0 } as const;
    const doc = edited(made(), (d) => setModulators(d, 'fade', 'amount', [wave], 25));
    expect(doc.rate).toBe(25);
    const { step } = findStep(doc, 'fade')!;
    const baked = bake(doc, 'fade', 'amount', { first: 1, last: 60 }, 0.02).apply(doc);
    expect(findStep(baked, 'fade')!.step.animation?.amount.modulators).toBeUndefined();
    expect(keysOf(baked, 'fade', 'amount').length).toBeLessThan(40);
    for (let f = 1; f <= 60; f++)
      expect(Math.abs((valuesOn(doc, step, f).amount as number) - (amount(baked, f) as number))).toBeLessThan(
        0.021,
      );
  });
});

describe('a table of keys', () => {
  const made = () =>
    edited(
      base(),
      () => addStep('main', 1, 'bloom', 'bloom'),
      (d) => setValues(d, 'fade', { amount: 0.25 }, 3, true),
      (d) => setValues(d, 'fade', { amount: 1 }, 9, true),
      (d) => setInterpolation(d, 'fade', 'amount', 3, 'linear'),
      (d) => setValues(d, 'bloom', { tint: [1, 0.5, 0], mode: 'screen' }, 5, true),
    );

  test('copied and pasted is the same document, on whatever frames it was', () => {
    const doc = made();
    const table = toTsv(rowsOfKeys(doc));
    expect(table.split('\n')).toHaveLength(5);
    expect(table).toContain('fade\tamount\t3\t0.25\tlinear\t\t');
    expect(table).toContain('bloom\ttint\t5\t1 0.5 0\tease\t\t');
    const bare = edited(base(), () => addStep('main', 1, 'bloom', 'bloom'));
    const pasted = pasteTable(bare, table).apply(bare);
    expect(toTsv(rowsOfKeys(pasted))).toBe(table);
    expect(parseFinish(JSON.parse(JSON.stringify(pasted)))).toEqual(pasted);
    // As a spreadsheet writes it with semicolons, without a first line.
    const csv = table.split('\n').slice(1, 3).join('\n').replaceAll('\t', ';').replaceAll('.', ',');
    expect(rowsOfKeys(pasteTable(bare, csv).apply(bare)).map((r) => [r.held.frame, r.held.value])).toEqual([
      [3, 0.25],
      [9, 1],
    ]);
  });

  test('two columns are frames and the value that is shown, with decimal commas, also relative to the playhead', () => {
    const doc = made();
    const shown = [{ of: 'fade', key: 'amount' }];
    const got = (text: string, more: object = {}) =>
      rowsOfKeys(pasteTable(doc, text, { shown, playhead: 20, ...more }).apply(doc))
        .filter((r) => r.of === 'fade')
        .map((r) => [r.held.frame, r.held.value]);
    const kept = [
      [3, 0.25],
      [9, 1],
    ];
    expect(got('11\t0,5\n12\t0,75')).toEqual([...kept, [11, 0.5], [12, 0.75]]);
    expect(got('11 0,5\n12 0,75')).toEqual([...kept, [11, 0.5], [12, 0.75]]);
    expect(got('11;0.5')).toEqual([...kept, [11, 0.5]]);
    expect(got('+1\t0.5\n-2\t0.1')).toEqual([...kept, [18, 0.1], [21, 0.5]]);
    // By names as they are on the screen: a column for each value, or one for the step and one for its value.
    expect(got('Frame\tOpacity\n11\t0.5', { shown: [], selected: 'fade' })).toEqual([...kept, [11, 0.5]]);
    expect(got('frame\tBloom › Amount\tOpacity › Opacity\n11\t1\t0.5')).toEqual([...kept, [11, 0.5]]);
    expect(got('Step\tName\tFrame\tIs\nOpacity\tOpacity\t11\t0.5', { shown: [] })).toEqual([
      ...kept,
      [11, 0.5],
    ]);
    expect(() => pasteTable(doc, '11\t1\t2', { shown })).toThrow(/2 columns of values, and 1 are shown/);
    expect(() => pasteTable(doc, 'frame\tNothing\n1\t2', { shown })).toThrow(
      /No value that is shown is called/,
    );
  });

  test('is copied with six digits, and steps of one name are told apart', () => {
    const doc = setValue(made(), 'fade', 'amount', 1 / 3, 3).apply(made());
    expect(toTsv(rowsOfKeys(doc))).toContain('fade\tamount\t3\t0.333333\t');
    const twice = edited(
      doc,
      () => addStep('main', 2, 'bloom', 'bloom-2'),
      (d) => setValues(d, 'bloom-2', { amount: 0.3 }, 5, true),
    );
    const owners = new Set(rowsOfKeys(twice).map((r) => r.owner));
    expect([...owners].filter((o) => o.startsWith('Bloom'))).toEqual(['Bloom 1', 'Bloom 2']);
    expect(() => pasteTable(twice, 'Bloom\tAmount\t1\t1')).toThrow(
      /2 steps are called “Bloom”.*Frame › Bloom \(bloom-2\)/,
    );
  });

  test.each([
    ['gone\tamount\t1\t1', 'There is no step “gone” (line 1)'],
    ['fade\tnothing\t1\t1', 'has no value “nothing” (line 1)'],
    ['step\tvalue\nfade\tamount\tsoon\t1', '“soon” is no frame (line 2)'],
    ['fade\tamount\t1\tmuch', '“much” is nothing that Opacity can be (line 1)'],
    ['fade\tamount\t1\t1\tbouncing', '“bouncing” is no interpolation (line 1)'],
    ['fade\tamount\t1\t1\tease\t3', 'A handle is two numbers'],
    ['', 'There are no keys in this text'],
  ])('%j is refused by its line', (text, words) => {
    const doc = made();
    expect(() => pasteTable(doc, text)).toThrow(words);
  });
});
