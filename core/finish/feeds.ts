import { type Finish, findStep, pointIndex, stepName } from './finish';
import { headTaps } from './graph';
import type { Strand, Tap } from './schema';

/** What a point of a finish takes from, and what takes from it. */

/**
 * Ids of all strands and steps whose result reaches a strand's head or a step, itself among them. A step that is bypassed passes on what comes to it,
 * and its slots feed nothing.
 */
export function feedsOf(doc: Finish, id: string): Set<string> {
  const byId = new Map(doc.strands.map((s) => [s.id, s]));
  const reached = new Map<string, number>();
  const found = findStep(doc, id);
  const open: [string, number][] = [found ? [found.strand.id, found.index + 1] : [id, 0]];
  for (let next = open.pop(); next; next = open.pop()) {
    const [strand, to] = [byId.get(next[0]), next[1]];
    if (!strand) continue;
    const from = reached.get(strand.id);
    if (from !== undefined && from >= to) continue;
    reached.set(strand.id, to);
    const taps = [
      ...(from === undefined ? headTaps(strand.head) : []),
      ...strand.steps.slice(from ?? 0, to).flatMap((step) => (step.bypass ? [] : Object.values(step.slots))),
    ];
    for (const tap of taps) {
      const tapped = byId.get(tap.strand);
      if (tapped) open.push([tapped.id, pointIndex(tapped, tap.after)]);
    }
  }
  const ids = new Set<string>();
  for (const [strand, to] of reached) {
    ids.add(strand);
    for (const step of byId.get(strand)!.steps.slice(0, to)) ids.add(step.id);
  }
  return ids;
}

/** A link of a point: the id at its other end, and words for it. */
export type Link = { id: string; label: string; direction: 'from' | 'to' };

/** The head or step after which a tap takes: its id and its name. */
export function itemOf(
  doc: Finish,
  { strand, after }: Pick<Tap, 'strand' | 'after'>,
): { id: string; name: string } {
  const tapped = doc.strands.find((s) => s.id === strand)!;
  const index = pointIndex(tapped, after);
  const step = tapped.steps[index - 1];
  return step
    ? { id: step.id, name: `${stepName(step)} of ${tapped.name}` }
    : { id: tapped.id, name: tapped.name };
}

/** The links that end or begin at a strand's head or a step: first where it takes from, then what takes from it. */
export function linksAt(doc: Finish, id: string): Link[] {
  const found = findStep(doc, id);
  const strand = doc.strands.find((s) => s.id === id);
  const own = found
    ? Object.entries(found.step.slots)
    : strand
      ? headTaps(strand.head).map((tap) => ['head', tap] as const)
      : [];
  const from = own.map(([slot, tap]): Link => {
    const item = itemOf(doc, tap);
    return { id: item.id, label: `${slot}: ${item.name}`, direction: 'from' };
  });
  const to = doc.strands.flatMap((s: Strand): Link[] => [
    ...headTaps(s.head)
      .filter((tap) => itemOf(doc, tap).id === id)
      .map((): Link => ({ id: s.id, label: `head of ${s.name}`, direction: 'to' })),
    ...s.steps.flatMap((step) =>
      Object.entries(step.slots)
        .filter(([, tap]) => itemOf(doc, tap).id === id)
        .map(
          ([slot]): Link => ({
            id: step.id,
            label: `${slot} of ${stepName(step)}, ${s.name}`,
            direction: 'to',
          }),
        ),
    ),
  ]);
  return [...from, ...to];
}
