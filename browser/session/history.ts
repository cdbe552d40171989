import { applyPatches, enablePatches, type Patch } from 'immer';
import type { Applied } from '../../core/finish/edit';
import type { Finish } from '../../core/finish/finish';

enablePatches();

/** Undo history: each edit with its label and its patches in both directions. */
export type Entry = { label: string; patches: Patch[]; inverse: Patch[] };
export type History = { past: readonly Entry[]; future: readonly Entry[] };
/** A document with its history. */
export type Past = { finish: Finish; history: History };

export const noHistory: History = { past: [], future: [] };
const most = 500;

/** The history after one more edit. */
export const remembered = (
  { past }: History,
  label: string,
  { patches, inverse }: Pick<Applied, 'patches' | 'inverse'>,
): History => ({ past: [...past, { label, patches, inverse }].slice(-most), future: [] });

/** The history after another document has come in place of this one. */
export const replaced = (history: History, label: string, from: Finish, to: Finish): History =>
  remembered(history, label, {
    patches: [{ op: 'replace', path: [], value: to }],
    inverse: [{ op: 'replace', path: [], value: from }],
  });

/** One edit back. */
export function undone(finish: Finish, { past, future }: History): Past {
  const entry = past[past.length - 1];
  return {
    finish: applyPatches(finish, entry.inverse) as Finish,
    history: { past: past.slice(0, -1), future: [...future, entry] },
  };
}

/** One edit forwards again. */
export function redone(finish: Finish, { past, future }: History): Past {
  const entry = future[future.length - 1];
  return {
    finish: applyPatches(finish, entry.patches) as Finish,
    history: { past: [...past, entry], future: future.slice(0, -1) },
  };
}
