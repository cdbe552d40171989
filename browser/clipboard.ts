import * as v from 'valibot';
import { type CopiedStep, pasteStep } from '../core/finish/copies';
import { freeId } from '../core/finish/edit';
import { findStep, strandOf } from '../core/finish/finish';
import { stepSpec } from '../core/steps/registry';
import type { ShotStore } from './shot-store';
import { tryEdit } from './try-edit';

/** Copied steps wait here, for this shot and others, also in another tab. */
const key = 'zafiro-copied-step';

const copied = v.object({
  type: v.pipe(
    v.string(),
    v.check((t) => stepSpec(t) !== undefined),
  ),
  name: v.optional(v.string()),
  note: v.optional(v.string()),
  bypass: v.boolean(),
  values: v.record(
    v.string(),
    v.union([
      v.number(),
      v.string(),
      v.boolean(),
      v.pipe(v.tuple([v.number(), v.number(), v.number()]), v.readonly()),
    ]),
  ),
});

export const keepCopied = (step: CopiedStep) => localStorage.setItem(key, JSON.stringify(step));

export function copiedStep(): CopiedStep | undefined {
  const text = localStorage.getItem(key);
  if (!text) return undefined;
  const found = v.safeParse(copied, JSON.parse(text));
  return found.success ? found.output : undefined;
}

/** Puts what was copied below the selected step, or at the top of the selected strand. */
export function pasteHere(store: ShotStore) {
  const step = copiedStep();
  if (!step) return;
  const { finish, selected = '', change } = store.getState();
  const found = findStep(finish, selected);
  const strand = strandOf(finish, selected);
  const id = freeId(finish, step.type);
  if (tryEdit(store, () => pasteStep(strand.id, found ? found.index + 1 : 0, step, id)))
    change({ selected: id });
}
