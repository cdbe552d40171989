import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Value } from '../steps/define';
import {
  addStep,
  type Edit,
  freeId,
  linkPass,
  linkSlot,
  moveStep,
  newFinish,
  removeStep,
  setBypass,
  setHead,
  setValue,
} from './edits';
import { type Finish, FinishError, findStep, parseFinish, strandOrder } from './finish';
import { rowsOf } from './rows';

const head = { type: 'pass', media: 'orrery_hall', pass: '' } as const;
const emission = { type: 'pass', media: 'orrery_hall', pass: 'emission' } as const;
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
      [linkPass(two, 'bloom', 'light', emission, 'emission'), 'take light from emission'],
    ];
    for (const [edit, says] of edits) {
      expect(edit.says).toBe(says);
      expect(edit.apply(two)).not.toEqual(two);
    }
    expect(JSON.stringify(two)).toBe(frozen);
  });

  test('any row of edits gives a document that is read back as it was', () => {
    const steps = fc.array(
      fc.oneof(
        fc.record({ do: fc.constant('add'), at: fc.nat(5) }),
        fc.record({ do: fc.constantFrom('remove', 'bypass', 'up', 'down', 'link', 'free'), at: fc.nat(5) }),
        fc.record({
          do: fc.constant('value'),
          at: fc.nat(5),
          value: fc.double({ min: 0, max: 8, noNaN: true }),
        }),
      ),
      { maxLength: 25 },
    );
    fc.assert(
      fc.property(steps, (actions) => {
        let doc: Finish = bare;
        for (const action of actions) {
          const list = doc.strands[0].steps;
          const id = list[action.at % Math.max(1, list.length)]?.id;
          if (action.do === 'add')
            doc = addStep('main', action.at % (list.length + 1), 'bloom', freeId(doc, 'bloom')).apply(doc);
          else if (id === undefined) continue;
          else if (action.do === 'remove') doc = removeStep(doc, id).apply(doc);
          else if (action.do === 'bypass') doc = setBypass(doc, id, true).apply(doc);
          else if (action.do === 'up' || action.do === 'down')
            doc = moveStep(doc, id, action.do === 'up' ? -1 : 1).apply(doc);
          else if (action.do === 'link')
            doc = linkPass(doc, id, 'where', emission, 'emission', 'luminance').apply(doc);
          else if (action.do === 'free') doc = linkSlot(doc, id, 'where', undefined).apply(doc);
          else doc = setValue(doc, id, 'amount', (action as { value: number }).value).apply(doc);
        }
        expect(parseFinish(JSON.parse(JSON.stringify(doc)))).toEqual(doc);
      }),
    );
  });

  test('a strand made for a slot is shared, and goes with its last link', () => {
    const both = linkPass(linked, 'bloom', 'light', emission, 'emission').apply(linked);
    expect(both.strands).toHaveLength(2);
    const one = linkSlot(both, 'bloom', 'light', undefined).apply(both);
    expect(one.strands).toHaveLength(2);
    expect(removeStep(one, 'bloom-2').apply(one).strands).toHaveLength(1);
  });
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
      wrong((d) => (d.strands[0].steps[0].values.amount = 9)),
      /Amount of Bloom lies between 0 and 8 \(strand main, step bloom\)/,
    ],
    [
      'a value of another type',
      wrong((d) => (d.strands[0].steps[0].values.mode = 3)),
      /Mode of Bloom is one of add, screen/,
    ],
    ['a value nobody knows', wrong((d) => (d.strands[0].steps[0].values.sparkle = 3)), /no value “sparkle”/],
    [
      'a slot nobody knows',
      wrong((d) => (d.strands[0].steps[0].slots = { depth: { strand: 'main', after: 'head' } })),
      /no slot “depth”/,
    ],
    ['an id twice', wrong((d) => (d.strands[0].steps[1].id = 'bloom')), /id “bloom” stands twice/],
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
  ] as [string, () => unknown, RegExp][])('refuses %s, naming the place', (_, parse, says) => {
    expect(parse).toThrow(FinishError);
    expect(parse).toThrow(says);
  });

  test('strands that feed each other are refused', () => {
    const doc = JSON.parse(JSON.stringify(linked));
    const other = doc.strands[1];
    other.steps.push({ id: 'back', type: 'bloom', slots: { light: { strand: 'main', after: 'end' } } });
    expect(() => parseFinish(doc)).toThrow(/would feed itself/);
  });
});

describe('rows of the board', () => {
  test('a step stands below what it taps, so that no link runs upwards', () => {
    const longer = JSON.parse(JSON.stringify(linked)) as Finish;
    const side = longer.strands[1];
    for (const id of ['a', 'b', 'c'])
      side.steps.push({ id, type: 'bloom', bypass: false, slots: {}, values: {} });
    const rows = rowsOf(longer);
    expect(rows.get('bloom')).toBe(1);
    expect(rows.get('c')).toBe(3);
    expect(rows.get('bloom-2')).toBe(4);
    expect(strandOrder(longer)).toEqual(['strand', 'main']);
  });
});
