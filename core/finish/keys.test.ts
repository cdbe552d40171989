import BezierEasing from 'bezier-easing';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { planOf } from '../evaluate/plan';
import { duplicateStep, unlinkCopy } from './copies';
import type { Edit } from './edit';
import { addStep, newFinish, removeStep, setValue } from './edits';
import type { Finish } from './finish';
import { moveKey, setInterpolation, toggleKey } from './key-edits';
import { easedAt, type Key, nextKey, valueOn, valuesOn } from './keys';
import { parseFinish } from './validation';

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
    const at = (frame: number) => valueOn(keys, frame);
    expect([1, 3, 6, 7, 9, 11, 15, 40].map(at)).toEqual([2, 2, 2, 6, 5, 4, 8, 8]);
    // Half-way between level handles is half-way between the values; it starts slowly.
    expect(at(13)).toBeCloseTo(6, 9);
    expect(at(12) - 4).toBeLessThan(1);
    expect(valueOn([keys[0]], -100)).toBe(2);
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
    expect(more.strands[0].steps[0].keys?.amount.map((k) => k.interpolation)).toEqual([
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
    expect(bare.strands[0].steps[0].keys).toBeUndefined();
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
      doc.strands[0].steps[0].keys = keys;
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
    expect(keyed({ invert: [{ frame: 2, value: 1 }] })).toThrow('no number “invert”');
    expect(keyed({ amount: [] })).toThrow('keys are missing');
    expect(keyed({ amount: [{ frame: 1.5, value: 1 }] })).toThrow('keys.amount.0.frame');
  });
});
