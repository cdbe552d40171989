import { current, enablePatches, isDraft, type Patch, produceWithPatches } from 'immer';
import { type Finish, FinishError, findStep } from './finish';
import { headTaps } from './graph';
import { layersOf } from './layers';
import { checkFinish } from './validation';

enablePatches();

/**
 * An edit changes a draft of whatever document is there when it is done, so one that was prepared on an older document still does its
 * work on today's. It carries the words for "Undo: …".
 */
export type Edit = {
  label: string;
  change(draft: Finish): void;
  /** The document with the edit done, the old one untouched. @throws {FinishError} */
  apply(doc: Finish): Finish;
  /** It may change what is inside recipes that are not being edited. */
  opens?: true;
};

/** Result of an edit: the new document, and the patches in both directions. */
export type Applied = { finish: Finish; patches: Patch[]; inverse: Patch[] };

/** A group goes with its last strand, whatever took that away. */
function dropEmptyGroups(draft: Finish): void {
  if (!draft.groups) return;
  const used = new Set(draft.strands.map((s) => s.group));
  if (draft.groups.every((g) => used.has(g.id))) return;
  const left = draft.groups.filter((g) => used.has(g.id));
  if (left.length > 0) draft.groups = left;
  else delete draft.groups;
}

/**
 * Does an edit: unchanged parts are shared, and what comes out has passed every check that the server makes.
 * @throws {FinishError} where the document must refuse it; nothing has changed then.
 */
export function applyEdit(doc: Finish, { change }: Pick<Edit, 'change'>): Applied {
  const [finish, patches, inverse] = produceWithPatches(doc, (draft) => {
    change(draft as Finish);
    dropEmptyGroups(draft as Finish);
  });
  if (finish !== doc) checkFinish(finish);
  return { finish, patches, inverse };
}

export const edit = (label: string, change: (draft: Finish) => void): Edit => ({
  label: label,
  change,
  apply: (doc) => applyEdit(doc, { change }).finish,
});

/** One edit and then another, as one step back by the name of the first. */
export const andThen = (first: Edit, next: (doc: Finish) => Edit): Edit =>
  called(first.label, {
    ...first,
    change: (draft) => {
      first.change(draft);
      next(current(draft as never) as Finish).change(draft);
    },
  });

/** The same done to several things, the first of which names it: one edit. */
export function onEach<T>(
  doc: Finish,
  [first, ...others]: readonly [T, ...T[]],
  editOf: (doc: Finish, item: T) => Edit,
): Edit {
  const own = editOf(doc, first);
  if (others.length === 0) return own;
  const all = others.reduce((done, item) => andThen(done, (next) => editOf(next, item)), own);
  return called(`${own.label} and ${others.length} more`, all);
}

/** The same edit under another name. */
export const called = (label: string, { change, opens }: Edit): Edit => ({
  ...edit(label, change),
  ...(opens ? { opens } : {}),
});

/** Changes what a part names; what it gives as undefined goes. */
export function assignPart<T extends object>(target: T, part: Partial<T>) {
  for (const key of Object.keys(part) as (keyof T)[]) {
    if (part[key] === undefined) delete target[key];
    else target[key] = part[key] as T[keyof T];
  }
}

/** The strand and the index of a step. @throws {FinishError} */
export const locate = (doc: Finish, stepId: string) => {
  const found = findStep(doc, stepId);
  if (!found) throw new FinishError(`There is no step “${stepId}”`, 'edit', 'Reload the shot.');
  return found;
};

/** A part of a draft as a plain value. */
export const plainOf = <T>(part: T): T => (isDraft(part) ? (current(part as never) as T) : part);

/** The first of `base`, `base-2`, `base-3` … that no strand or step of the finish has. */
export function freeId(doc: Finish, base: string): string {
  const taken = new Set([
    ...doc.strands.flatMap((s) => [s.id, ...s.steps.map((t) => t.id)]),
    ...layersOf(doc).map((l) => l.id),
    ...(doc.guides ?? []).map((g) => g.id),
    ...(doc.groups ?? []).map((g) => g.id),
  ]);
  // What is inside a recipe begins with the name of its use, also when the recipe is gone.
  const stems = new Set([...taken].map((id) => id?.split('.')[0]));
  let id = base;
  for (let n = 2; taken.has(id) || stems.has(id); n++) id = `${base}-${n}`;
  return id;
}

/** The first of `base`, `base 2`, `base 3` … that no strand of the finish is called. */
export function freeName({ strands }: Pick<Finish, 'strands'>, base: string): string {
  const taken = new Set(strands.map((s) => s.name));
  const stem = base.slice(0, 190);
  let name = stem;
  for (let n = 2; taken.has(name); n++) name = `${stem} ${n}`;
  return name;
}

/** Name of a copy or a split of something, also of a copy or a split. */
export const derivedName = (of: string, what: 'copy' | 'split'): string =>
  `${of.replace(new RegExp(` ${what}( \\d+)?$`), '')} ${what}`;

/** Every link of a finish: slots of steps, heads that are split off, and layers that are pulled out. */
export function tapsOf(doc: Finish): { strand: string; after: string }[] {
  return doc.strands.flatMap((s) => [...headTaps(s.head), ...s.steps.flatMap((t) => Object.values(t.slots))]);
}

/** Strands made for a slot go with the last link to them. */
export function dropUnused(doc: Finish) {
  const tapped = new Set(tapsOf(doc).map((t) => t.strand));
  doc.strands = doc.strands.filter((s) => !s.forSlot || s.steps.length > 0 || tapped.has(s.id));
}
