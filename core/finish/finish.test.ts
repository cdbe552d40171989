import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Pass } from '../formats/passes';
import { stepSpec } from '../steps/registry';
import type { Value } from '../steps/shared/define';
import { copyOf, duplicateStep, duplicateStrand, pasteStep, unlinkCopy } from './copies';
import { type Edit, freeId } from './edit';
import {
  addStep,
  addStrand,
  changeStrand,
  chooseObjects,
  linkPass,
  linkSlot,
  moveStep,
  moveStepTo,
  newFinish,
  removeStep,
  removeStrand,
  renameStep,
  setBypass,
  setHead,
  setNote,
  splitAt,
} from './edits';
import { type Finish, FinishError, findStep, originalOf, type Strand } from './finish';
import { eachPoint } from './graph';
import { allBeginnings, startForSlot, startStrand } from './new-strand';
import { rowsOf } from './rows';
import { fitsAt, usualIndex } from './usual-place';
import { parseFinish } from './validation';
import { setValue } from './value-edits';

const head = { type: 'pass', media: 'orrery_hall', pass: '' } as const;
const emission = { type: 'pass', media: 'orrery_hall', pass: 'emission' } as const;
const onePass: Pass = { name: '', label: '', kind: 'picture', part: 0, channels: [], types: [] };
const bare = newFinish('hall', 'Hall', head);
const lit = addStep('main', 0, 'bloom', 'bloom').apply(bare);
const two = addStep('main', 1, 'bloom', 'bloom-2').apply(lit);
const linked = linkPass(two, 'bloom-2', 'light', emission, 'emission').apply(two);

describe('edits', () => {
  test('leave the old document alone and say what they did', () => {
    const frozen = JSON.stringify(two);
    const edits: [Edit, string][] = [
      [setValue(two, 'bloom', 'threshold', 3), 'set Threshold of Bloom'],
      [moveStep(two, 'bloom', 1), 'move Bloom down'],
      [removeStep(two, 'bloom'), 'remove Bloom'],
      [setBypass(two, 'bloom', true), 'bypass Bloom'],
      [setHead(two, 'main', emission, 'picture', 'emission'), 'begin Frame at emission'],
      [linkPass(two, 'bloom', 'light', emission, 'emission'), 'take Light from emission'],
    ];
    for (const [edit, label] of edits) {
      expect(edit.label).toBe(label);
      expect(edit.apply(two)).not.toEqual(two);
    }
    expect(JSON.stringify(two)).toBe(frozen);
  });

  /** One edit after another, of every sort, on whatever is there. What the document refuses changes nothing. */
  const actions = fc.array(
    fc.record({
      what: fc.constantFrom(
        ...([
          'add',
          'remove',
          'bypass',
          'up',
          'move',
          'link',
          'tap',
          'free',
          'value',
          'split',
          'strand',
          'drop',
        ] as const),
        ...(['duplicate', 'follow', 'twin', 'unlink', 'paste', 'rename', 'note', 'fold', 'output'] as const),
      ),
      at: fc.nat(7),
      to: fc.nat(7),
      amount: fc.double({ min: 0, max: 1, noNaN: true }),
    }),
    { maxLength: 30 },
  );
  type Action = { what: string; at: number; to: number; amount: number };
  function does(doc: Finish, { what, at, to, amount }: Action): Edit | undefined {
    const strand = doc.strands[at % doc.strands.length];
    const other = doc.strands[to % doc.strands.length];
    const all = doc.strands.flatMap((s) => s.steps);
    const step = all[at % Math.max(1, all.length)];
    const types = ['bloom', 'join', 'opacity', 'transform', 'backing'];
    const type = types[to % types.length];
    switch (what) {
      case 'add':
        return addStep(strand.id, to % (strand.steps.length + 1), type, freeId(doc, type));
      case 'split':
        return splitAt(doc, strand.id, strand.steps[to % Math.max(1, strand.steps.length)]?.id ?? 'head');
      case 'strand':
        return addStrand(doc, { type: 'colour', colour: [1, 0.5, 0], alpha: amount }, 'picture', 'Colour');
      case 'twin':
        return duplicateStrand(doc, strand.id, amount > 0.5);
      case 'drop':
        return removeStrand(doc, strand.id);
      case 'fold':
        return changeStrand(doc, strand.id, { folded: amount > 0.5 ? true : undefined });
      case 'output':
        return changeStrand(doc, strand.id, { output: amount > 0.3 ? `out-${to}` : undefined });
    }
    if (!step) return undefined;
    const slots = Object.keys(stepSpec(step.type)!.slots);
    const slot = slots[to % Math.max(1, slots.length)];
    switch (what) {
      case 'remove':
        return removeStep(doc, step.id);
      case 'bypass':
        return setBypass(doc, step.id, amount > 0.5);
      case 'up':
        return moveStep(doc, step.id, amount > 0.5 ? 1 : -1);
      case 'move':
        return moveStepTo(doc, step.id, other.id, to);
      case 'link':
        return slot ? linkPass(doc, step.id, slot, emission, 'emission', 'luminance') : undefined;
      case 'tap':
        return slot
          ? linkSlot(doc, step.id, slot, {
              strand: other.id,
              after: other.steps[at % Math.max(1, other.steps.length)]?.id ?? 'end',
            })
          : undefined;
      case 'free':
        return slot ? linkSlot(doc, step.id, slot, undefined) : undefined;
      case 'value':
        return stepSpec(step.type)!.values.amount ? setValue(doc, step.id, 'amount', amount) : undefined;
      case 'duplicate':
        return duplicateStep(doc, step.id, false);
      case 'follow':
        return duplicateStep(doc, step.id, true);
      case 'unlink':
        return unlinkCopy(doc, step.id);
      case 'paste':
        return pasteStep(
          strand.id,
          to % (strand.steps.length + 1),
          copyOf(doc, step.id),
          freeId(doc, step.type),
        );
      case 'rename':
        return renameStep(doc, step.id, amount > 0.5 ? 'Lamp halo' : '');
      case 'note':
        return setNote(doc, step.id, amount > 0.5 ? 'less, next time' : '');
    }
    return undefined;
  }

  test('any row of edits leaves a valid document, rows that run downwards, and a way back to the first', () => {
    let refused = 0;
    fc.assert(
      fc.property(actions, (list) => {
        const history: Finish[] = [bare];
        const written = [JSON.stringify(bare)];
        for (const action of list) {
          const doc = history[history.length - 1];
          try {
            const edit = does(doc, action);
            if (edit) {
              history.push(edit.apply(doc));
              written.push(JSON.stringify(history[history.length - 1]));
            }
          } catch (error) {
            expect(error).toBeInstanceOf(FinishError);
            refused++;
          }
        }
        const doc = history[history.length - 1];
        expect(parseFinish(JSON.parse(JSON.stringify(doc)))).toEqual(doc);
        const rows = rowsOf(doc);
        for (const s of doc.strands) {
          let above = rows.get(s.id)!;
          for (const step of s.steps) {
            expect(rows.get(step.id)!).toBeGreaterThan(above);
            above = rows.get(step.id)!;
            for (const tap of Object.values(step.slots)) {
              const tapped = rows.get(tap.after === 'head' || tap.after === 'end' ? tap.strand : tap.after)!;
              expect(above).toBeGreaterThan(tapped);
            }
          }
        }
        // Undo is taking the documents before, which no edit may have touched.
        expect(history.map((d) => JSON.stringify(d))).toEqual(written);
        expect(history[0]).toEqual(newFinish('hall', 'Hall', head));
      }),
      { numRuns: 400 },
    );
    expect(refused).toBeGreaterThan(0);
  });

  test('a link that would run into itself is refused at the moment of linking, with the reason', () => {
    const split = splitAt(two, 'main', 'bloom-2').apply(two);
    const id = split.strands[1].id;
    const link = linkSlot(split, 'bloom', 'light', { strand: id, after: 'end' });
    expect(() => link.apply(split)).toThrow(/would feed itself.*Link the slot to another strand/s);
    expect(() => linkSlot(two, 'bloom', 'light', { strand: 'main', after: 'bloom-2' }).apply(two)).toThrow(
      /feed itself/,
    );
  });

  test('a linked copy follows its original, which can go without its copies losing their look', () => {
    const linkedCopy = duplicateStep(lit, 'bloom', true).apply(lit);
    const again = duplicateStep(linkedCopy, 'bloom-2', true).apply(linkedCopy);
    expect(again.strands[0].steps.map((s) => s.follows)).toEqual([undefined, 'bloom', 'bloom']);
    const set = setValue(again, 'bloom-3', 'amount', 2).apply(again);
    expect(set.strands[0].steps.map((s) => originalOf(set, s).values.amount)).toEqual([2, 2, 2]);
    const without = removeStep(set, 'bloom').apply(set);
    expect(
      without.strands[0].steps.map((s) => [s.id, s.follows, originalOf(without, s).values.amount]),
    ).toEqual([
      ['bloom-2', undefined, 2],
      ['bloom-3', 'bloom-2', 2],
    ]);
    const own = unlinkCopy(without, 'bloom-3').apply(without);
    expect(setValue(own, 'bloom-2', 'amount', 1).apply(own).strands[0].steps[1].values.amount).toBe(2);
  });

  test('a strand is duplicated with its steps; links inside it lead to the copy’s own', () => {
    const inner = linkSlot(two, 'bloom-2', 'light', { strand: 'main', after: 'bloom' }).apply(two);
    const twin = duplicateStrand(inner, 'main', true).apply(inner);
    const copy = twin.strands[1];
    expect(copy).toMatchObject({
      name: 'Frame copy',
      head,
      steps: [{ follows: 'bloom' }, { follows: 'bloom-2' }],
    });
    expect(copy.steps[1].slots.light).toEqual({ strand: copy.id, after: copy.steps[0].id });
    expect(parseFinish(JSON.parse(JSON.stringify(twin)))).toEqual(twin);
  });

  test('a step is moved to another strand; what tapped it stays where it was', () => {
    const split = splitAt(two, 'main', 'bloom').apply(two);
    const id = split.strands[1].id;
    const moved = moveStepTo(split, 'bloom', id, 0);
    // The split taps after the step that would go onto it: it then begins at the head.
    const after = moved.apply(split);
    expect(after.strands[0].steps.map((s) => s.id)).toEqual(['bloom-2']);
    expect(after.strands[1]).toMatchObject({
      head: { strand: 'main', after: 'head' },
      steps: [{ id: 'bloom' }],
    });
    expect(moved.label).toBe('move Bloom to Frame split');
  });

  test('a strand made for a slot is shared, and goes with its last link', () => {
    const both = linkPass(linked, 'bloom', 'light', emission, 'emission').apply(linked);
    expect(both.strands).toHaveLength(2);
    const one = linkSlot(both, 'bloom', 'light', undefined).apply(both);
    expect(one.strands).toHaveLength(2);
    expect(removeStep(one, 'bloom-2').apply(one).strands).toHaveLength(1);
  });
});

test('strands that are added have names of their own, which say what is in them', () => {
  const media = [{ name: 'glass', passes: [{ ...onePass, label: 'picture' }] }];
  const from = { strand: 'main', after: 'end', name: 'Frame' };
  const beginning = (key: string) => allBeginnings(media, from).find((b) => b.key === key)!;
  const add = (doc: Finish, key: string) => startStrand(doc, beginning(key)).edit.apply(doc);
  let doc = ['shapes', 'shapes', 'glass/', 'glass/', 'colour'].reduce(add, two);
  doc = duplicateStrand(doc, 'main', false).apply(doc);
  doc = duplicateStrand(doc, 'main', true).apply(doc);
  doc = splitAt(doc, 'main', 'bloom').apply(doc);
  doc = splitAt(doc, 'main', 'bloom').apply(doc);
  const names = doc.strands.map((s) => s.name);
  expect(names).toEqual([
    'Frame',
    ...['Shapes', 'Shapes 2', 'glass', 'glass 2', 'Colour'],
    ...['Frame copy', 'Frame copy 2', 'Frame split', 'Frame split 2'],
  ]);
});

test('a matte of objects is called by them, as long as nobody gives it a name', () => {
  const ids = {
    type: 'ids',
    media: 'hall',
    pass: 'crypto',
    idFormat: 'ranked',
    ranks: 3,
    objects: [],
  } as const;
  const started = addStrand(bare, { ...ids, objects: [] }, 'matte', 'Objects').apply(bare);
  const id = started.strands[1].id;
  const choose = (doc: Finish, ...objects: string[]) => chooseObjects(doc, id, objects).apply(doc);
  const name = (doc: Finish) => doc.strands[1].name;
  const one = choose(started, 'globe');
  expect(name(one)).toBe('globe');
  expect(name(choose(one, 'globe', 'ring'))).toBe('globe, ring');
  expect(name(choose(one, 'globe', 'ring', 'arm'))).toBe('globe and 2 more');
  expect(name(choose(one))).toBe('Objects');
  const named = changeStrand(one, id, { name: 'Brass' }).apply(one);
  expect(name(choose(named, 'ring'))).toBe('Brass');
});

test('a chain of strands may be deeper than any program’s stack; a circle in it is still found', () => {
  const [first] = bare.strands;
  const chain = (last: Strand['head']) => ({
    ...bare,
    strands: Array.from({ length: 20_000 }, (_, i) => ({
      ...first,
      id: i === 0 ? 'main' : `s${i}`,
      head: i === 19_999 ? last : { type: 'tap' as const, strand: `s${i + 1}`, after: 'end' },
    })),
  });
  expect(parseFinish(chain(first.head)).strands).toHaveLength(20_000);
  expect(() => parseFinish(chain({ type: 'tap', strand: 's7', after: 'end' }))).toThrow(/would feed itself/);
});

describe('parseFinish', () => {
  const json = (change: (doc: Record<string, never>) => void, from: Finish = linked) => {
    const doc = JSON.parse(JSON.stringify(from));
    change(doc);
    return () => parseFinish(doc);
  };
  type Doc = {
    strands: {
      id: string;
      steps: { id: string; values: Record<string, Value>; slots: object; type: string }[];
    }[];
    main: string;
  };
  const wrong = (change: (doc: Doc) => void) => json(change as never);

  test('fills in what a step leaves out', () => {
    const doc = parseFinish(
      JSON.parse(JSON.stringify(lit).replace(/"values":\{[^}]*\}/, '"values":{"amount":2}')),
    );
    expect(findStep(doc, 'bloom')!.step.values).toMatchObject({
      amount: 2,
      radius: 96,
      mode: 'add',
      tint: [1, 1, 1],
    });
  });

  test.each([
    [
      'a value out of bounds',
      wrong((d) => (d.strands[0].steps[0].values.amount = 1001)),
      /Amount of Bloom lies between 0 and 1000 \(strand main, step bloom\)/,
    ],
    [
      'a value of another type',
      wrong((d) => (d.strands[0].steps[0].values.mode = 3)),
      /Blend mode of Bloom is one of add, screen/,
    ],
    ['a value nobody knows', wrong((d) => (d.strands[0].steps[0].values.sparkle = 3)), /no value “sparkle”/],
    [
      'a slot nobody knows',
      wrong((d) => (d.strands[0].steps[0].slots = { depth: { strand: 'main', after: 'head' } })),
      /no slot “depth”/,
    ],
    ['an id twice', wrong((d) => (d.strands[0].steps[1].id = 'bloom')), /Duplicate id “bloom”/],
    [
      'a strand that is not there',
      wrong((d) => (d.strands[0].steps[0].slots = { light: { strand: 'moon', after: 'end' } })),
      /no strand “moon”/,
    ],
    [
      'a place that is not there',
      wrong((d) => (d.strands[0].steps[0].slots = { light: { strand: 'strand', after: 'rays' } })),
      /no step “rays”/,
    ],
    ['a main strand that is not there', wrong((d) => (d.main = 'moon')), /no strand “moon” \(main strand\)/],
    [
      'a step that feeds itself',
      wrong((d) => (d.strands[0].steps[0].slots = { light: { strand: 'main', after: 'end' } })),
      /feed itself/,
    ],
    ['another kind of file', () => parseFinish({ hello: 1 }), /not a Zafiro finish/],
    ['no strands', wrong((d) => (d.strands = [])), /needs a strand/],
  ] as [string, () => unknown, RegExp][])('refuses %s, naming the place', (_, parse, label) => {
    expect(parse).toThrow(FinishError);
    expect(parse).toThrow(label);
  });

  test('strands that feed each other are refused', () => {
    const doc = JSON.parse(JSON.stringify(linked));
    const other = doc.strands[1];
    other.steps.push({ id: 'back', type: 'bloom', slots: { light: { strand: 'main', after: 'end' } } });
    expect(() => parseFinish(doc)).toThrow(/would feed itself/);
  });
});

describe('rows of the board', () => {
  test('a matte made of a strand’s beginning may go into a step further down the same strand', () => {
    const from = {
      key: 'k',
      name: 'Bright',
      description: '',
      kind: 'picture',
      steps: ['luminance-key'],
    } as const;
    const head = { type: 'tap', strand: 'main', after: 'head' } as const;
    const base = addStep('main', 0, 'bloom', 'bloom').apply(
      newFinish('a', 'A', { type: 'pass', media: 'm', pass: '' }),
    );
    const { edit, strand } = startForSlot(base, 'bloom', 'lightMask', { ...from, head });
    const doc = edit.apply(base);
    expect(rowsOf(doc).get(strand)).toBe(1);
    expect(rowsOf(doc).get('bloom')).toBe(3);
    expect(() => parseFinish(JSON.parse(JSON.stringify(doc)))).not.toThrow();
    // Its end may not go into its own beginning.
    expect(() => linkSlot(doc, 'luminance-key', 'mask', { strand: 'main', after: 'end' }).apply(doc)).toThrow(
      /would feed itself/,
    );
  });

  test('a step stands below what it taps, so that no link runs upwards', () => {
    const longer = JSON.parse(JSON.stringify(linked)) as Finish;
    const side = longer.strands[1];
    for (const id of ['a', 'b', 'c'])
      side.steps.push({ id, type: 'bloom', bypass: false, slots: {}, values: {} });
    const rows = rowsOf(longer);
    expect(rows.get('bloom')).toBe(1);
    expect(rows.get('c')).toBe(3);
    expect(rows.get('bloom-2')).toBe(4);
    const visited = new Set<string>();
    eachPoint(longer, (strand, index, from) => {
      for (const p of from) expect(visited).toContain(`${p.strand.id}/${p.index}`);
      visited.add(`${strand.id}/${index}`);
    });
  });
});

describe('the usual place of a step', () => {
  const graded = addStep('main', 1, 'backing', 'backing').apply(lit);
  test('is after the last step that comes no later in a camera, and says why', () => {
    expect(usualIndex(graded.strands[0], 'transform')).toEqual({
      index: 0,
      why: 'at the top: pictures are put in order before anything is done with them',
    });
    expect(usualIndex(graded.strands[0], 'bloom')).toMatchObject({ index: 1 });
    expect(usualIndex(graded.strands[0], 'bloom').why).toMatch(/^after Bloom: light spreads in the lens/);
    expect([0, 1, 2].map((i) => fitsAt(graded.strands[0], i, 'bloom'))).toEqual([true, true, false]);
  });
});
