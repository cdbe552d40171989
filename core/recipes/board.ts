import type { Finish, Head, Step, Strand, Tap } from '../finish/finish';
import { pointAbove } from '../finish/finish';
import { eachPoint } from '../finish/graph';
import { isUse, linksOf, spanOf, usesAround } from '../finish/uses';

/** A finish as the board draws it: a recipe is one step, until it is unfolded. */

/** True where a use, and all that it is inside of, is unfolded. */
const isOpen = (doc: Finish, use: string, unfolded: ReadonlySet<string>): boolean =>
  unfolded.has(use) && usesAround(doc, use).every((u) => unfolded.has(u));

/** What the folded recipes of a finish hide: by each step and strand the use that stands for it. */
function hiddenIn(doc: Finish, unfolded: ReadonlySet<string>): Map<string, { use: string; strand: Strand }> {
  const hidden = new Map<string, { use: string; strand: Strand }>();
  const hosts = new Map(
    doc.strands.flatMap((s) => s.steps.filter(isUse).map((u): [string, Strand] => [u.id, s])),
  );
  const standIn = (id: string): string | undefined =>
    usesAround(doc, id).findLast((u) => !isOpen(doc, u, unfolded));
  for (const strand of doc.strands) {
    const at = strand.inside === undefined ? undefined : standIn(strand.id);
    if (at) hidden.set(strand.id, { use: at, strand: hosts.get(at)! });
    for (const step of strand.steps) {
      const use = standIn(step.id);
      if (use) hidden.set(step.id, { use, strand: hosts.get(use)! });
    }
  }
  return hidden;
}

const drawn = new WeakMap<Finish, Map<string, Finish>>();

/**
 * The finish without what its folded recipes hide. Their uses have their slots as links; who takes from something hidden takes from the use. Strands inside
 * stand beside the strand of their use. The same object for the same recipes unfolded.
 */
export function boardOf(doc: Finish, unfolded: readonly string[]): Finish {
  if (!doc.strands.some((s) => s.steps.some(isUse))) return doc;
  const known = drawn.get(doc) ?? new Map<string, Finish>();
  drawn.set(doc, known);
  const key = unfolded.join(' ');
  const before = known.get(key);
  if (before) return before;
  let made = withoutHidden(doc, new Set(unfolded), (_, use) => use);
  try {
    eachPoint(made, () => {});
  } catch {
    // Something is taken from the middle of a recipe that goes back into it: it seems to come from above.
    made = withoutHidden(doc, new Set(unfolded), ({ steps }, use) =>
      pointAbove(
        { steps },
        spanOf(
          { steps },
          steps.findIndex((s) => s.id === use),
        )[0],
      ),
    );
  }
  known.set(key, made);
  return made;
}

function withoutHidden(
  doc: Finish,
  unfolded: ReadonlySet<string>,
  standsFor: (strand: Strand, use: string) => string,
): Finish {
  const hidden = hiddenIn(doc, unfolded);
  const point = <T extends Pick<Tap, 'strand' | 'after'>>(tap: T): T => {
    const at = hidden.get(tap.strand) ?? hidden.get(tap.after);
    return at ? { ...tap, strand: at.strand.id, after: standsFor(at.strand, at.use) } : tap;
  };
  const step = (given: Step): Step => ({
    ...given,
    slots: Object.fromEntries(
      Object.entries(isOpen(doc, given.id, unfolded) ? given.slots : linksOf(doc, given)).map(([k, tap]) => [
        k,
        point(tap),
      ]),
    ),
  });
  const head = (given: Head): Head => {
    if (given.type === 'tap') return point(given);
    if (given.type === 'input') return given.from ? { ...given, from: point(given.from) } : given;
    if (given.type === 'stack')
      return { ...given, layers: given.layers.map((l) => (l.from ? { ...l, from: point(l.from) } : l)) };
    if (given.type !== 'mix') return given;
    return { ...given, passes: given.passes.map((p) => (p.within ? { ...p, within: point(p.within) } : p)) };
  };
  const strands = doc.strands
    .filter((s) => !hidden.has(s.id))
    .map((s) => ({ ...s, head: head(s.head), steps: s.steps.filter((t) => !hidden.has(t.id)).map(step) }));
  return { ...doc, strands: besideTheirUses(strands) };
}

/** Strands inside right of the strand of their use. */
function besideTheirUses(strands: Strand[]): Strand[] {
  const out: Strand[] = [];
  const put = (strand: Strand) => {
    out.push(strand);
    const uses = new Set(strand.steps.filter(isUse).map((u) => u.id));
    for (const inner of strands) if (inner.inside !== undefined && uses.has(inner.inside)) put(inner);
  };
  for (const strand of strands) if (strand.inside === undefined) put(strand);
  return out;
}
