import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { contentAt, type MediaEntry, type MediaIndex, passSource } from './pass-source';

const entry = (contents: Record<number, string>, more: Partial<MediaEntry> = {}): MediaEntry => ({
  id: 4,
  still: false,
  contents,
  gaps: 'missing',
  read: 'r',
  ...more,
});
const head = { type: 'pass', media: 'hall', pass: 'depth' } as const;

type Asked = { url: string; signal: AbortSignal; answer(body: object | ArrayBuffer, headers?: object): void };
let asked: Asked[] = [];

beforeEach(() => {
  asked = [];
  vi.stubGlobal(
    'fetch',
    (url: string, { signal = new AbortController().signal }: { signal?: AbortSignal } = {}) =>
      new Promise((done, failed) => {
        signal.addEventListener('abort', () => failed(signal.reason));
        asked.push({
          url,
          signal,
          answer: (body, headers) =>
            done(
              new Response(body instanceof ArrayBuffer ? body : JSON.stringify(body), {
                headers: headers as Record<string, string>,
              }),
            ),
        });
      }),
  );
});
afterEach(() => void vi.unstubAllGlobals());

const info = encodeURIComponent(JSON.stringify({ type: 'draft', width: 1, height: 1 }));
const settle = () => new Promise((done) => setTimeout(done, 2));

describe('what is fetched', () => {
  test('is fetched once for all that want it, and ends when the last of them no longer does', async () => {
    const source = passSource(() => ({ hall: entry({ 1: 'a' }) }));
    const [one, two] = [new AbortController(), new AbortController()];
    const first = source.load(head, 1, one.signal).catch((e) => e);
    const second = source.load(head, 1, two.signal).catch((e) => e);
    expect(asked).toHaveLength(1);
    one.abort(new Error('overtaken'));
    expect(await first).toMatchObject({ message: 'overtaken' });
    expect(asked[0].signal.aborted).toBe(false);
    two.abort(new Error('overtaken'));
    expect(await second).toMatchObject({ message: 'overtaken' });
    expect(asked[0].signal.aborted).toBe(true);
    // Asked for again it is fetched again.
    const third = source.load(head, 1);
    expect(asked).toHaveLength(2);
    asked[1].answer(new Float32Array(4).buffer, { 'x-zafiro-pass': info });
    await third;
    await source.load(head, 1);
    expect(asked).toHaveLength(2);
  });

  test('is not fetched for a request that has ended already: nothing is asked, and nothing fails unhandled', async () => {
    const source = passSource(() => ({ hall: entry({ 1: 'a' }) }));
    const ended = AbortSignal.abort(new Error('overtaken'));
    const unhandled: unknown[] = [];
    const listen = (error: unknown) => void unhandled.push(error);
    process.on('unhandledRejection', listen);
    await expect(source.load(head, 1, ended)).rejects.toThrow('overtaken');
    await source.ahead?.(head, 1, 1, ended);
    await settle();
    process.off('unhandledRejection', listen);
    expect(unhandled).toEqual([]);
    expect(asked).toHaveLength(0);
  });

  test('of a frame that is rendered anew is fetched anew: camera and names too', async () => {
    let media: MediaIndex = { hall: entry({ 1: 'before' }) };
    const source = passSource(() => media);
    const before = source.metadata('hall', 1);
    await settle();
    asked[0].answer({ objects: {}, camera: [0, 0, 1] });
    expect((await before).camera).toEqual([0, 0, 1]);
    await source.metadata('hall', 1);
    expect(asked).toHaveLength(1);
    media = { hall: entry({ 1: 'after' }) };
    const after = source.metadata('hall', 1);
    await settle();
    expect(asked[1].url).toContain('content=after');
    asked[1].answer({ objects: {}, camera: [0, 0, 9] });
    expect((await after).camera).toEqual([0, 0, 9]);
  });

  test('an error says what the server says', async () => {
    const source = passSource(() => ({ hall: entry({ 1: 'a' }) }));
    vi.stubGlobal('fetch', async () =>
      Response.json({ error: { code: 'media', message: 'Frame 1: it is cut short.' } }, { status: 422 }),
    );
    await expect(source.load(head, 1)).rejects.toThrow('Frame 1: it is cut short.');
    await expect(source.load(head, 2)).rejects.toThrow('Frame 2 of hall has not arrived yet.');
    await expect(source.load({ ...head, media: 'glass' }, 2)).rejects.toThrow('no media “glass”');
  });
});

test('a still stands on every frame; a drawing is held; what is missing is nothing', () => {
  expect(contentAt(entry({ 1: 's' }, { still: true }), 40)).toEqual({ of: 1, content: 's' });
  expect(contentAt(entry({}, { still: true }), 40)).toBeUndefined();
  expect(contentAt(entry({ 2: 'b' }, { gaps: 'hold' }), 5)).toEqual({ of: 2, content: 'b' });
  expect(contentAt(entry({ 2: 'b' }, { gaps: 'hold' }), 1)).toEqual({ of: 1, content: 'nothing' });
  expect(contentAt(entry({ 2: 'b' }), 3)).toBeUndefined();
});
