import * as v from 'valibot';
import { type CopiedStep, duplicateStep, pasteStep } from '../core/finish/copies';
import { freeId } from '../core/finish/edit';
import { newFinish } from '../core/finish/edits';
import { findStep, strandOf } from '../core/finish/finish';
import { stepSchema } from '../core/finish/step-schema';
import { stepSpec } from '../core/steps/registry';
import type { ShotStore } from './session/store';

/** Copied steps wait here, for this shot and others, also in another tab. */
const key = 'zafiro-copied-step';

export const keepCopied = (step: CopiedStep) => localStorage.setItem(key, JSON.stringify(step));

/** The step on the clipboard, if it is valid. */
export function copiedStep(): CopiedStep | undefined {
  const text = localStorage.getItem(key);
  if (!text) return undefined;
  try {
    const given = JSON.parse(text);
    const spec = stepSpec(String(given?.type));
    const { packed, ...own } = given;
    if (packed) return isPacked(own, packed) ? given : undefined;
    const found = spec && v.safeParse(stepSchema(spec), { ...own, id: 'copied', slots: {} });
    if (!found?.success) return undefined;
    const { id: _, slots: __, ...step } = found.output as CopiedStep & { id: string; slots: object };
    return step;
  } catch {
    return undefined;
  }
}

/** True of what is inside a recipe that can be put onto a strand. */
function isPacked({ name }: { name?: string }, packed: NonNullable<CopiedStep['packed']>): boolean {
  try {
    const doc = newFinish('copied', 'Copied', { type: 'colour', colour: [0, 0, 0], alpha: 1 });
    pasteStep(doc.main, 0, { ...packed.use, name, packed }, 'copied').apply(doc);
    return true;
  } catch {
    return false;
  }
}

/** Puts what was copied below the selected step, or at the top of the selected strand. */
export function pasteHere(store: ShotStore) {
  const step = copiedStep();
  if (!step) return;
  const { finish, selected = '', change, edit } = store.getState();
  const found = findStep(finish, selected);
  const strand = strandOf(finish, selected);
  const id = freeId(finish, step.type);
  if (edit(pasteStep(strand.id, found ? found.index + 1 : 0, step, id))) change({ selected: id });
}

/** A second step below one, which is then the one that is worked on; a `linked` copy follows the first. */
export function duplicateHere(store: ShotStore, stepId: string, linked: boolean) {
  const { finish, change, edit } = store.getState();
  const step = findStep(finish, stepId)?.step;
  if (!step) return;
  const id = freeId(finish, step.type);
  if (edit((doc) => duplicateStep(doc, stepId, linked))) change({ selected: id });
}
