import { current, isDraft } from 'immer';
import { stepSpec } from '../steps/registry';
import { derivedName, type Edit, edit, freeId, freeName, locate, plainOf } from './edit';
import { type Finish, type Head, originalOf, type Step, type Strand, stepName } from './finish';
import { copiedLayer } from './layer-edits';
import { type Packed, packedLinks, packedUse, unpack } from './packed';
import { inputIdOf, isInput, isUse } from './uses';

/** Settings of a step: its values, and how they change over time. */
const settingsOf = (step: Step): Pick<Step, 'values' | 'animation'> => {
  const { values, animation }: Step = isDraft(step) ? current(step as never) : step;
  return structuredClone({ values, ...(animation ? { animation } : {}) });
};

/** Linked copies of steps that go keep the values they had; the first of each becomes the original of the others. */
export function releaseCopies(doc: Finish, gone: Step[]) {
  for (const original of gone) {
    const copies = doc.strands.flatMap((s) => s.steps).filter((s) => s.follows === original.id);
    const [heir, ...others] = copies;
    if (!heir) continue;
    Object.assign(heir, settingsOf(original));
    delete heir.follows;
    for (const copy of others) copy.follows = heir.id;
  }
}

/** A step on the clipboard: without links, which belong to its finish. A recipe with all that is inside. */
export type CopiedStep = Pick<
  Step,
  'type' | 'name' | 'note' | 'bypass' | 'values' | 'animation' | 'front'
> & {
  packed?: Packed;
};

export const copyOf = (doc: Finish, stepId: string): CopiedStep => {
  const { step } = locate(doc, stepId);
  const { type, name, note, bypass } = step;
  const packed = isUse(step) ? { front: step.front, packed: packedUse(doc, stepId) } : {};
  return { type, name, note, bypass, ...settingsOf(originalOf(doc, step)), ...packed };
};

/** Puts a copied step at `index` of a strand, also one from another shot. */
export function pasteStep(strandId: string, index: number, copied: CopiedStep, id: string): Edit {
  const label = copied.name ?? stepSpec(copied.type)?.name ?? copied.type;
  return edit(`paste ${label}`, (draft) => {
    if (copied.packed) return unpack(draft, copied.packed, { strand: strandId, index }, id);
    const strand = draft.strands.find((s) => s.id === strandId)!;
    const fresh = Object.fromEntries(Object.entries(copied).filter(([, value]) => value !== undefined));
    strand.steps.splice(index, 0, { ...structuredClone(fresh as CopiedStep), id, slots: {} });
  });
}

/** A second step right below with the same values and links; `linked` copies follow the original from then on. */
export function duplicateStep(doc: Finish, stepId: string, linked: boolean): Edit {
  const { step } = locate(doc, stepId);
  const id = freeId(doc, step.type);
  if (isUse(step))
    return edit(`duplicate ${stepName(step)}`, (draft) => {
      const { strand, index } = locate(draft, stepId);
      const links = packedLinks(plainOf(draft), stepId);
      unpack(draft, packedUse(draft, stepId), { strand: strand.id, index: index + 1 }, id, { links });
    });
  return edit(`${linked ? 'make a linked copy of' : 'duplicate'} ${stepName(step)}`, (draft) => {
    const { strand, index, step: source } = locate(draft, stepId);
    const { follows, ...rest } = source;
    const original = originalOf(draft, source);
    const copy: Step = {
      ...rest,
      id,
      slots: Object.fromEntries(Object.entries(source.slots).map(([k, tap]) => [k, { ...tap }])),
      ...settingsOf(original),
    };
    strand.steps.splice(index + 1, 0, linked ? { ...copy, follows: follows ?? source.id } : copy);
  });
}

/** Layers of a copied stack have places of their own, or follow those they were copied from. */
function copiedHead(draft: Finish, head: Head, linked: boolean): Head {
  if (head.type !== 'stack') return { ...head };
  return { ...head, layers: head.layers.map((layer) => copiedLayer(draft, layer, linked)) };
}

/** A second strand with the same head and steps; `linked` steps follow their originals. Links inside it lead to its own steps. */
export function duplicateStrand(doc: Finish, strandId: string, linked: boolean): Edit {
  const name = doc.strands.find((s) => s.id === strandId)?.name ?? 'strand';
  return edit(`${linked ? 'make a linked copy of' : 'duplicate'} ${name}`, (draft) => {
    const source = draft.strands.find((s) => s.id === strandId)!;
    const { forSlot: _, output: __, ...rest } = source;
    const copy: Strand = {
      ...rest,
      id: freeId(draft, 'strand'),
      name: freeName(draft, derivedName(name, 'copy')),
      head: copiedHead(draft, source.head, linked),
      steps: [],
    };
    draft.strands.push(copy);
    const ids = new Map<string, string>([[strandId, copy.id]]);
    /** Links inside the strand lead to its own steps. */
    const ownTap = <T extends Step['slots'][string]>(tap: T): T =>
      tap.strand === strandId
        ? { ...tap, strand: copy.id, after: ids.get(tap.after) ?? tap.after }
        : { ...tap };
    // A recipe is copied as one, with all that is inside; its own steps come with it.
    const uses: string[] = [];
    for (const step of source.steps) {
      const { follows, ...own } = step;
      if (isInput(step)) uses.push(step.id);
      if (isUse(step)) {
        uses.pop();
        if (uses.length > 0) continue;
        const id = freeId(draft, step.type);
        ids.set(step.id, id);
        ids.set(inputIdOf(step.id), inputIdOf(id));
        const links = Object.entries(packedLinks(plainOf(draft), step.id));
        unpack(draft, packedUse(draft, step.id), { strand: copy.id, index: copy.steps.length }, id, {
          links: Object.fromEntries(links.map(([slot, tap]) => [slot, ownTap(tap)])),
        });
        continue;
      }
      if (uses.length > 0) continue;
      const id = freeId(draft, step.type);
      ids.set(step.id, id);
      const slots = Object.fromEntries(Object.entries(step.slots).map(([slot, tap]) => [slot, ownTap(tap)]));
      const settings = settingsOf(originalOf(draft, step));
      copy.steps.push({ ...own, id, slots, ...settings, ...(linked ? { follows: follows ?? step.id } : {}) });
    }
  });
}

/** A linked copy becomes a step of its own. */
export function unlinkCopy(doc: Finish, stepId: string): Edit {
  return edit(`unlink ${stepName(locate(doc, stepId).step)}`, (draft) => {
    const { step } = locate(draft, stepId);
    Object.assign(step, settingsOf(originalOf(draft, step)));
    delete step.follows;
  });
}
