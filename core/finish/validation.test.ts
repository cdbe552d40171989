import { readdirSync, readFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import fc from 'fast-check';
import * as v from 'valibot';
import { describe, expect, test } from 'vitest';
import { steps } from '../steps/registry';
import type { ValueSpec } from '../steps/shared/define';
import { applyEdit, edit } from './edit';
import { addStep, linkPass, newFinish, setNote } from './edits';
import { type Finish, FinishError } from './finish';
import { publishedSchema } from './published-schema';
import { finishFormat } from './schema';
import { valueSchema } from './track-schema';
import { upgraded } from './upgrades/upgrades';
import { openFinish, parseFinish } from './validation';
import { setValue } from './value-edits';

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const bare = newFinish('hall', 'Hall', head);
const lit = addStep('main', 0, 'bloom', 'bloom').apply(bare);
const stored = new URL('../../tests/documents/', import.meta.url);
type Loose = { strands: { steps: { values: Record<string, unknown>; type: string }[] }[] };
const changed = (doc: Finish, change: (d: Loose) => void) => {
  const copy = JSON.parse(JSON.stringify(doc));
  change(copy);
  return copy;
};
const withValue = (type: string, key: string, value: unknown) =>
  changed(addStep('main', 0, type, 'it').apply(bare), (d) => {
    d.strands[0].steps[0].values = JSON.parse(`{"${key}":${JSON.stringify(value)}}`);
  });

describe('values are checked by their declarations', () => {
  test.each([
    ['rows of another width', withValue('repaint', 'samples', [[1]])],
    ['colours that are no colours', withValue('bloom', 'tint', [[1], [2], [3]])],
    ['what every object inherits', withValue('bloom', 'toString', 1)],
    ['what JSON can smuggle in', withValue('bloom', '__proto__', { amount: 1 })],
    ['a number where a colour stands', withValue('bloom', 'tint', 1)],
    ['a colour below 0', withValue('bloom', 'tint', [1, -1, 1])],
    ['a colour of four', withValue('bloom', 'tint', [1, 1, 1, 1])],
  ])('%s', (_, doc) => {
    expect(() => parseFinish(doc)).toThrow(FinishError);
  });

  test('a step is not called as something that every object inherits', () => {
    const doc = changed(lit, (d) => {
      d.strands[0].steps[0].type = 'toString';
    });
    expect(() => parseFinish(doc)).toThrow('There is no step “toString”');
  });

  /** Anything that JSON can say, mostly near what a value takes. */
  const anything = fc.oneof(
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.boolean(),
    fc.string({ maxLength: 12 }),
    fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { maxLength: 5 }),
    fc.array(fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { maxLength: 6 }), { maxLength: 4 }),
  );
  const specs = steps.flatMap((s) =>
    Object.entries(s.values).map(([key, spec]) => ({ type: s.id, key, spec })),
  );

  test('an edit takes exactly what the server takes', () => {
    const at = (type: string) => addStep('main', 0, type, 'it').apply(bare);
    fc.assert(
      fc.property(fc.constantFrom(...specs), anything, ({ type, key }, value) => {
        const doc = at(type);
        const attempt = (work: () => unknown) => {
          try {
            work();
            return 'fine';
          } catch (error) {
            if (!(error instanceof FinishError)) throw error;
            return error.problem;
          }
        };
        const here = attempt(() => setValue(doc, 'it', key, value as never).apply(doc));
        const there = attempt(() =>
          parseFinish(
            changed(doc, (d) => {
              d.strands[0].steps[0].values[key] = value;
            }),
          ),
        );
        expect(here).toBe(there);
      }),
      { numRuns: 600 },
    );
  });

  test('defaults are values that are taken', () => {
    for (const { spec } of specs)
      expect(v.safeParse(valueSchema(spec as ValueSpec), spec.default).success).toBe(true);
  });
});

describe('an edit is refused with its reason', () => {
  test('a note that is too long, and the document stays', () => {
    const long = 'Less of it next time. '.repeat(100);
    expect(() => applyEdit(lit, setNote(lit, 'bloom', long))).toThrow(
      `A note has at most 2000 letters, this one has ${long.length}`,
    );
  });

  test('its patches lead there and back', () => {
    const done = applyEdit(lit, setValue(lit, 'bloom', 'amount', 2));
    expect(done.patches).toEqual([
      { op: 'replace', path: ['strands', 0, 'steps', 0, 'values', 'amount'], value: 2 },
    ]);
    expect(done.inverse[0].value).toBe(0.5);
  });

  test('one that was prepared on an older document does its work on today’s', () => {
    const prepared = setValue(lit, 'bloom', 'radius', 40);
    const meanwhile = addStep('main', 0, 'backing', 'backing').apply(lit);
    const after = prepared.apply(meanwhile);
    expect(after.strands[0].steps.map((s) => s.id)).toEqual(['backing', 'bloom']);
    expect(after.strands[0].steps[1].values.radius).toBe(40);
  });

  test('a pass is not taken from a strand of another kind', () => {
    const depth = { type: 'pass', media: 'hall', pass: 'depth' } as const;
    const one = linkPass(lit, 'bloom', 'light', depth, 'depth', undefined, 'picture').apply(lit);
    const both = linkPass(one, 'bloom', 'mist', depth, 'depth', undefined, 'data').apply(one);
    expect(both.strands.map((s) => s.kind)).toEqual(['picture', 'picture', 'data']);
  });
});

describe('documents of every version open', () => {
  const versions = readdirSync(stored).filter((f) => f.startsWith('version-'));

  test('there are stored documents of each', () => {
    expect(versions.map((f) => Number(f.slice(8))).sort()).toEqual(
      Array.from({ length: finishFormat }, (_, i) => i + 1),
    );
  });

  test.each(versions.flatMap((f) => readdirSync(new URL(`${f}/`, stored)).map((name) => [`${f}/${name}`])))(
    '%s',
    (name) => {
      const json = JSON.parse(readFileSync(new URL(name, stored), 'utf8'));
      const { finish, repairs } = openFinish(json);
      expect(repairs).toEqual([]);
      expect(finish.version).toBe(finishFormat);
      expect(parseFinish(JSON.parse(JSON.stringify(finish)))).toEqual(finish);
      // What was in it is in it still.
      if (json.version === finishFormat) expect(finish).toEqual(json);
    },
  );

  test('upgrades follow one another, each on its own version; a newer document is refused', () => {
    const first = { ...bare, version: 1 };
    const chain = [
      { from: 1, upgrade: (d: Record<string, unknown>) => ({ ...d, name: `${d.name}, second` }) },
      { from: 2, upgrade: (d: Record<string, unknown>) => ({ ...d, name: `${d.name}, third` }) },
    ];
    expect(upgraded(first, chain, 3)).toMatchObject({ version: 3, name: 'Hall, second, third' });
    expect(upgraded({ ...first, version: 2 }, chain, 3)).toMatchObject({ version: 3, name: 'Hall, third' });
    expect(() => upgraded({ ...first, version: 4 }, chain, 3)).toThrow(
      /format version 4 \(version\)\. Open it with a newer Zafiro/,
    );
    for (const version of [0, 1.5, '1', undefined])
      expect(() => upgraded({ ...first, version }, chain, 3)).toThrow(/does not say its format version/);
    expect(first.version).toBe(1);
  });

  test('of version 1 gets today’s names, and shapes move upwards', () => {
    const key = (frame: number, more: object) => ({ frame, value: frame, ...more });
    const old = {
      format: 'zafiro-finish',
      version: 1,
      id: 'old',
      name: 'Old',
      main: 'main',
      dismissed: ['rests/bloom/matte', 'empty-matte/bloom/where/1'],
      strands: [
        {
          id: 'main',
          name: 'Frame',
          kind: 'picture',
          head: { type: 'stack', layers: [{ media: 'moth', place: { moveX: 3, turn: 20 } }] },
          steps: [
            {
              id: 'bloom',
              type: 'bloom',
              slots: {
                where: { strand: 'drawn', after: 'end' },
                within: { strand: 'objects', after: 'depth-band' },
              },
              keys: {
                amount: [
                  key(1, { way: 'curve' }),
                  key(5, { way: 'hold' }),
                  key(9, { way: 'linear' }),
                  key(12, {}),
                ],
              },
            },
            { id: 'turn', type: 'transform', values: { turn: 15 }, keys: { turn: [key(1, {})] } },
            { id: 'rays', type: 'light-rays', values: { turn: 4 } },
            { id: 'back', type: 'backing', values: { sort: 'checker' } },
          ],
        },
        {
          id: 'drawn',
          name: 'Drawn',
          kind: 'matte',
          head: {
            type: 'shapes',
            shapes: [
              {
                id: 'shape-1',
                name: 'Shape',
                sort: 'subtract',
                paths: [
                  {
                    frame: 1,
                    points: [
                      { x: 0, y: 0 },
                      { x: 9, y: 0 },
                      { x: 9, y: 9 },
                    ],
                  },
                ],
                places: [
                  { frame: 1, x: 0, y: 0, turn: 0, scale: 1 },
                  { frame: 8, x: 5, y: 7, turn: 90, scale: 2 },
                ],
              },
            ],
          },
          steps: [{ id: 'steady', type: 'steady' }],
        },
        {
          id: 'objects',
          name: 'Objects',
          kind: 'matte',
          head: { type: 'ids', media: 'hall', pass: 'id', sort: 'number', objects: ['3'] },
          steps: [
            { id: 'depth-band', type: 'depth-band', bypass: true },
            { id: 'channel-band', type: 'channel-band', bypass: true },
            { id: 'facing', type: 'facing', values: { sort: 'exact' }, bypass: true },
          ],
        },
      ],
    };
    const finish = parseFinish(old);
    expect(finish.version).toBe(finishFormat);
    expect(finish.dismissed).toEqual(['inactive/bloom/matte', 'empty-matte/bloom/mask/1']);
    const [main, drawn, objects] = finish.strands;
    expect(main.head).toMatchObject({ layers: [{ transform: { moveX: 3, rotate: 20 } }] });
    const [bloom, turn, rays, back] = main.steps;
    expect(bloom.slots).toEqual({
      mask: { strand: 'drawn', after: 'end' },
      lightMask: { strand: 'objects', after: 'depth-band' },
    });
    expect(bloom.animation?.amount.keys?.map((k) => k.interpolation)).toEqual([
      'ease',
      'hold',
      'linear',
      undefined,
    ]);
    expect([turn.values.rotate, turn.animation?.rotate.keys?.length]).toEqual([15, 1]);
    expect([rays.values.beamRotation, back.values.type]).toEqual([4, 'checker']);
    expect(drawn.head).toMatchObject({
      shapes: [
        {
          operation: 'subtract',
          path: [
            { x: 0, y: 0 },
            { x: 9, y: 0 },
            { x: 9, y: 9 },
          ],
          transform: { moveX: 0, moveY: 0, rotate: 0, scale: 1 },
          animation: {
            moveY: {
              keys: [
                { frame: 1, value: 0, interpolation: 'linear' },
                { frame: 8, value: -7, interpolation: 'linear' },
              ],
            },
            scale: { keys: [{ value: 1 }, { value: 2 }] },
          },
        },
      ],
    });
    expect(drawn.steps[0].type).toBe('temporal-filter');
    expect(objects.head).toMatchObject({ idFormat: 'number' });
    expect(objects.steps.map((s) => s.type)).toEqual(['depth-range', 'channel-range', 'facing']);
    expect(objects.steps[2].values.measure).toBe('exact');
  });

  test('bounds that have become tighter clamp what was saved, and say so', () => {
    const old = changed(lit, (d) => {
      Object.assign(d.strands[0].steps[0].values, {
        amount: 1e7,
        tint: [2, -1, 0],
        mode: 'glow',
        sparkle: 3,
      });
    });
    expect(() => parseFinish(old)).toThrow(FinishError);
    const { finish, repairs } = openFinish(old);
    expect(finish.strands[0].steps[0].values).toMatchObject({ amount: 1000, tint: [2, 0, 0], mode: 'add' });
    expect(repairs).toEqual([
      'Bloom has no value “sparkle” any more; it was removed.',
      'Tint of Bloom was 2 -1 0, now 2 0 0.',
      'Blend mode of Bloom was glow, now add.',
      'Amount of Bloom was 10000000, now 1000.',
    ]);
  });

  test('whatever numbers stand in an old document, it opens', () => {
    const numbers = steps.flatMap((s) =>
      Object.entries(s.values).flatMap(([key, spec]) =>
        spec.type === 'number' ? [{ type: s.id, key }] : [],
      ),
    );
    fc.assert(
      fc.property(
        fc.constantFrom(...numbers),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        ({ type, key }, value) => {
          const { finish } = openFinish(withValue(type, key, value));
          expect(parseFinish(JSON.parse(JSON.stringify(finish)))).toEqual(finish);
        },
      ),
      { numRuns: 300 },
    );
  });
});

test('an edit that leaves nothing to save is no edit', () => {
  const done = applyEdit(
    lit,
    edit('look', () => {}),
  );
  expect(done.finish).toBe(lit);
});

describe('the published JSON Schema', () => {
  test('is the one that the declarations give', () => {
    const published = JSON.parse(
      readFileSync(new URL('../../docs/finish.schema.json', import.meta.url), 'utf8'),
    );
    // After a change of a declaration: node_modules/.bin/tsx tools/finish-schema.ts
    expect(publishedSchema(toJsonSchema)).toEqual(published);
  });
});
