import { produce } from 'immer';
import { checkLinks, type Finish, FinishError, findStep, headTaps } from './finish';
import { layersOf } from './layers';

/**
 * Edits are pure: a finish in, a new finish out, the old one untouched; unchanged parts are shared. Each carries
 * the words for "Undo: …".
 */
export type Edit = { says: string; apply(doc: Finish): Finish };

/** An edit that changes a draft of the document; one that leaves a document with a loop throws. */
export const edit = (says: string, change: (doc: Finish) => void): Edit => ({
  says,
  apply: (doc) => {
    const next = produce(doc, change);
    checkLinks(next);
    return next;
  },
});

/** One edit and then another, as one step back by the name of the first. */
export const andThen = (first: Edit, next: (doc: Finish) => Edit): Edit => ({
  says: first.says,
  apply: (doc) => {
    const done = first.apply(doc);
    return next(done).apply(done);
  },
});

/** Changes what a part names; what it gives as undefined goes. */
export function assignPart<T extends object>(target: T, part: Partial<T>) {
  for (const key of Object.keys(part) as (keyof T)[]) {
    if (part[key] === undefined) delete target[key];
    else target[key] = part[key] as T[keyof T];
  }
}

/** Where a step stands. @throws {FinishError} */
export const place = (doc: Finish, stepId: string) => {
  const found = findStep(doc, stepId);
  if (!found) throw new FinishError(`There is no step “${stepId}”`, 'edit', 'Reload the shot.');
  return found;
};

/** The first of `base`, `base-2`, `base-3` … that no strand or step of the finish has. */
export function freeId(doc: Finish, base: string): string {
  const taken = new Set([
    ...doc.strands.flatMap((s) => [s.id, ...s.steps.map((t) => t.id)]),
    ...layersOf(doc).map((l) => l.id),
  ]);
  let id = base;
  for (let n = 2; taken.has(id); n++) id = `${base}-${n}`;
  return id;
}

/** Every link of a finish: slots of steps, heads that are split off, and layers that are pulled out. */
export function tapsOf(doc: Finish): { strand: string; after: string }[] {
  return doc.strands.flatMap((s) => [...headTaps(s.head), ...s.steps.flatMap((t) => Object.values(t.slots))]);
}

/** Strands made for a slot go with the last link to them. */
export function dropUnused(doc: Finish) {
  const tapped = new Set(tapsOf(doc).map((t) => t.strand));
  doc.strands = doc.strands.filter((s) => !s.forSlot || s.steps.length > 0 || tapped.has(s.id));
}
