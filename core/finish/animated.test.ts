import { applyPatches } from 'immer';
import { describe, expect, test } from 'vitest';
import { planOf } from '../evaluate/plan/plan';
import { ellipse, type PathPoint, rectangle } from '../math/path';
import type { Value, ValueSpec } from '../steps/shared/define';
import {
  allOn,
  animatedAt,
  animatedOf,
  findAnimated,
  headAddress,
  layerAddress,
  layerOn,
  mixedAddress,
  selectionOf,
  shapeAddress,
} from './animated';
import { applyEdit, type Edit } from './edit';
import { addStep, newFinish } from './edits';
import type { Finish, Head, StackHead } from './finish';
import { addGuide, follow } from './guide-edits';
import { copiedKeys, type KeyAt, moveKeys, pasteKeys, removeKeys, scaleKeys, toggleKey } from './key-edits';
import { lanesOf, pasteTable, rowsOfKeys, toTsv } from './key-table';
import { keyedFramesOf } from './keys';
import { duplicateLayer, followLayer, moveLayer, removeLayer } from './layer-edits';
import { newShape } from './shape-edits';
import { openFinish, parseFinish } from './validation';
import { setValues } from './value-edits';

/** One mechanism for everything that changes over time: steps, layers, mixes, shapes, colours and gradients. */

const reopened = (doc: Finish) => parseFinish(JSON.parse(JSON.stringify(doc)));
const edited = (doc: Finish, ...edits: ((doc: Finish) => Edit)[]): Finish =>
  edits.reduce((d, make) => {
    const { finish, patches, inverse } = applyEdit(d, make(d));
    // Any gesture can be undone and done again.
    expect(applyPatches(finish, inverse)).toEqual(d);
    expect(applyPatches(d, patches)).toEqual(finish);
    return reopened(finish);
  }, doc);

const stack = {
  type: 'stack',
  layers: ['sky', 'moth'].map((media) => ({ media, pass: '', show: true, opacity: 1 })),
} as StackHead;
const heads = {
  stack,
  mix: {
    type: 'mix',
    media: 'hall',
    passes: [
      { pass: 'sun', gain: 1 },
      { pass: 'lamps', gain: 1 },
    ],
  },
  shapes: { type: 'shapes', shapes: [newShape('sail', 'Sail', rectangle(10, 10, 40, 30))] },
  colour: { type: 'colour', colour: [0.2, 0.2, 0.2], alpha: 1 },
  gradient: { type: 'gradient', from: [0, 0, 0], fromAlpha: 1, to: [1, 1, 1], toAlpha: 1, angle: 90 },
} satisfies Record<string, Head>;

/** A document that has all that can change over time; caption has words, lens reflections rows, and a colour key several colours. */
const everything = (): Finish => {
  let doc = newFinish('f', 'F', { type: 'pass', media: 'hall', pass: '' });
  doc = {
    ...doc,
    strands: [
      ...doc.strands,
      ...Object.entries(heads).map(([id, head]) => ({
        id,
        name: id,
        kind: id === 'shapes' ? ('matte' as const) : ('picture' as const),
        head,
        steps: [],
      })),
    ],
  };
  for (const [i, type] of ['bloom', 'caption', 'lens-reflections', 'colour-key', 'transform'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  return reopened(doc);
};

/** Two values that a declaration allows, and that are not its default. */
function two(spec: ValueSpec): [Value, Value] {
  switch (spec.type) {
    case 'number': {
      const [low, high] = spec.soft;
      const round = (v: number) => (spec.whole ? Math.round(v) : v);
      return [round(low + (high - low) * 0.25), round(low + (high - low) * 0.75)];
    }
    case 'toggle':
      return [!spec.default, spec.default];
    case 'choice': {
      const options = Object.keys(spec.options);
      return [options[options.length - 1], options[0]];
    }
    case 'text':
      return ['Orrery Hall', 'Moth and Comet'];
    case 'colour':
      return [
        [0.5, 0.25, 0.125],
        [2, 1, 0.5],
      ];
    case 'colours':
      return [[[0.5, 0.25, 0.125]], [[2, 1, 0.5]]];
    case 'rows': {
      const row = (share: number) =>
        Object.values(spec.columns).map((c) => {
          const v = c.soft[0] + (c.soft[1] - c.soft[0]) * share;
          return c.whole ? Math.round(v) : v;
        });
      return [[row(0.25)], [row(0.5), row(0.75)]];
    }
    case 'path':
      return [rectangle(0, 0, 20, 20), ellipse(30, 30, 8, 12)];
  }
}

const places = animatedOf(everything()).flatMap(({ id, specs }) =>
  Object.keys(specs).map((key): [string, string] => [id, key]),
);

describe('everything can have keys', () => {
  test('steps and all heads that have values are there', () => {
    const found = animatedOf(everything()).map((a) => a.id);
    expect(found).toContain(layerAddress('stack', stack.layers[1], 1));
    expect(found).toContain(mixedAddress('mix', 0));
    expect(found).toContain(shapeAddress('shapes', 'sail'));
    expect(found).toContain(headAddress('gradient'));
    expect(places.length).toBeGreaterThan(80);
    const types = animatedOf(everything()).flatMap((a) => Object.values(a.specs).map((s) => s.type));
    expect(new Set(types).size).toBe(8);
  });

  test.each(places)(
    '%s, %s: keys by changing it, between them, moved, copied, in a table, taken away',
    (of, key) => {
      const doc = everything();
      const { specs } = animatedAt(doc, of);
      const [a, b] = two(specs[key]);
      const keyed = edited(
        doc,
        (d) => setValues(d, of, { [key]: a }, 2, true),
        (d) => setValues(d, of, { [key]: b }, 10),
      );
      // A layer has an id from then on.
      const now = findAnimated(keyed, of)!;
      const at = (d: Finish, frame: number) => allOn(d, animatedAt(d, now.id), frame)[key];
      expect([at(keyed, -5), at(keyed, 2), at(keyed, 10), at(keyed, 99)]).toEqual([a, a, b, b]);
      expect(lanesOf(keyed).map((l) => [l.of, l.key])).toEqual([[now.id, key]]);
      expect(keyedFramesOf(keyed, selectionOf(keyed, now.id))).toEqual([2, 10]);
      const between = edited(keyed, (d) => toggleKey(d, now.id, key, 6));
      expect(at(between, 6)).toEqual(at(keyed, 6));
      const chosen: KeyAt[] = rowsOfKeys(between).map((r) => ({ of: r.of, key, frame: r.held.frame }));
      expect(chosen.map((k) => k.frame)).toEqual([2, 6, 10]);
      const moved = edited(
        between,
        (d) => moveKeys(d, chosen, 3),
        (d) =>
          scaleKeys(
            d,
            chosen.map((k) => ({ ...k, frame: k.frame + 3 })),
            5,
            -2,
          ),
        () => pasteKeys(copiedKeys(between, chosen), 40),
      );
      const frames = rowsOfKeys(moved).map((r) => r.held.frame);
      expect(frames).toEqual([-11, -3, 5, 40, 44, 48]);
      // What a spreadsheet gives back is what it was given.
      const table = toTsv(rowsOfKeys(between));
      const bare = edited(between, (d) => removeKeys(d, chosen));
      expect(rowsOfKeys(bare)).toEqual([]);
      const back = edited(bare, (d) => pasteTable(d, table));
      // As many digits as a table has.
      const short = (doc: Finish) => toTsv(rowsOfKeys(doc));
      expect(rowsOfKeys(back).map((r) => r.held.frame)).toEqual(rowsOfKeys(between).map((r) => r.held.frame));
      expect(short(back)).toEqual(short(between));
    },
  );

  test.each([
    ['stack:layer-1', 'moveX', 'stack'],
    ['stack:layer-1', 'opacity', 'stack'],
    ['mix:pass-0', 'gain', 'mix'],
    ['mix:pass-0', 'tint', 'mix'],
    ['shapes:sail', 'path', 'shapes'],
    ['shapes:sail', 'rotate', 'shapes'],
    ['shapes:sail', 'opacity', 'shapes'],
    ['colour:head', 'colour', 'colour'],
    ['gradient:head', 'angle', 'gradient'],
  ])('%s, %s reaches what is computed, on its frames alone', (of, key, strand) => {
    const [a, b] = two(animatedAt(everything(), of).specs[key]);
    const doc = edited(
      everything(),
      (d) => setValues(d, of, { [key]: a }, 2, true),
      (d) => setValues(d, of, { [key]: b }, 10),
    );
    // The files of all frames are the same here: what differs comes from the keys.
    const planned = (finish: Finish, frame: number) =>
      planOf({ finish, point: { strand, after: 'end' }, frame, scale: 1 }, () => 'same').key;
    expect(planned(doc, 2)).toBe(planned(doc, -3));
    expect(planned(doc, 10)).toBe(planned(doc, 30));
    expect(new Set([planned(doc, 2), planned(doc, 6), planned(doc, 10)]).size).toBe(3);
  });

  test('a guide leads a layer and a shape', () => {
    const doc = edited(
      everything(),
      (d) => addGuide(d, 'Globe', { x: 30, y: -20 }, 1),
      (d) => follow(d, 'stack:layer-0', { x: 'moveX', y: 'moveY' }, 'guide'),
      (d) => follow(d, 'shapes:sail', { x: 'moveX', y: 'moveY' }, 'guide'),
    );
    const { moveX, moveY } = allOn(doc, animatedAt(doc, 'shapes:sail'), 5);
    expect([moveX, moveY]).toEqual([30, -20]);
    expect(layerOn(doc, (doc.strands[1].head as StackHead).layers[0], 5).transform).toMatchObject({
      moveX: 30,
      moveY: -20,
    });
  });
});

describe('layers that move', () => {
  const moving = () =>
    edited(
      everything(),
      (d) => setValues(d, 'stack:layer-0', { moveX: 0 }, 1, true),
      (d) => setValues(d, 'stack:layer-0', { moveX: 40, opacity: 0.5 }, 9, true),
    );
  const layers = (d: Finish) => (d.strands[1].head as StackHead).layers;
  const places = (d: Finish, frame: number) =>
    layers(d).map((l) => [l.media, layerOn(d, l, frame).transform?.moveX, layerOn(d, l, frame).opacity]);

  test('keep their keys wherever they are put in the order', () => {
    const [{ of }] = lanesOf(moving());
    const doc = edited(moving(), (d) => moveLayer(d, 'stack', 0, 1));
    expect(lanesOf(doc)[0].of).toBe(of);
    expect(places(doc, 9)).toEqual([
      ['moth', undefined, 1],
      ['sky', 40, 0.5],
    ]);
  });

  test('are followed with their movement, not their opacity; who follows keeps it when they go', () => {
    const doc = edited(moving(), (d) => followLayer(d, 'stack', 1, { strand: 'stack', index: 0 }));
    expect(places(doc, 9)).toEqual([
      ['sky', 40, 0.5],
      ['moth', 40, 1],
    ]);
    for (const freed of [
      edited(doc, (d) => removeLayer(d, 'stack', 0)),
      edited(doc, (d) => followLayer(d, 'stack', 1, undefined)),
    ]) {
      const moth = layers(freed).find((l) => l.media === 'moth')!;
      expect([1, 9].map((f) => layerOn(freed, moth, f).transform?.moveX)).toEqual([0, 40]);
      expect(moth.animation?.opacity).toBeUndefined();
    }
  });

  test('keep keys that came from a table wherever they are put in the order', () => {
    const table = 'stack:layer-0\tmoveX\t1\t0\nstack:layer-0\tmoveX\t9\t40';
    const doc = edited(
      everything(),
      (d) => pasteTable(d, table),
      (d) => moveLayer(d, 'stack', 0, 1),
    );
    expect(layers(doc)[1].id).toBe(lanesOf(doc)[0].of);
    expect(places(doc, 9)[1]).toEqual(['sky', 40, 1]);
  });

  test('are copied with their keys', () => {
    const doc = edited(
      moving(),
      (d) => duplicateLayer(d, 'stack', 0, false),
      (d) => setValues(d, 'stack:layer-1', { moveX: -7 }, 9),
    );
    expect(places(doc, 9).slice(0, 2)).toEqual([
      ['sky', 40, 0.5],
      ['sky', -7, 0.5],
    ]);
  });
});

test('documents of version 3: paths and transforms of shapes are tracks, and what moved moves as it did', () => {
  const path = (by: number) => rectangle(by, by, by + 10, by + 10);
  const { finish } = openFinish({
    ...JSON.parse(JSON.stringify(newFinish('f', 'F', { type: 'pass', media: 'hall', pass: '' }))),
    version: 3,
    strands: [
      {
        id: 'main',
        name: 'M',
        kind: 'matte',
        head: {
          type: 'shapes',
          shapes: [
            {
              id: 'a',
              name: 'A',
              animated: true,
              paths: [
                { frame: 1, points: path(0) },
                { frame: 5, points: path(8) },
              ],
              transforms: [{ frame: 3, moveX: 5, moveY: 0, rotate: 0, scale: 1 }],
            },
            { id: 'b', name: 'B', paths: [{ frame: 4, points: path(2) }] },
          ],
        },
        steps: [],
      },
    ],
  });
  const on = (id: string, frame: number) => allOn(finish, animatedAt(finish, `main:${id}`), frame);
  expect((on('a', 3).path as readonly PathPoint[])[0].x).toBe(4);
  expect([on('a', 3).moveX, on('a', 9).moveX, on('b', 1).moveX]).toEqual([5, 5, 0]);
  expect(on('b', 99).path).toEqual(path(2));
  expect(lanesOf(finish).map((l) => l.key)).toEqual(['path', 'moveX', 'moveY', 'rotate', 'scale']);
});
