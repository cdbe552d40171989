import { dequal } from 'dequal';
import { RequestError } from '../../api/request';
import type { Finish } from '../../core/finish/finish';
import type { ShotStore } from './store';

/** One save: the same document under the same id, however often it has to be sent. */
export type Save = { from: number; document: Finish; label: string; save: string };

/** How saves reach the server, and how the newest version comes from there. */
export type Channel = {
  /** The new version, once it is committed. @throws {RequestError} */
  send(save: Save, signal: AbortSignal): Promise<number>;
  /** @throws {RequestError} */
  newest(): Promise<{ version: number; document: Finish }>;
  /** The server has committed exactly what is on screen. */
  saved?(version: number): void;
};

/** A save that is not answered within this time is sent again. */
const patience = 20_000;
const pauses = [1000, 2000, 4000, 8000, 16_000, 30_000];

/**
 * Saves after each edit, one save at a time, the newest document next. The state is *saved* only while the server has committed exactly
 * what is on screen. What fails for a passing reason is tried again after growing pauses; what the server refuses is said, and tried
 * again with the next edit.
 */
export function startAutosave(store: ShotStore, version: number, channel: Channel) {
  let base = version;
  let committed = store.getState().finish;
  /** Was sent and not answered yet: nothing else is sent before it is. */
  let open: Save | undefined;
  let busy: Promise<void> | undefined;
  let failures = 0;
  let refused: Finish | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** The newest version that is known, and how often one was heard of. */
  let heardOf = version;
  let heard = 0;
  let ended = false;

  const { change } = store.getState();
  const isClean = () => store.getState().finish === committed;
  const isConflict = () => store.getState().save.state === 'conflict';

  async function sent(save: Save): Promise<number> {
    const abort = new AbortController();
    const timeout = setTimeout(() => abort.abort(), patience);
    try {
      return await channel.send(save, abort.signal);
    } catch (error) {
      if (error instanceof RequestError) throw error;
      if (abort.signal.aborted) throw new RequestError('unreachable', 'The server does not answer.');
      throw error;
    } finally {
      clearTimeout(timeout);
    }
  }

  /** Somebody saved in between: nothing is to be done where it is the same document. */
  async function settleConflict(newest: number) {
    const theirs = await channel.newest();
    if (!dequal(theirs.document, store.getState().finish)) {
      change({ save: { state: 'conflict', newest } });
      return;
    }
    base = theirs.version;
    committed = store.getState().finish;
  }

  async function work() {
    try {
      while (!isClean() && !isConflict() && !ended) {
        const { finish, label } = store.getState();
        if (finish === refused && !open) return;
        change({ save: { state: 'saving' } });
        open ??= { from: base, document: finish, label: label || 'edit', save: crypto.randomUUID() };
        const sending = open;
        try {
          base = await sent(sending);
          committed = sending.document;
          open = undefined;
          failures = 0;
        } catch (error) {
          if (!(error instanceof RequestError)) throw error;
          if (error.passes) throw error;
          open = undefined;
          if (error.code === 'conflict') await settleConflict(error.newest ?? base);
          else {
            refused = sending.document;
            // Something newer may be fine.
            if (store.getState().finish !== refused) continue;
            change({ save: { state: 'failed', why: error.message, lasting: true } });
            return;
          }
        }
      }
      if (!isClean()) return;
      change({ save: { state: 'saved' } });
      channel.saved?.(base);
    } catch (error) {
      const pause = later(pump);
      const why = error instanceof RequestError ? error.message : `This page cannot save: ${error}.`;
      change({
        save: {
          state: 'failed',
          why: `${why} Trying again in ${pause / 1000} s; keep this page open.`,
          lasting: false,
        },
      });
    }
  }

  /** Does something after the next pause, which it tells in milliseconds. */
  function later(job: () => void): number {
    const pause = pauses[Math.min(failures++, pauses.length - 1)];
    stopWaiting();
    if (!ended)
      timer = setTimeout(() => {
        timer = undefined;
        job();
      }, pause);
    return pause;
  }
  function stopWaiting() {
    clearTimeout(timer);
    timer = undefined;
  }

  /** Takes in what was saved elsewhere, once nothing of this page waits. */
  async function catchUp() {
    try {
      while (heardOf > base && isClean() && !ended) {
        const before = heard;
        const theirs = await channel.newest();
        failures = 0;
        // What was heard meanwhile may be newer than the answer: it is asked for once more.
        if (heard === before) heardOf = theirs.version;
        if (theirs.version <= base || !isClean() || ended) continue;
        base = theirs.version;
        if (!dequal(theirs.document, committed)) {
          committed = theirs.document;
          store.getState().replace(theirs.document, 'changes made elsewhere');
        }
        channel.saved?.(base);
      }
    } catch (error) {
      // Nobody may save for hours: it is asked for again.
      if (!(error instanceof RequestError) || error.passes) later(() => void alone(catchUp));
      // The finish is gone, or no longer to be seen: the next save says so.
      else heardOf = base;
    }
  }

  /** One thing at a time; what was edited or heard of in its last moment is done after it. */
  function alone(job: () => Promise<void>): Promise<void> {
    busy ??= job().finally(() => {
      busy = undefined;
      const { state } = store.getState().save;
      if (ended) return;
      // An edit waits for no pause but that of its own failure.
      if (!isClean() && (state === 'saved' || state === 'saving')) pump();
      else if (isClean() && heardOf > base && timer === undefined) void alone(catchUp);
    });
    return busy;
  }
  function pump(): Promise<void> {
    stopWaiting();
    return alone(() => work().then(catchUp));
  }

  const unsubscribe = store.subscribe((now, before) => {
    if (now.finish === before.finish) return;
    if (!isClean() && now.save.state === 'saved') change({ save: { state: 'saving' } });
    // An edit does not wait for the pause of an earlier failure.
    pump();
  });

  return {
    /** True while the server has all of it. */
    isClean,
    version: () => base,
    /** Sends what waits at once, and resolves when it is saved, refused, or has failed for now. */
    flush: pump,
    /** The version `newest` is there: if it is not of this page, it is taken in. */
    hear(newest: number) {
      heard++;
      heardOf = Math.max(heardOf, newest);
      alone(catchUp);
    },
    end() {
      ended = true;
      stopWaiting();
      unsubscribe();
    },
    /** After a conflict: this page's document becomes the newest version; the other stays in the history. */
    keepMine(newest: number) {
      base = newest;
      change({ save: { state: 'saving' } });
      return pump();
    },
    /** After a conflict: the other document comes in; undo leads back to this one. @throws {RequestError} */
    async takeTheirs() {
      const theirs = await channel.newest();
      base = theirs.version;
      committed = theirs.document;
      store.getState().replace(theirs.document);
      change({ save: { state: 'saved' } });
      channel.saved?.(base);
      // What was saved after it was heard of while nothing could be taken in.
      void alone(catchUp);
    },
  };
}

export type Autosave = ReturnType<typeof startAutosave>;
