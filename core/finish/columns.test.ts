import fc from 'fast-check';
import { expect, test } from 'vitest';
import { columnsOf } from './columns';
import { addStrand, newFinish } from './edits';
import type { Finish, Head } from './finish';
import { headTaps } from './graph';

/** A board of bare strands: each may begin at those that were made before it. */
function board(taps: readonly (readonly number[])[]): Finish {
  let doc = newFinish('board', 'Board', { type: 'pass', media: 'm', pass: '' });
  taps.forEach((from, i) => {
    const head: Head =
      from.length > 0
        ? { type: 'tap', strand: doc.strands[from[0] % doc.strands.length].id, after: 'end' }
        : { type: 'pass', media: 'm', pass: `p${i}` };
    doc = addStrand(doc, head, 'picture', `strand ${i}`).apply(doc);
  });
  return doc;
}
const linksOf = (doc: Finish) => doc.strands.flatMap((s) => headTaps(s.head).map((t) => [t.strand, s.id]));
function lengthOf(doc: Finish, order: readonly string[]) {
  return linksOf(doc).reduce((sum, [a, b]) => sum + Math.abs(order.indexOf(a) - order.indexOf(b)), 0);
}
const permutations = (ids: readonly string[]): string[][] =>
  ids.length === 0
    ? [[]]
    : ids.flatMap((id) => permutations(ids.filter((o) => o !== id)).map((p) => [id, ...p]));

test('every strand stands once, the main strand first, and links are never longer than in the order of the document', () => {
  const taps = fc.array(fc.array(fc.nat(30), { maxLength: 1 }), { maxLength: 14 });
  fc.assert(
    fc.property(taps, (given) => {
      const doc = board(given);
      const order = columnsOf(doc).map((s) => s.id);
      expect(order[0]).toBe(doc.main);
      expect([...order].sort()).toEqual(doc.strands.map((s) => s.id).sort());
      expect(lengthOf(doc, order)).toBeLessThanOrEqual(
        lengthOf(
          doc,
          doc.strands.map((s) => s.id),
        ),
      );
      // The same links, the same order.
      expect(columnsOf(structuredClone(doc)).map((s) => s.id)).toEqual(order);
    }),
    { numRuns: 120 },
  );
});

test('on small boards it is the shortest order there is', () => {
  fc.assert(
    fc.property(fc.array(fc.array(fc.nat(30), { maxLength: 1 }), { maxLength: 5 }), (given) => {
      const doc = board(given);
      const others = doc.strands.map((s) => s.id).filter((id) => id !== doc.main);
      const best = Math.min(...permutations(others).map((p) => lengthOf(doc, [doc.main, ...p])));
      const made = lengthOf(
        doc,
        columnsOf(doc).map((s) => s.id),
      );
      expect(made).toBe(best);
    }),
    // The example is one that single moves leave three columns too long.
    { numRuns: 60, examples: [[[[], [7], [4], [0], [9]]]] },
  );
});

test('forty strands are put in order in a moment', () => {
  const doc = board(Array.from({ length: 39 }, (_, i) => (i % 3 ? [i * 7] : [])));
  const begun = performance.now();
  columnsOf(doc);
  // No measure of speed: it must not grow into something that one waits for.
  expect(performance.now() - begun).toBeLessThan(3000);
});
