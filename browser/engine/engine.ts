import { proxy, type Remote, wrap } from 'comlink';
import type { Asked, EngineWorker } from './engine.worker';
import type { MediaIndex } from './pass-source';
import { ask, newCounters, type Purpose } from './requests';

/** The purpose that each question is counted under: a newer one of the same overtakes it. */
const purposeOf: Record<keyof Asked, Purpose> = {
  show: 'viewer',
  stopShowing: 'viewer',
  pixel: 'pick',
  lookupTable: 'pick',
  start: 'start',
  journey: 'journey',
  histogram: 'histogram',
  values: 'histogram',
  residual: 'histogram',
  scopes: 'scopes',
  thumbnails: 'thumbnails',
  tried: 'tries',
  coverage: 'coverage',
  stopCoverage: 'coverage',
  middles: 'middles',
  allShares: 'middles',
  stopMiddles: 'middles',
  scenePlaces: 'middles',
  followPatch: 'middles',
  frameKeys: 'keys',
  framePicture: 'ready',
  dropFrames: 'ready',
};

type Rest<F> = F extends (number: number, ...args: infer A) => infer R ? (...args: A) => R : never;
/**
 * What the screens ask of the engine: the worker's questions without the numbers of their requests. `undefined` answers one that a newer of its
 * kind has overtaken.
 */
export type Engine = { [K in keyof Asked]: Rest<Asked[K]> } & { setMedia(index: MediaIndex): Promise<void> };

/** The engine has stopped: a thread could not be started, or broke. What was asked is not answered. */
export class EngineStopped extends Error {
  override name = 'EngineStopped';
}

const words = (event: ErrorEvent | Event) =>
  'message' in event && event.message
    ? event.message.replace(/^Uncaught (Error: )?/, '')
    : 'Its worker failed.';

/**
 * Starts the engine's worker. With `?alone` in the page's address it works on one thread and plain memory, as it does on a host without
 * shared memory. `failed` is called once should it stop; nothing more is answered then. The console reaches it as `zafiroEngine`.
 */
export function startEngine(failed: (error: EngineStopped) => void): { engine: Engine; end(): void } {
  const name = new URLSearchParams(location.search).has('alone') ? 'alone' : '';
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name });
  const remote: Remote<EngineWorker> = wrap<EngineWorker>(worker);
  const counters = newCounters();
  /** Requests that wait for an answer. */
  const waiting = new Set<(error: Error) => void>();
  let stopped: EngineStopped | undefined;
  const stop = (why: string) => {
    if (stopped) return;
    stopped = new EngineStopped(why);
    worker.terminate();
    for (const reject of waiting) reject(stopped);
    waiting.clear();
    failed(stopped);
  };
  worker.addEventListener('error', (event) => {
    event.preventDefault();
    stop(words(event));
  });
  worker.addEventListener('messageerror', () => stop('A message of its worker could not be read.'));

  const answered = <T>(asking: () => Promise<T>): Promise<T> =>
    new Promise((resolve, reject) => {
      if (stopped) return reject(stopped);
      waiting.add(reject);
      asking()
        .then(resolve, (error: Error) => {
          // A thread pool that has lost a thread computes nothing more.
          if (error.name === 'ThreadPoolError') stop(error.message);
          reject(error);
        })
        .finally(() => waiting.delete(reject));
    });

  answered(() => remote.setCounters(counters) as Promise<void>).catch(() => {});
  answered(() => remote.started() as Promise<void>).catch((error) => stop((error as Error).message));
  const passed = (arg: unknown) => (typeof arg === 'function' ? proxy(arg as () => void) : arg);
  const questions = Object.fromEntries(
    (Object.keys(purposeOf) as (keyof Asked)[]).map((key) => [
      key,
      (...args: unknown[]) =>
        answered(() =>
          (remote[key] as unknown as (...all: unknown[]) => Promise<unknown>)(
            ask(counters, purposeOf[key]),
            ...args.map(passed),
          ),
        ),
    ]),
  ) as Omit<Engine, 'setMedia'>;
  const engine: Engine = {
    ...questions,
    setMedia: (index) => answered(() => remote.setMedia(index) as Promise<void>),
  };
  Object.assign(globalThis, { zafiroEngine: engine });
  return { engine, end: () => worker.terminate() };
}
