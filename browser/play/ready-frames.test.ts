import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { ReadyFrames } from './ready-frames';

const picture = (bytes = 10) => {
  const made = { bytes, closed: 0, close: () => made.closed++ };
  return made;
};
type Made = ReturnType<typeof picture>;
const keysOf = (frames: readonly number[], name = (f: number) => `k${f}`) =>
  frames.map((f) => [f, name(f)] as const);

describe('frames that are ready', () => {
  test('stay ready where an edit leaves them as they are', () => {
    const ready = new ReadyFrames<Made>(100);
    ready.setKeys(keysOf([1, 2, 3]));
    for (const f of [1, 2, 3]) ready.put(`k${f}`, picture(), [1, 2, 3]);
    ready.setKeys(keysOf([1, 2, 3], (f) => (f === 2 ? 'edited' : `k${f}`)));
    expect([1, 2, 3].map((f) => ready.pictureOf(f) !== undefined)).toEqual([true, false, true]);
    expect(ready.lacking([1, 2, 3], 10)).toBe(2);
    // What was taken back is there again.
    ready.setKeys(keysOf([1, 2, 3]));
    expect(ready.pictureOf(2)).toBeDefined();
  });

  test('never hold more than their bound, and let go of each picture once', () => {
    const sizes = fc.array(fc.tuple(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 40 })), {
      maxLength: 80,
    });
    fc.assert(
      fc.property(sizes, fc.integer({ min: 1, max: 200 }), (puts, limit) => {
        const ready = new ReadyFrames<Made>(limit);
        const order = Array.from({ length: 20 }, (_, i) => i + 1);
        ready.setKeys(keysOf(order));
        const all = puts.map(([frame, bytes]) => {
          const made = picture(bytes);
          ready.put(`k${frame}`, made, order);
          expect(ready.bytes).toBeLessThanOrEqual(limit);
          return made;
        });
        const held = all.filter((p) => p.closed === 0);
        expect(held.reduce((sum, p) => sum + p.bytes, 0)).toBe(ready.bytes);
        expect(all.every((p) => p.closed <= 1)).toBe(true);
        ready.clear();
        expect(all.every((p) => p.closed === 1)).toBe(true);
      }),
    );
  });

  test('what is needed last makes room, and is not made again at once', () => {
    const ready = new ReadyFrames<Made>(30);
    const order = [3, 4, 5, 1, 2];
    ready.setKeys(keysOf(order));
    for (const f of [1, 2, 3]) ready.put(`k${f}`, picture(), order);
    expect(ready.lacking(order, 10)).toBe(4);
    ready.put('k4', picture(), order);
    ready.put('k5', picture(), order);
    expect([1, 2, 3, 4, 5].filter((f) => ready.pictureOf(f))).toEqual([3, 4, 5]);
    expect(ready.lacking(order, 10)).toBeUndefined();
    // What is no longer looked at goes before all that is.
    ready.setKeys(keysOf(order, (f) => (f === 3 ? 'other' : `k${f}`)));
    ready.put('other', picture(), order);
    expect([1, 2, 3, 4, 5].filter((f) => ready.pictureOf(f))).toEqual([3, 4, 5]);
  });

  test('a frame that is not there is passed over', () => {
    const ready = new ReadyFrames<Made>(30);
    ready.setKeys(keysOf([2]));
    expect(ready.lacking([1, 2, 3], 10)).toBe(2);
    ready.put('k2', picture(), [1, 2, 3]);
    expect(ready.lacking([1, 2, 3], 10)).toBeUndefined();
  });
});
