import type { Finish, Strand } from './finish';
import { headTaps } from './graph';

/** The board's columns: strands in an order that keeps their links short. */

/** Strands that each strand takes from, once for every link. */
const sourcesOf = ({ head, steps }: Strand): string[] =>
  [...headTaps(head), ...steps.flatMap((step) => Object.values(step.slots))].map((tap) => tap.strand);

/** The main strand, then each that is met on the way up from it, beside the one that takes from it; those that feed nothing last. */
function asTheyAreMet(doc: Finish): string[] {
  const byId = new Map(doc.strands.map((s) => [s.id, s]));
  const met = new Set<string>();
  const open = [doc.main];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const strand = byId.get(id);
    if (!strand || met.has(id)) continue;
    met.add(id);
    open.push(...sourcesOf(strand).reverse());
  }
  return [...met, ...doc.strands.map((s) => s.id).filter((id) => !met.has(id))];
}

/** Strands by their place in the document, from left to right. */
type Order = readonly number[];
type Links = readonly (readonly [number, number])[];

/** Sum over all links of the columns that they run across. */
function lengthOf(order: Order, links: Links): number {
  const at: number[] = [];
  for (let i = 0; i < order.length; i++) at[order[i]] = i;
  return links.reduce((sum, [a, b]) => sum + Math.abs(at[a] - at[b]), 0);
}

/** Strands that stand side by side and are moved together: one that moves alone would often be held by its neighbours. */
const longestRun = 3;

/** All orders in which a run of strands, as it is or turned round, stands somewhere else; the first strand stays. */
function* movesOf(order: Order): Generator<Order> {
  for (let long = 1; long <= longestRun; long++) {
    for (let from = 1; from + long <= order.length; from++) {
      const run = order.slice(from, from + long);
      const others = [...order.slice(0, from), ...order.slice(from + long)];
      for (let to = 1; to <= others.length; to++) {
        if (to !== from) yield [...others.slice(0, to), ...run, ...others.slice(to)];
        if (long > 1) yield [...others.slice(0, to), ...run.toReversed(), ...others.slice(to)];
      }
    }
  }
}

function shorten(start: Order, links: Links): Order {
  let order = start;
  let length = lengthOf(order, links);
  for (let moved = true, rounds = 0; moved && rounds < 8; rounds++) {
    moved = false;
    for (const tried of movesOf(order)) {
      const shorter = lengthOf(tried, links);
      if (shorter >= length) continue;
      [order, length, moved] = [tried, shorter, true];
    }
  }
  return order;
}

const known = new WeakMap<Finish, Strand[]>();
/** The last board: an edit of a value leaves its links as they are. */
let last: { board: string; order: Order } | undefined;

/**
 * The strands of a board from left to right: the main strand first, the others so that their links together run across few columns. Runs of up to
 * three strands are moved where that sum is smaller, until none is (a local search for the minimum linear arrangement of a graph; finding the best
 * order is NP-hard: Garey, Johnson, Stockmeyer 1976). The same links give the same order.
 */
export function columnsOf(doc: Finish): Strand[] {
  const kept = known.get(doc);
  if (kept) return kept;
  const at = new Map(doc.strands.map((s, i) => [s.id, i]));
  const links = doc.strands.flatMap((s, i) =>
    sourcesOf(s)
      .map((id) => at.get(id) ?? i)
      .filter((from) => from !== i)
      .map((from) => [from, i] as const),
  );
  const start = asTheyAreMet(doc).map((id) => at.get(id)!);
  const board = JSON.stringify([start, links]);
  if (last?.board !== board) last = { board, order: shorten(start, links) };
  const made = last.order.map((i) => doc.strands[i]);
  known.set(doc, made);
  return made;
}
