import { stepSpec } from '../steps/registry';
import { releaseCopies } from './copies';
import {
  assignPart,
  derivedName,
  dropUnused,
  type Edit,
  edit,
  freeId,
  freeName,
  locate,
  tapsOf,
} from './edit';
import {
  type Finish,
  FinishError,
  type Head,
  type PassHead,
  pointAbove,
  type Step,
  type Strand,
  stepName,
  type Tap,
} from './finish';
import { headTaps } from './graph';
import { releaseLayers } from './layer-edits';
import { dropInside } from './packed';
import { finishFormat } from './schema';
import { slotName } from './slot-choices';
import { contentsOf, isInput, isUse, slotsOf, spanOf, usesOf } from './uses';
import { usualValues } from './usual-values';

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

/** A step of `type` at `index` of a strand. In a picture `width` pixels wide light spreads as far, in parts of it, as in any other. */
export function addStep(strandId: string, index: number, type: string, id: string, width?: number): Edit {
  const spec = stepSpec(type)!;
  return edit(`add ${spec.name}`, (doc) => {
    const strand = doc.strands.find((s) => s.id === strandId)!;
    strand.steps.splice(index, 0, {
      id,
      type,
      bypass: false,
      slots: {},
      values: usualValues(spec, width) as Step['values'],
    });
  });
}

/** A join at `index` of a strand that brings in a place of another. */
export function joinAt(doc: Finish, strandId: string, index: number, tap: Tap, id: string): Edit {
  const name = doc.strands.find((s) => s.id === tap.strand)?.name ?? 'strand';
  const add = addStep(strandId, index, 'join', id);
  return edit(`join ${name}`, (draft) => {
    add.change(draft);
    locate(draft, id).step.slots = { picture: { ...tap } };
  });
}

export function removeStep(doc: Finish, stepId: string): Edit {
  return edit(`remove ${stepName(locate(doc, stepId).step)}`, (draft) => {
    const { strand, index, step } = locate(draft, stepId);
    const inner = isUse(step) ? contentsOf(draft, stepId).strands : [];
    const [first, last] = spanOf(strand, index);
    const above = pointAbove(strand, first);
    if (isUse(step)) dropInside(draft, stepId);
    const removed = strand.steps.splice(first, last - first + 1);
    releaseCopies(draft, [...removed, ...inner.flatMap((s) => s.steps)]);
    // What tapped the removed step taps the place it stood at; of a recipe also what tapped something inside.
    const gone = new Set(removed.map((s) => s.id));
    const goneStrands = new Set(inner.map((s) => s.id));
    for (const tap of tapsOf(draft))
      if (goneStrands.has(tap.strand)) Object.assign(tap, { strand: strand.id, after: above });
      else if (gone.has(tap.after)) tap.after = above;
    undrive(draft);
    dropUnused(draft);
  });
}

/**
 * Moves a step to `index` of a strand, counted without the step itself; a recipe with all that belongs to it. What tapped the place it leaves taps the place above.
 * @throws {FinishError} where a link would run into itself.
 */
export function moveStepTo(doc: Finish, stepId: string, strandId: string, index: number): Edit {
  const { step, strand: from } = locate(doc, stepId);
  const to = doc.strands.find((s) => s.id === strandId);
  const where = to && to.id !== from.id ? ` to ${to.name}` : '';
  return edit(`move ${stepName(step)}${where}`, (draft) => {
    const { strand, index: at } = locate(draft, stepId);
    const target = draft.strands.find((s) => s.id === strandId)!;
    const [first, last] = spanOf(strand, at);
    const above = pointAbove(strand, first);
    const moved = strand.steps.splice(first, last - first + 1);
    const ids = new Set(moved.map((s) => s.id));
    if (target.id !== strand.id)
      for (const tap of tapsOf(draft)) {
        if (tap.strand !== strand.id || !ids.has(tap.after)) continue;
        // A tap after the step stays on the strand it named; what taps something inside a recipe goes with it.
        if (tap.after === stepId) tap.after = above;
        else tap.strand = target.id;
      }
    target.steps.splice(Math.max(0, Math.min(target.steps.length, index)), 0, ...moved);
    dropUnused(draft);
  });
}

/** Takes steps that are not there any more off the fronts of recipes; controls that drive nothing any more go with them. */
function undrive(draft: Finish): void {
  const there = new Set(draft.strands.flatMap((s) => s.steps.map((t) => t.id)));
  for (const use of usesOf(draft)) {
    if (!use.front?.some((f) => f.drives.some((d) => !there.has(d.step)))) continue;
    for (const f of use.front) f.drives = f.drives.filter((d) => there.has(d.step));
    for (const { id } of use.front.filter((f) => f.drives.length === 0)) {
      delete use.values[id];
      if (use.animation) delete use.animation[id];
    }
    use.front = use.front.filter((f) => f.drives.length > 0);
    if (use.animation && Object.keys(use.animation).length === 0) delete use.animation;
  }
}

export function renameStep(doc: Finish, stepId: string, to: string): Edit {
  return edit(`rename ${stepName(locate(doc, stepId).step)}`, (draft) => {
    const { step } = locate(draft, stepId);
    if (to.trim()) step.name = to.trim();
    else delete step.name;
  });
}

export function setNote(doc: Finish, stepId: string, note: string): Edit {
  return edit(`note on ${stepName(locate(doc, stepId).step)}`, (draft) => {
    const { step } = locate(draft, stepId);
    if (note.trim()) step.note = note;
    else delete step.note;
  });
}

/** Changes a strand's name, its output, or whether it is folded. */
export function changeStrand(
  doc: Finish,
  strandId: string,
  part: Partial<Pick<Strand, 'name' | 'output' | 'folded'>>,
): Edit {
  const strand = doc.strands.find((s) => s.id === strandId);
  if (part.output !== undefined && doc.strands.some((s) => s.id !== strandId && s.output === part.output)) {
    throw new FinishError(
      `There is an output “${part.output}” already`,
      `strand ${strandId}`,
      'Choose another name.',
    );
  }
  const label =
    'name' in part ? 'rename' : 'output' in part ? 'set the output of' : part.folded ? 'fold' : 'unfold';
  return edit(`${label} ${strand?.name ?? 'strand'}`, (draft) => {
    const changed = draft.strands.find((s) => s.id === strandId)!;
    assignPart(changed, part);
  });
}

export const renameFinish = (to: string): Edit =>
  edit(`call the finish ${to}`, (draft) => {
    draft.name = to;
  });

/** Advice that is not to be given again for this finish. */
export const dismiss = (key: string): Edit =>
  edit('dismiss advice', (draft) => {
    draft.dismissed = [...(draft.dismissed ?? []), key];
  });

/** A new strand that begins at a place of another. */
export function splitAt(doc: Finish, strandId: string, after: string): Edit {
  const strand = doc.strands.find((s) => s.id === strandId)!;
  const id = freeId(doc, 'strand');
  return edit(`split ${strand.name}`, (draft) => {
    const head = { type: 'tap', strand: strandId, after } as const;
    draft.strands.push({
      id,
      name: freeName(draft, derivedName(strand.name, 'split')),
      kind: strand.kind,
      head,
      steps: [],
    });
  });
}

/** Moves a step by `by` places along its strand. */
export function moveStep(doc: Finish, stepId: string, by: number): Edit {
  const name = stepName(locate(doc, stepId).step);
  return edit(`move ${name} ${by < 0 ? 'up' : 'down'}`, (draft) => {
    const { strand, index } = locate(draft, stepId);
    const [first, last] = spanOf(strand, index);
    const moved = strand.steps.splice(first, last - first + 1);
    let to = first;
    // Past whole recipes, and not out of the one that it is inside of.
    for (let n = 0; n < Math.abs(by); n++) {
      const next = strand.steps[by < 0 ? to - 1 : to];
      if (!next || (by < 0 ? isInput(next) : isUse(next))) break;
      const [from, until] = spanOf(strand, by < 0 ? to - 1 : to);
      to += Math.sign(by) * (until - from + 1);
    }
    strand.steps.splice(to, 0, ...moved);
  });
}

export function setBypass(doc: Finish, stepId: string, bypass: boolean): Edit {
  const name = stepName(locate(doc, stepId).step);
  return edit(`${bypass ? 'bypass' : 'bring back'} ${name}`, (draft) => {
    locate(draft, stepId).step.bypass = bypass;
  });
}

export function setHead(
  doc: Finish,
  strandId: string,
  head: Head,
  kind: Strand['kind'],
  label: string,
): Edit {
  return edit(
    `begin ${doc.strands.find((s) => s.id === strandId)?.name ?? 'strand'} at ${label}`,
    (draft) => {
      const strand = draft.strands.find((s) => s.id === strandId)!;
      strand.head = structuredClone(head);
      strand.kind = kind;
    },
  );
}

/** Default name of a matte of objects. */
function objectsName(objects: readonly string[]): string {
  if (objects.length === 0) return 'Objects';
  const [first, second] = objects;
  const name =
    objects.length === 1
      ? first
      : objects.length === 2
        ? `${first}, ${second}`
        : `${first} and ${objects.length - 1} more`;
  return name.slice(0, 190);
}

/** Which objects an ids head takes. */
export const chooseObjects = (doc: Finish, strandId: string, objects: readonly string[]): Edit => {
  const strand = doc.strands.find((s) => s.id === strandId);
  const before = strand?.head.type === 'ids' ? strand.head.objects : [];
  const added = objects.find((o) => !before.includes(o));
  const removed = before.find((o) => !objects.includes(o));
  const label = added ? `take ${added} into` : removed ? `take ${removed} out of` : 'set';
  return edit(`${label} ${strand?.name ?? 'strand'}`, (draft) => {
    const chosen = draft.strands.find((s) => s.id === strandId)!;
    if (chosen.head.type !== 'ids') return;
    const named = chosen.name === objectsName(chosen.head.objects) || /^Objects( \d+)?$/.test(chosen.name);
    chosen.head.objects = [...new Set(objects)];
    // A name that nobody has typed tells what is in it.
    if (named) {
      chosen.name = '';
      chosen.name = freeName(draft, objectsName(chosen.head.objects));
    }
  });
};

/** A strand of its own, which nothing takes from yet. */
export function addStrand(doc: Finish, head: Head, kind: Strand['kind'], label: string): Edit {
  const id = freeId(doc, 'strand');
  return edit(`start a strand from ${label}`, (draft) => {
    draft.strands.push({ id, name: freeName(draft, label), kind, head: structuredClone(head), steps: [] });
  });
}

export function removeStrand(doc: Finish, strandId: string): Edit {
  const strand = doc.strands.find((s) => s.id === strandId);
  const takers = doc.strands.flatMap((s) => [
    ...(headTaps(s.head).some((tap) => tap.strand === strandId) ? [s.name] : []),
    ...s.steps.filter((t) => Object.values(t.slots).some((tap) => tap.strand === strandId)).map(stepName),
  ]);
  if (strandId === doc.main || takers.length > 0) {
    const why = strandId === doc.main ? 'is the main strand' : `is taken by ${takers.join(', ')}`;
    throw new FinishError(
      `Strand “${strand?.name}” ${why}`,
      `strand ${strandId}`,
      'Free what takes from it first.',
    );
  }
  return edit(`remove strand ${strand?.name ?? strandId}`, (draft) => {
    const gone = draft.strands.find((s) => s.id === strandId)!;
    for (const step of gone.steps) if (isUse(step)) dropInside(draft, step.id);
    releaseCopies(draft, gone.steps);
    if (gone.head.type === 'stack') releaseLayers(draft, gone.head.layers);
    draft.strands = draft.strands.filter((s) => s.id !== strandId);
    undrive(draft);
    dropUnused(draft);
  });
}

/** Puts a link into a slot of a draft, or takes it out. The slots of a recipe are the strands inside that begin there. */
export function putLink(draft: Finish, stepId: string, slot: string, tap: Tap | undefined): void {
  const { step } = locate(draft, stepId);
  const input = isUse(step) ? slotsOf(draft, stepId).find((s) => s.strand.id === slot) : undefined;
  const own = tap && { ...tap };
  if (input) assignPart(input.head, { from: own });
  else assignPart(step.slots as Partial<Step['slots']>, { [slot]: own });
}

/** Links a slot to a tap, or frees it. */
export function linkSlot(doc: Finish, stepId: string, slot: string, tap: Tap | undefined): Edit {
  const label = `${slotName(doc, stepId, slot)} of ${stepName(locate(doc, stepId).step)}`;
  return edit(tap ? `link ${label}` : `free ${label}`, (draft) => {
    putLink(draft, stepId, slot, tap);
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
  kind: 'picture' | 'data' = 'picture',
): Edit {
  const begins = ({ head: other }: Finish['strands'][number]) =>
    other.type === 'pass' && other.media === head.media && other.pass === head.pass;
  const same = doc.strands.find(
    (s) => s.id !== doc.main && s.steps.length === 0 && s.kind === kind && begins(s),
  );
  const id = same?.id ?? freeId(doc, 'strand');
  return edit(`take ${slotName(doc, stepId, slot)} from ${label}`, (draft) => {
    if (!same)
      draft.strands.push({
        id,
        name: freeName(draft, label),
        kind,
        forSlot: true,
        head: { ...head },
        steps: [],
      });
    putLink(draft, stepId, slot, { strand: id, after: 'end', ...(as ? { as } : {}) });
    dropUnused(draft);
  });
}
