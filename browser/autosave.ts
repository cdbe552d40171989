import type { Finish } from '../core/finish/finish';
import type { ShotStore } from './shot-store';

const retryAfter = 2000;

/**
 * Saves after each edit, one save at a time, the newest document next. The state is *saved* only while the server
 * has committed exactly what is on screen.
 */
export function startAutosave(store: ShotStore, id: number, version: number) {
  let base = version;
  let committed = store.getState().finish;
  let busy = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let ended = false;

  const put = (document: Finish, says: string) =>
    fetch(`/api/finishes/${id}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ from: base, says, document }),
      keepalive: JSON.stringify(document).length < 60_000,
    });

  const change = store.getState().change;

  async function pump() {
    if (busy || ended || store.getState().save.state === 'conflict') return;
    clearTimeout(timer);
    busy = true;
    try {
      while (store.getState().finish !== committed && !ended) {
        const { finish, says } = store.getState();
        change({ save: { state: 'saving' } });
        const response = await put(finish, says || 'edit');
        const told = await response.json().catch(() => ({}));
        if (response.status === 409) {
          change({ save: { state: 'conflict', newest: told.newest } });
          return;
        }
        if (!response.ok) throw new Error(told.error ?? `The server answered ${response.status}.`);
        base = told.version;
        committed = finish;
      }
      change({ save: { state: 'saved' } });
    } catch (error) {
      const why = error instanceof TypeError ? 'The server does not answer.' : (error as Error).message;
      change({ save: { state: 'failed', why: `${why} Trying again; keep this page open.` } });
      timer = setTimeout(pump, retryAfter);
    } finally {
      busy = false;
    }
  }

  const unsubscribe = store.subscribe((now, before) => {
    if (now.finish === before.finish) return;
    if (now.finish !== committed && now.save.state === 'saved') change({ save: { state: 'saving' } });
    pump();
  });
  const warn = (event: BeforeUnloadEvent) => {
    if (store.getState().finish !== committed) event.preventDefault();
  };
  window.addEventListener('beforeunload', warn);

  return {
    end() {
      ended = true;
      clearTimeout(timer);
      unsubscribe();
      window.removeEventListener('beforeunload', warn);
    },
    /** After a conflict: this page's document becomes the newest version; the other stays in the history. */
    keepMine(newest: number) {
      base = newest;
      change({ save: { state: 'saving' } });
      pump();
    },
    /** After a conflict: the other document comes in; undo leads back to this one. */
    async takeTheirs() {
      const response = await fetch(`/api/finishes/${id}`);
      if (!response.ok) return;
      const theirs = await response.json();
      base = theirs.version;
      committed = theirs.document;
      store.getState().replace(theirs.document);
      change({ save: { state: 'saved' } });
    },
  };
}

export type Autosave = ReturnType<typeof startAutosave>;
