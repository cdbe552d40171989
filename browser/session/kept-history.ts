import { createStore, get, set } from 'idb-keyval';
import * as v from 'valibot';
import { finishFormat } from '../../core/finish/schema';
import type { History } from './history';

/**
 * What can be undone and redone is kept in the browser beside the saved version that it leads to, so that it is there after a reload. A finish that
 * was saved elsewhere meanwhile begins without it.
 */

const mostKept = 200;

const patch = v.object({
  op: v.picklist(['replace', 'add', 'remove']),
  path: v.array(v.union([v.string(), v.number()])),
  value: v.optional(v.unknown()),
});
const entry = v.object({ label: v.string(), patches: v.array(patch), inverse: v.array(patch) });
/** Patches lead through documents of one format. */
const kept = v.object({
  format: v.literal(finishFormat),
  version: v.number(),
  past: v.array(entry),
  future: v.array(entry),
});

let opened: ReturnType<typeof createStore> | undefined;
const place = () => {
  opened ??= createStore('zafiro', 'history');
  return opened;
};

/** The history that leads to a version of a finish; undefined where none is kept, or one of another version. */
export async function recallHistory(finish: number, version: number): Promise<History | undefined> {
  try {
    const found = v.safeParse(kept, await get(finish, place()));
    return found.success && found.output.version === version ? (found.output as History) : undefined;
  } catch {
    // A browser that keeps nothing: undo ends with the page.
    return undefined;
  }
}

export async function keepHistory(finish: number, version: number, { past, future }: History): Promise<void> {
  try {
    await set(
      finish,
      { format: finishFormat, version, past: past.slice(-mostKept), future: future.slice(-mostKept) },
      place(),
    );
  } catch {
    // The browser's room is spent, or it keeps nothing.
  }
}
