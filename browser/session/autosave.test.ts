import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { RequestError } from '../../api/request';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { type Save, startAutosave } from './autosave';
import { createShotStore } from './store';

const first = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('hall', 'Hall', { type: 'pass', media: 'hall', pass: '' }),
);

/** What the server does with a save: an answer, or what goes wrong. */
type Answer = 'fine' | 'silent' | 'late' | 'lost' | RequestError;

/** A server that keeps versions as the real one does, and misbehaves on request, one save after the other. */
function server() {
  const versions: { document: Finish; save: string }[] = [{ document: first, save: '' }];
  const answers: Answer[] = [];
  const asked: Save[] = [];
  const commit = ({ from, document, save }: Save): number => {
    const before = versions.findIndex((v) => v.save === save);
    if (before > 0) return before + 1;
    if (from !== versions.length)
      throw new RequestError('conflict', 'Saved elsewhere.', undefined, versions.length);
    versions.push({ document, save });
    return versions.length;
  };
  return {
    versions,
    answers,
    asked,
    newest: async () => ({ version: versions.length, document: versions[versions.length - 1].document }),
    send: (save: Save, signal: AbortSignal) =>
      new Promise<number>((done, failed) => {
        asked.push(save);
        const answer = answers.shift() ?? 'fine';
        signal.addEventListener('abort', () => failed(new DOMException('aborted', 'AbortError')));
        const settle = () => {
          try {
            done(commit(save));
          } catch (error) {
            failed(error);
          }
        };
        if (answer instanceof RequestError) return failed(answer);
        if (answer === 'silent') return;
        // Committed, but the answer never comes.
        if (answer === 'lost') return void commit(save);
        if (answer === 'late') return void setTimeout(settle, 30_000);
        settle();
      }),
  };
}

const began = () => {
  const theServer = server();
  const store = createShotStore(first, 1);
  const saved: number[] = [];
  const autosave = startAutosave(store, 1, { ...theServer, saved: (v) => saved.push(v) });
  const amount = (to: number) => store.getState().edit((doc) => setValue(doc, 'bloom', 'amount', to));
  const now = () => store.getState().save;
  const onServer = () => theServer.versions[theServer.versions.length - 1].document;
  return { ...theServer, store, saved, autosave, amount, now, onServer };
};
const passes = async (millis: number) => void (await vi.advanceTimersByTimeAsync(millis));

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

describe('a save', () => {
  test('is of the newest document, one at a time, and says saved only then', async () => {
    const { amount, now, onServer, store, asked, saved } = began();
    amount(1);
    expect(now().state).toBe('saving');
    amount(2);
    amount(3);
    await passes(10);
    expect(now().state).toBe('saved');
    expect(onServer()).toBe(store.getState().finish);
    // The first was on its way; the second is not worth a version.
    expect(asked.map((s) => s.document.strands[0].steps[0].values.amount)).toEqual([1, 3]);
    expect(saved.at(-1)).toBe(3);
  });

  test('that the server refuses is said once and not sent again until there is another edit', async () => {
    const { answers, amount, now, asked, onServer, store } = began();
    answers.push(new RequestError('refused', 'A note has at most 2000 letters.'));
    amount(1);
    await passes(120_000);
    expect(asked).toHaveLength(1);
    expect(now()).toMatchObject({ state: 'failed', lasting: true });
    amount(2);
    await passes(10);
    expect(now().state).toBe('saved');
    expect(onServer()).toBe(store.getState().finish);
  });

  test.each(['internal', 'unreachable', 'disk-full', 'unavailable'] as const)(
    'that fails for a passing reason (%s) is tried again after growing pauses, and no edit is lost',
    async (code) => {
      const { answers, amount, now, asked, onServer, store } = began();
      for (let i = 0; i < 4; i++) answers.push(new RequestError(code, 'Not now.'));
      amount(1);
      await passes(500);
      expect(now()).toMatchObject({ state: 'failed', lasting: false });
      expect((now() as { why: string }).why).toContain('Trying again in 1 s');
      await passes(1000);
      expect(asked).toHaveLength(2);
      await passes(1000);
      expect(asked).toHaveLength(2);
      await passes(20_000);
      expect(now().state).toBe('saved');
      expect(onServer()).toBe(store.getState().finish);
    },
  );

  test('without an answer is sent again as the same save', async () => {
    const { answers, amount, now, asked, versions } = began();
    answers.push('silent');
    amount(1);
    await passes(25_000);
    expect(asked).toHaveLength(2);
    expect(asked[1].save).toBe(asked[0].save);
    expect(now().state).toBe('saved');
    expect(versions).toHaveLength(2);
  });

  test('whose answer was lost is no conflict with itself, also when edits came after it', async () => {
    const { answers, amount, now, versions, onServer, store } = began();
    answers.push('lost');
    amount(1);
    await passes(5000);
    amount(2);
    await passes(30_000);
    expect(now().state).toBe('saved');
    expect(versions).toHaveLength(3);
    expect(onServer()).toBe(store.getState().finish);
  });

  test('that is answered after 30 seconds is one save', async () => {
    const { answers, amount, now, versions, onServer, store } = began();
    answers.push('late');
    amount(1);
    await passes(60_000);
    expect(now().state).toBe('saved');
    expect(versions).toHaveLength(2);
    expect(onServer()).toBe(store.getState().finish);
  });
});

describe('somebody else', () => {
  const theirs = setValue(first, 'bloom', 'radius', 33).apply(first);

  test('who saves while nothing waits here is shown, and undo leads back', async () => {
    const { autosave, versions, store, now } = began();
    versions.push({ document: theirs, save: 'theirs' });
    autosave.hear(2);
    await passes(10);
    expect(store.getState().finish).toBe(theirs);
    expect(now().state).toBe('saved');
    store.getState().undo();
    await passes(10);
    expect(store.getState().finish).toEqual(first);
    expect(versions).toHaveLength(3);
  });

  test('who saves in between makes a conflict, and both can be had', async () => {
    const { amount, versions, now, autosave, store, onServer } = began();
    versions.push({ document: theirs, save: 'theirs' });
    amount(1);
    await passes(10);
    expect(now()).toEqual({ state: 'conflict', newest: 2 });
    // Nothing is sent until somebody has chosen.
    amount(2);
    await passes(60_000);
    expect(versions).toHaveLength(2);
    autosave.keepMine(2);
    await passes(10);
    expect(onServer()).toBe(store.getState().finish);

    const other = began();
    other.versions.push({ document: theirs, save: 'theirs' });
    other.amount(1);
    await passes(10);
    await other.autosave.takeTheirs();
    expect(other.store.getState().finish).toBe(theirs);
    other.store.getState().undo();
    await passes(10);
    expect(other.onServer().strands[0].steps[0].values.amount).toBe(1);
  });

  test('who has saved the same document is no conflict', async () => {
    const { amount, versions, now } = began();
    versions.push({ document: setValue(first, 'bloom', 'amount', 1).apply(first), save: 'theirs' });
    amount(1);
    await passes(10);
    expect(now().state).toBe('saved');
    expect(versions).toHaveLength(2);
  });

  test('is heard of while a save of this page is on its way', async () => {
    const { amount, autosave, answers, now, versions } = began();
    answers.push('late');
    amount(1);
    await passes(100);
    // An own version, announced by an event before the save itself is answered.
    autosave.hear(2);
    await passes(60_000);
    expect(now().state).toBe('saved');
    expect(versions).toHaveLength(2);
  });

  test.each([
    ['by its number', 3],
    ['without one', Number.POSITIVE_INFINITY],
  ])('and once more, %s, while the first is still asked for: both are taken in', async (_, second) => {
    const theServer = server();
    const store = createShotStore(first, 1);
    // Answers as the server knew them when it was asked, a second later.
    let asked = 0;
    const newest = async () => {
      asked++;
      const known = await theServer.newest();
      await new Promise((done) => setTimeout(done, 1000));
      return known;
    };
    const autosave = startAutosave(store, 1, { ...theServer, newest });
    const elsewhere = (amount: number) =>
      theServer.versions.push({
        document: setValue(first, 'bloom', 'amount', amount).apply(first),
        save: `${amount}`,
      });
    elsewhere(0.1);
    autosave.hear(Number.isFinite(second) ? 2 : second);
    await passes(500);
    elsewhere(0.2);
    autosave.hear(second);
    await passes(5000);
    expect([autosave.version(), asked]).toEqual([3, 2]);
    expect(store.getState().finish.strands[0].steps[0].values.amount).toBe(0.2);
  });

  test('is taken in although the server did not answer when it was asked', async () => {
    const theServer = server();
    const store = createShotStore(first, 1);
    const newest = vi
      .fn(theServer.newest)
      .mockRejectedValueOnce(new RequestError('unreachable', 'The server does not answer.'))
      .mockRejectedValueOnce(new RequestError('internal', 'The server answered 500.'));
    const autosave = startAutosave(store, 1, { ...theServer, newest });
    theServer.versions.push({ document: theirs, save: 'theirs' });
    autosave.hear(2);
    await passes(10_000);
    expect(store.getState().finish).toBe(theirs);
    expect(newest).toHaveBeenCalledTimes(3);
    expect(store.getState().save.state).toBe('saved');
  });

  test('who cannot be asked for keeps no edit waiting that was made meanwhile', async () => {
    const theServer = server();
    const store = createShotStore(first, 1);
    const newest = () =>
      new Promise<never>((_, failed) => {
        setTimeout(() => failed(new RequestError('unreachable', 'The server does not answer.')), 100);
      });
    const autosave = startAutosave(store, 1, { ...theServer, newest });
    // Pauses have grown by then.
    autosave.hear(Number.POSITIVE_INFINITY);
    await passes(20_050);
    autosave.hear(Number.POSITIVE_INFINITY);
    await passes(50);
    store.getState().edit((doc) => setValue(doc, 'bloom', 'amount', 1));
    await passes(500);
    expect(theServer.versions).toHaveLength(2);
  });

  test('who saves once more while their document is being taken is not missed', async () => {
    const { amount, versions, now, autosave, store } = began();
    versions.push({ document: theirs, save: 'theirs' });
    amount(1);
    await passes(10);
    expect(now().state).toBe('conflict');
    const taken = autosave.takeTheirs();
    // The answer is on its way with version 2 when version 3 is heard of.
    const last = setValue(theirs, 'bloom', 'radius', 44).apply(theirs);
    versions.push({ document: last, save: 'last' });
    autosave.hear(3);
    await taken;
    await passes(10);
    expect(store.getState().finish).toBe(last);
  });
});
