import { produce } from 'immer';
import { defaultsOf, type Value } from '../steps/define';
import { stepSpec } from '../steps/registry';
import {
  type Finish,
  FinishError,
  findStep,
  finishFormat,
  type Head,
  type Layer,
  type PassHead,
  type Step,
  type Strand,
  stepName,
  strandOrder,
  type Tap,
} from './finish';

/**
 * Edits are pure: a finish in, a new finish out, the old one untouched; unchanged parts are shared. Each carries
 * the words for "Undo: …".
 */
export type Edit = { says: string; apply(doc: Finish): Finish };

const edit = (says: string, change: (doc: Finish) => void): Edit => ({
  says,
  apply: (doc) => {
    const next = produce(doc, change);
    strandOrder(next);
    return next;
  },
});

const place = (doc: Finish, stepId: string) => {
  const found = findStep(doc, stepId);
  if (!found) throw new FinishError(`There is no step “${stepId}”`, 'edit', 'Reload the shot.');
  return found;
};

/** A new finish: one strand that begins at a pass. */
export function newFinish(
  id: string,
  name: string,
  head: Head,
  kind: 'picture' | 'data' = 'picture',
): Finish {
  const strand = { id: 'main', name: 'Frame', kind, head, steps: [] };
  return { format: 'zafiro-finish', version: finishFormat, id, name, main: 'main', strands: [strand] };
}

/** The first of `base`, `base-2`, `base-3` … that no strand or step of the finish has. */
export function freeId(doc: Finish, base: string): string {
  const taken = new Set(doc.strands.flatMap((s) => [s.id, ...s.steps.map((t) => t.id)]));
  let id = base;
  for (let n = 2; taken.has(id); n++) id = `${base}-${n}`;
  return id;
}

/** A step of `type` at `index` of a strand. */
export function addStep(strandId: string, index: number, type: string, id: string): Edit {
  const spec = stepSpec(type)!;
  return edit(`add ${spec.name}`, (doc) => {
    const strand = doc.strands.find((s) => s.id === strandId)!;
    strand.steps.splice(index, 0, {
      id,
      type,
      bypass: false,
      slots: {},
      values: defaultsOf(spec.values) as Step['values'],
    });
  });
}

export function removeStep(doc: Finish, stepId: string): Edit {
  return edit(`remove ${stepName(place(doc, stepId).step)}`, (draft) => {
    const { strand, index } = place(draft, stepId);
    const above = index > 0 ? strand.steps[index - 1].id : 'head';
    strand.steps.splice(index, 1);
    // What tapped the removed step taps the place it stood at.
    for (const s of draft.strands.flatMap((other) => other.steps)) {
      for (const tap of Object.values(s.slots)) if (tap.after === stepId) tap.after = above;
    }
    dropUnused(draft);
  });
}

/** Moves a step by `by` places along its strand. */
export function moveStep(doc: Finish, stepId: string, by: number): Edit {
  const name = stepName(place(doc, stepId).step);
  return edit(`move ${name} ${by < 0 ? 'up' : 'down'}`, (draft) => {
    const { strand, index } = place(draft, stepId);
    const to = Math.max(0, Math.min(strand.steps.length - 1, index + by));
    strand.steps.splice(to, 0, ...strand.steps.splice(index, 1));
  });
}

export function setBypass(doc: Finish, stepId: string, bypass: boolean): Edit {
  const name = stepName(place(doc, stepId).step);
  return edit(`${bypass ? 'bypass' : 'bring back'} ${name}`, (draft) => {
    place(draft, stepId).step.bypass = bypass;
  });
}

export function setValue(doc: Finish, stepId: string, key: string, value: Value): Edit {
  const { step } = place(doc, stepId);
  const label = stepSpec(step.type)?.values[key]?.name ?? key;
  return edit(`set ${label} of ${stepName(step)}`, (draft) => {
    place(draft, stepId).step.values[key] = value as Step['values'][string];
  });
}

export function setHead(
  doc: Finish,
  strandId: string,
  head: Head,
  kind: 'picture' | 'data',
  label: string,
): Edit {
  return edit(
    `begin ${doc.strands.find((s) => s.id === strandId)?.name ?? 'strand'} at ${label}`,
    (draft) => {
      const strand = draft.strands.find((s) => s.id === strandId)!;
      strand.head = head;
      strand.kind = kind;
    },
  );
}

/** A strand of its own, which nothing takes from yet. */
export function addStrand(doc: Finish, head: Head, kind: Strand['kind'], label: string): Edit {
  const id = freeId(doc, 'strand');
  return edit(`start a strand from ${label}`, (draft) => {
    draft.strands.push({ id, name: label, kind, head, steps: [] });
  });
}

export function removeStrand(doc: Finish, strandId: string): Edit {
  const strand = doc.strands.find((s) => s.id === strandId);
  const takers = doc.strands
    .flatMap((s) => s.steps)
    .filter((t) => Object.values(t.slots).some((tap) => tap.strand === strandId));
  if (strandId === doc.main || takers.length > 0) {
    const why =
      strandId === doc.main ? 'is the main strand' : `is taken by ${takers.map(stepName).join(', ')}`;
    throw new FinishError(
      `Strand “${strand?.name}” ${why}`,
      `strand ${strandId}`,
      'Free what takes from it first.',
    );
  }
  return edit(`remove strand ${strand?.name ?? strandId}`, (draft) => {
    draft.strands = draft.strands.filter((s) => s.id !== strandId);
    dropUnused(draft);
  });
}

/** Changes one layer of a stack: shown or hidden, its opacity. */
export function setLayer(doc: Finish, strandId: string, index: number, part: Partial<Layer>): Edit {
  const says = 'show' in part ? (part.show ? 'show' : 'hide') : 'set the opacity of';
  const head = doc.strands.find((s) => s.id === strandId)?.head;
  const layer = head?.type === 'stack' ? head.layers[index].media : 'a layer';
  return edit(`${says} ${layer}`, (draft) => {
    const stack = draft.strands.find((s) => s.id === strandId)!.head;
    if (stack.type === 'stack') Object.assign(stack.layers[index], part);
  });
}

/** Links a slot to a tap, or frees it. */
export function linkSlot(doc: Finish, stepId: string, slot: string, tap: Tap | undefined): Edit {
  const { step } = place(doc, stepId);
  const label = `${stepSpec(step.type)?.slots[slot]?.name ?? slot} of ${stepName(step)}`;
  return edit(tap ? `link ${label}` : `free ${label}`, (draft) => {
    const { slots } = place(draft, stepId).step;
    if (tap) slots[slot] = tap;
    else delete slots[slot];
    dropUnused(draft);
  });
}

/** Links a slot to a pass: to the strand that begins there without steps of its own, or to a new one. */
export function linkPass(
  doc: Finish,
  stepId: string,
  slot: string,
  head: PassHead,
  label: string,
  as?: Tap['as'],
): Edit {
  const begins = ({ head: other }: Finish['strands'][number]) =>
    other.type === 'pass' && other.media === head.media && other.pass === head.pass;
  const same = doc.strands.find((s) => s.id !== doc.main && s.steps.length === 0 && begins(s));
  const id = same?.id ?? freeId(doc, 'strand');
  return edit(`take ${slot} from ${label}`, (draft) => {
    if (!same) draft.strands.push({ id, name: label, kind: 'picture', forSlot: true, head, steps: [] });
    place(draft, stepId).step.slots[slot] = { strand: id, after: 'end', ...(as ? { as } : {}) };
    dropUnused(draft);
  });
}

/** Strands made for a slot go with the last link to them. */
function dropUnused(doc: Finish) {
  const tapped = new Set(
    doc.strands.flatMap((s) => s.steps.flatMap((t) => Object.values(t.slots).map((tap) => tap.strand))),
  );
  doc.strands = doc.strands.filter((s) => !s.forSlot || s.steps.length > 0 || tapped.has(s.id));
}
