import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Course, frameAfter, loops, nearest, startOf, upcoming } from './clock';

const course = fc
  .record({
    first: fc.integer({ min: -50, max: 50 }),
    count: fc.integer({ min: 1, max: 40 }),
    from: fc.integer({ min: -100, max: 100 }),
    direction: fc.constantFrom(1 as const, -1 as const),
    loop: fc.constantFrom(...(Object.keys(loops) as (keyof typeof loops)[])),
  })
  .map(({ first, count, ...rest }): Course => ({ first, last: first + count - 1, ...rest }));

describe('the clock', () => {
  test('shows only frames of the span, one after the other', () => {
    fc.assert(
      fc.property(course, fc.integer({ min: 0, max: 200 }), (c, steps) => {
        const [one, two] = [frameAfter(c, steps), frameAfter(c, steps + 1)];
        expect(one.frame).toBeGreaterThanOrEqual(c.first);
        expect(one.frame).toBeLessThanOrEqual(c.last);
        const by = two.frame - one.frame;
        const wraps = c.loop === 'loop' && Math.abs(by) === c.last - c.first;
        expect(Math.abs(by) <= 1 || wraps).toBe(true);
        if (c.loop === 'once') expect(two.over).toBe(steps + 1 > Math.abs(last(c) - startOf(c)));
      }),
    );
  });
  const last = (c: Course) => (c.direction === 1 ? c.last : c.first);

  test.each([
    ['loop', 1, 3, [3, 4, 5, 1, 2, 3, 4]],
    ['loop', -1, 2, [2, 1, 5, 4, 3, 2, 1]],
    ['swing', 1, 3, [3, 4, 5, 4, 3, 2, 1, 2, 3]],
    ['swing', -1, 2, [2, 1, 2, 3, 4, 5, 4]],
    ['once', 1, 3, [3, 4, 5, 5]],
    ['once', -1, 2, [2, 1, 1]],
    // Where it would end at once it starts anew.
    ['once', 1, 5, [1, 2, 3, 4, 5]],
    // From outside of the span.
    ['loop', 1, 9, [1, 2, 3]],
    ['loop', -1, 9, [5, 4, 3]],
  ] as const)('%s, direction %i, from %i', (loop, direction, from, frames) => {
    const c: Course = { first: 1, last: 5, from, direction, loop };
    expect(frames.map((_, n) => frameAfter(c, n).frame)).toEqual(frames);
  });

  test('what comes next is every frame that play will show, each once, in that order', () => {
    fc.assert(
      fc.property(course, fc.integer({ min: 0, max: 90 }), (c, ahead) => {
        const order = upcoming(c, ahead);
        expect(new Set(order).size).toBe(order.length);
        expect(order[0]).toBe(frameAfter(c, ahead).frame);
        if (c.loop !== 'once')
          expect([...order].sort((a, b) => a - b)).toEqual(
            Array.from({ length: c.last - c.first + 1 }, (_, i) => c.first + i),
          );
      }),
    );
  });
});

test('the nearest frames come first, those of the span before all others', () => {
  expect(nearest({ first: 1, last: 7 }, { first: 3, last: 5 }, 4)).toEqual([4, 5, 3, 6, 2, 7, 1]);
  expect(nearest({ first: 1, last: 4 }, { first: 1, last: 4 }, 4)).toEqual([4, 3, 2, 1]);
  expect(nearest({ first: 1, last: 100_000 }, { first: 1, last: 100_000 }, 500, 4)).toEqual([
    500, 501, 499, 502, 498,
  ]);
});
