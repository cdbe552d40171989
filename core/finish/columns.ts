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

/** Sum over all links of the columns that they run across. */
function lengthOf(order: readonly string[], links: readonly (readonly [string, string])[]): number {
  const at = new Map(order.map((id, i) => [id, i]));
  return links.reduce((sum, [a, b]) => sum + Math.abs(at.get(a)! - at.get(b)!), 0);
}

const known = new WeakMap<Finish, Strand[]>();

/**
 * The strands of a board from left to right: the main strand first, the others so that their links together run across few columns. Each strand in
 * turn goes where that sum is smallest, until none moves (insertion as a local search for the minimum linear arrangement of a graph; finding the
 * best order is NP-hard: Garey, Johnson, Stockmeyer 1976). The same links give the same order.
 */
export function columnsOf(doc: Finish): Strand[] {
  const kept = known.get(doc);
  if (kept) return kept;
  const ids = new Set(doc.strands.map((s) => s.id));
  const links = doc.strands.flatMap((s) =>
    sourcesOf(s)
      .filter((id) => id !== s.id && ids.has(id))
      .map((id) => [id, s.id] as const),
  );
  let order = asTheyAreMet(doc);
  let length = lengthOf(order, links);
  for (let moved = true, rounds = 0; moved && rounds < 8; rounds++) {
    moved = false;
    for (const id of order.slice(1)) {
      const others = order.filter((o) => o !== id);
      for (let to = 1; to <= others.length; to++) {
        const tried = [...others.slice(0, to), id, ...others.slice(to)];
        const shorter = lengthOf(tried, links);
        if (shorter >= length) continue;
        [order, length, moved] = [tried, shorter, true];
      }
    }
  }
  const byId = new Map(doc.strands.map((s) => [s.id, s]));
  const made = order.map((id) => byId.get(id)!);
  known.set(doc, made);
  return made;
}
