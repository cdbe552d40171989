import { FinishError } from './finish-error';
import type { Head } from './heads';
import type { Finish, Strand, Tap } from './schema';

/** Strands as a graph: which point takes from which. */

/** A strand, and the number of its steps before the point. */
type Point = { strand: Strand; index: number };

/**
 * Goes through every point of a finish, each after all that it takes from: a strand's head (index 0), and each of its steps (from 1). One
 * strand may take from another's beginning and give to its end.
 * @throws {FinishError} where a point would feed itself, or a link leads nowhere.
 */
export function eachPoint(
  doc: Finish,
  visit: (strand: Strand, index: number, from: readonly Point[]) => void,
) {
  const state = new Map<string, 'open' | 'done'>();
  const strands = new Map(doc.strands.map((s) => [s.id, s]));
  const indexes = new Map(
    doc.strands.map((s) => [s.id, new Map(s.steps.map((t, i): [string, number] => [t.id, i + 1]))]),
  );
  const pointOf = ({ strand: id, after }: Pick<Tap, 'strand' | 'after'>, from: string) => {
    const strand = strands.get(id);
    if (!strand)
      throw new FinishError(`There is no strand “${id}”`, from, 'Link the slot to a strand of this finish.');
    if (after === 'head') return { strand, index: 0 };
    if (after === 'end') return { strand, index: strand.steps.length };
    const index = indexes.get(id)!.get(after);
    if (index === undefined)
      throw new FinishError(`Strand “${strand.name}” has no step “${after}”`, from, 'Link it again.');
    return { strand, index };
  };
  type Open = { strand: Strand; index: number; key: string; at: string; from: Point[]; next: number };
  /** Begins with a point, unless all of it was visited before. @throws {FinishError} where it is open already. */
  const begun = ({ strand, index }: Point, from: string): Open | undefined => {
    const key = `${strand.id}/${index}`;
    if (state.get(key) === 'done') return;
    if (state.get(key) === 'open')
      throw new FinishError(
        `Strand “${strand.name}” would feed itself`,
        from,
        'Link the slot to another strand.',
      );
    state.set(key, 'open');
    const step = strand.steps[index - 1];
    const at = step ? `strand ${strand.id}, step ${step.id}` : `strand ${strand.id}, head`;
    const taps = step ? Object.values(step.slots) : headTaps(strand.head);
    return { strand, index, key, at, from: taps.map((t) => pointOf(t, at)), next: step ? -1 : 0 };
  };
  // With a stack of its own: documents may be deeper than the program's.
  const walk = (first: Point, from: string) => {
    const open: Open[] = [];
    const begin = (point: Point, by: string) => {
      const one = begun(point, by);
      if (one) open.push(one);
    };
    begin(first, from);
    for (let top = open.at(-1); top; top = open.at(-1)) {
      const next = top.next++;
      if (next < 0) begin({ strand: top.strand, index: top.index - 1 }, top.at);
      else if (next < top.from.length) begin(top.from[next], top.at);
      else {
        state.set(top.key, 'done');
        visit(top.strand, top.index, top.from);
        open.pop();
      }
    }
  };
  const main = strands.get(doc.main);
  if (!main)
    throw new FinishError(`There is no strand “${doc.main}”`, 'main strand', 'Name a strand of this finish.');
  for (const strand of [main, ...doc.strands])
    for (let i = 0; i <= strand.steps.length; i++) walk({ strand, index: i }, `strand ${strand.id}`);
}

/** A point by its strand and the number of steps before it. */
export const pointKey = (strand: string, index: number) => `${strand}/${index}`;

/**
 * Points that the result at a point reaches, itself among them, by their keys. A link from one of them to what the point takes would make a circle.
 * @throws {FinishError} where the document has one already.
 */
export function pointsAfter(doc: Finish, start: string): ReadonlySet<string> {
  const after = new Set<string>();
  eachPoint(doc, (strand, index, from) => {
    const key = pointKey(strand.id, index);
    const isAfter =
      key === start ||
      (index > 0 && after.has(pointKey(strand.id, index - 1))) ||
      from.some((p) => after.has(pointKey(p.strand.id, p.index)));
    if (isAfter) after.add(key);
  });
  return after;
}

/** Taps of a head to other strands. */
export const headTaps = (head: Head): Pick<Tap, 'strand' | 'after'>[] =>
  head.type === 'tap'
    ? [head]
    : head.type === 'stack'
      ? head.layers.flatMap((l) => l.from ?? [])
      : head.type === 'input'
        ? head.from
          ? [head.from]
          : []
        : head.type === 'mix'
          ? head.passes.flatMap((p) => p.within ?? [])
          : [];
