import { freeId, freeName, plainOf, tapsOf } from '../finish/edit';
import type { Finish, Head, Step, Strand, Tap } from '../finish/finish';
import { pointAbove } from '../finish/finish';
import { kindAt } from '../finish/flow';
import { headTaps } from '../finish/graph';
import type { InputHead } from '../finish/heads';
import { contentsOf, inputIdOf } from '../finish/uses';

/** Kind of a pass of a media, where the caller knows its files. */
export type PassKindOf = (media: string, pass: string) => InputHead['pass'] | undefined;

/** Heads that belong to one shot: its files, its objects, what was drawn on its frames. They stay outside, and a slot takes from them. */
const isOfShot = ({ type }: Head): boolean =>
  type === 'pass' || type === 'stack' || type === 'mix' || type === 'ids' || type === 'shapes';

const takersOf = (doc: Finish, strandId: string): { strand: Strand; step?: Step }[] =>
  doc.strands.flatMap((strand) => [
    ...(headTaps(strand.head).some((t) => t.strand === strandId) ? [{ strand }] : []),
    ...strand.steps.flatMap((step) =>
      Object.values(step.slots).some((t) => t.strand === strandId) ? [{ strand, step }] : [],
    ),
  ]);

/**
 * Makes a use of a draft stand by itself: strands and guides that only its steps need go inside, and every other link from elsewhere becomes a slot. No
 * picture changes by it.
 */
export function closeUse(draft: Finish, useId: string, passKind: PassKindOf = () => undefined): void {
  takeIn(draft, useId, passKind);
  slotLinks(draft, useId, passKind);
  takeGuides(draft, useId);
}

/** Strands that only what is inside takes from go inside. What of them belongs to the shot stays outside. */
function takeIn(draft: Finish, useId: string, passKind: PassKindOf): void {
  for (let found = true; found; ) {
    found = false;
    const { strand: host, steps, strands } = contentsOf(draft, useId);
    const isIn = ({ strand, step }: { strand: Strand; step?: Step }) =>
      strands.includes(strand) || (step !== undefined && steps.includes(step));
    for (const strand of draft.strands) {
      if (
        strand === host ||
        strands.includes(strand) ||
        strand.id === draft.main ||
        strand.output !== undefined
      )
        continue;
      // One that belongs to another recipe stays there, as does what is no more than a part of the shot.
      if (strand.inside !== host.inside || (isOfShot(strand.head) && strand.steps.length === 0)) continue;
      const takers = takersOf(draft, strand.id);
      if (takers.length === 0 || !takers.every(isIn)) continue;
      if (isOfShot(strand.head)) standOutside(draft, strand, passKind);
      strand.inside = useId;
      delete strand.forSlot;
      // Groups are the finish’s own; elsewhere the id may be another one’s.
      delete strand.group;
      found = true;
      break;
    }
  }
}

/** Gives the head of a strand a strand of its own, and lets this one begin at it. */
function standOutside(draft: Finish, strand: Strand, passKind: PassKindOf): void {
  const kind = kindAt(draft, strand.id, 'head');
  const id = freeId(draft, 'strand');
  const head = plainOf(strand.head);
  draft.strands.push({
    id,
    name: freeName(draft, strand.name),
    kind: strand.kind,
    forSlot: true,
    ...(strand.inside === undefined ? {} : { inside: strand.inside }),
    head,
    steps: [],
  });
  const pass = head.type === 'pass' ? passKind(head.media, head.pass) : undefined;
  strand.head = { type: 'input', from: { strand: id, after: 'end' }, ...(pass ? { pass } : {}) };
  strand.kind = kind;
}

/** Links from elsewhere become slots; those to the picture that comes to the recipe become links to its input. */
function slotLinks(draft: Finish, useId: string, passKind: PassKindOf): void {
  const { strand: host, first, last, strands, steps } = contentsOf(draft, useId);
  const input = inputIdOf(useId);
  const above = pointAbove(host, first);
  const own = new Set([input, useId, ...steps.map((s) => s.id)]);
  const isInside = ({ strand, after }: Pick<Tap, 'strand' | 'after'>) =>
    strands.some((s) => s.id === strand) || (strand === host.id && own.has(after));
  const isInput = ({ strand, after }: Pick<Tap, 'strand' | 'after'>) => strand === host.id && after === above;
  const made = new Map<string, string>();
  const slot = (tap: Pick<Tap, 'strand' | 'after'>): Pick<Tap, 'strand' | 'after'> => {
    if (isInput(tap)) return { strand: host.id, after: input };
    const source = draft.strands.find((s) => s.id === tap.strand)!;
    const after = source.steps.length === 0 ? 'end' : tap.after;
    const key = `${tap.strand}/${after}`;
    let id = made.get(key);
    if (id === undefined) {
      id = freeId(draft, 'slot');
      made.set(key, id);
      const from = source;
      const pass =
        from.head.type === 'pass' && from.steps.length === 0
          ? passKind(from.head.media, from.head.pass)
          : undefined;
      draft.strands.push({
        id,
        name: freeName(draft, from.name),
        kind: kindAt(draft, tap.strand, tap.after),
        inside: useId,
        head: {
          type: 'input',
          from: { strand: tap.strand, after },
          ...(pass ? { pass } : {}),
        },
        steps: [],
      });
    }
    return { strand: id, after: 'head' };
  };
  const slotted = <T extends Pick<Tap, 'strand' | 'after'>>(tap: T): T =>
    isInside(tap) ? tap : { ...tap, ...slot(plainOf(tap)) };
  for (const strand of strands) {
    const { head } = strand;
    if (head.type === 'tap' && !isInside(head)) Object.assign(head, slot(plainOf(head)));
    // The slots of a recipe further inside take from what is inside this one.
    if (head.type === 'input' && strand.inside !== useId && head.from) head.from = slotted(head.from);
    if (head.type === 'mix') for (const p of head.passes) if (p.within) p.within = slotted(p.within);
  }
  for (const step of [...host.steps.slice(first + 1, last), ...strands.flatMap((s) => s.steps)])
    for (const [key, tap] of Object.entries(step.slots)) step.slots[key] = slotted(tap);
}

/** Guides that only what is inside follows go inside; of others it gets its own. */
function takeGuides(draft: Finish, useId: string): void {
  const { steps, strands } = contentsOf(draft, useId);
  const inner = new Set<Step>([...steps, ...strands.flatMap((s) => s.steps)]);
  const followed = (step: Step) =>
    Object.values(step.animation ?? {}).flatMap((t) => (t.follows ? [t.follows] : []));
  const others = draft.strands.flatMap((s) => s.steps).filter((s) => !inner.has(s));
  const uses = new Set([useId, ...[...inner].map((s) => s.id)]);
  for (const guide of plainOf(draft.guides ?? [])) {
    if (guide.inside !== undefined && uses.has(guide.inside)) continue;
    const mine = [...inner].flatMap(followed).filter((f) => f.guide === guide.id);
    if (mine.length === 0) continue;
    if (others.some((s) => followed(s).some((f) => f.guide === guide.id))) {
      const id = freeId(draft, 'guide');
      draft.guides!.push({ ...guide, id, inside: useId });
      for (const f of mine) f.guide = id;
    } else draft.guides!.find((g) => g.id === guide.id)!.inside = useId;
  }
}

/** Links that lead to a point lead to another one. */
export function relink(draft: Finish, strandId: string, after: string, to: Pick<Tap, 'strand' | 'after'>) {
  for (const tap of tapsOf(draft)) if (tap.strand === strandId && tap.after === after) Object.assign(tap, to);
}
