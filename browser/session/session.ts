import { readFinish, saveFinish } from '../../api/finishes';
import { request } from '../../api/request';
import type { Finish } from '../../core/finish/finish';
import type { Size } from '../../core/picture/region';
import { type Autosave, startAutosave } from './autosave';
import { keepHistory, recallHistory } from './kept-history';
import { createShotStore, type ShotStore } from './store';

/**
 * The life of a document in this page. It begins with the newest version there is, whatever the browser or the router remembers of an
 * earlier visit; it goes on, although its screen is left, until the server has all of it; and it warns before the page goes with work that it
 * has not.
 */
export type Session = {
  finish: number;
  store: ShotStore;
  autosave: Autosave;
  /** Repairs that were made to open the stored document. */
  repairs: readonly string[];
  /** The screen is left: what waits is saved, then the session ends. */
  leave(): void;
};

/** Sessions that go on, by finish; screens of them that are open are counted. */
const sessions = new Map<number, { session: Session; screens: number; end(): void }>();

/** Browsers send this much after a page has gone. */
const mostAfterPage = 60_000;

const newest = (finish: number) => request(readFinish, { params: { finish } });

/** Opens a finish at its newest version, or the session of it that still has something to save. @throws {RequestError} */
export async function openSession(finish: number, frame: number, size: Size): Promise<Session> {
  const running = sessions.get(finish);
  if (running && !running.session.autosave.isClean()) {
    running.screens++;
    // What was saved elsewhere while no screen followed the shot was not heard of.
    running.session.autosave.hear(Number.POSITIVE_INFINITY);
    return running.session;
  }
  const saved = await newest(finish);
  // Another screen of this page was quicker.
  const other = sessions.get(finish);
  if (other) {
    other.screens++;
    other.session.autosave.hear(saved.version);
    return other.session;
  }
  const history = await recallHistory(finish, saved.version);
  return startSession(finish, saved, createShotStore(saved.document, frame, size, history));
}

function startSession(
  finish: number,
  saved: { version: number; document: Finish; repairs: string[] },
  store: ShotStore,
): Session {
  const autosave = startAutosave(store, saved.version, {
    newest: () => newest(finish),
    send: async (save, signal) => {
      const keepalive = new TextEncoder().encode(JSON.stringify(save)).length < mostAfterPage;
      const given = { params: { finish }, body: save };
      return (await request(saveFinish, given, { signal, keepalive })).version;
    },
    saved: (version) => void keepHistory(finish, version, store.getState().history),
  });
  const warn = (event: BeforeUnloadEvent) => {
    if (!autosave.isClean()) event.preventDefault();
  };
  const flush = () => void (autosave.isClean() || autosave.flush());
  const again = () => flush();
  window.addEventListener('beforeunload', warn);
  window.addEventListener('pagehide', flush);
  window.addEventListener('online', again);
  const end = () => {
    autosave.end();
    window.removeEventListener('beforeunload', warn);
    window.removeEventListener('pagehide', flush);
    window.removeEventListener('online', again);
    sessions.delete(finish);
  };
  const session: Session = {
    finish,
    store,
    autosave,
    repairs: saved.repairs,
    leave() {
      const entry = sessions.get(finish);
      if (!entry || --entry.screens > 0) return;
      const over = () => {
        if (entry.screens > 0 || !autosave.isClean() || sessions.get(finish) !== entry) return;
        unsubscribe();
        end();
      };
      const unsubscribe = store.subscribe(over);
      autosave.flush().then(over);
    },
  };
  sessions.set(finish, { session, screens: 1, end });
  // For the console.
  Object.assign(globalThis, { zafiroSession: session });
  return session;
}
