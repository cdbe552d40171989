import type { Finish } from '../core/finish/finish';
import type { ShotStore } from './shot-store';

/**
 * What can be undone and redone is kept beside the page, by finish and saved version, so that it is there after a reload. A
 * document that was changed elsewhere meanwhile begins without it.
 */
type Entry = { finish: Finish; says: string };
type Kept = { document: string; says: string; past: Entry[]; future: Entry[] };

const most = 100;
const keyOf = (finish: number) => `zafiro-undo-${finish}`;

/** Takes up what was kept, if it belongs to the document that was loaded. */
export function recallUndo(store: ShotStore, id: number) {
  try {
    const kept: Kept | null = JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null');
    if (!kept || kept.document !== JSON.stringify(store.getState().finish)) return;
    store.temporal.setState({ pastStates: kept.past, futureStates: kept.future });
    store.setState({ says: kept.says });
    // The words are not part of what undo looks at; what it took for an edit is none.
    store.temporal.setState({ pastStates: kept.past, futureStates: kept.future });
  } catch {
    // What cannot be read is forgotten.
  }
}

/** Keeps what can be undone from now on; ends with the function it gives. */
export function rememberUndo(store: ShotStore, id: number): () => void {
  const keep = () => {
    const { pastStates, futureStates } = store.temporal.getState();
    const { finish, says } = store.getState();
    const kept: Kept = {
      document: JSON.stringify(finish),
      says,
      past: pastStates.slice(-most) as Entry[],
      future: futureStates.slice(-most) as Entry[],
    };
    try {
      localStorage.setItem(keyOf(id), JSON.stringify(kept));
    } catch {
      // The browser's room is spent: undo works on, but ends with the page.
    }
  };
  let before = store.getState().finish;
  return store.subscribe((now) => {
    if (now.finish === before) return;
    before = now.finish;
    // After the history has taken the edit in.
    queueMicrotask(keep);
  });
}
