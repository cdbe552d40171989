import { proxy, wrap } from 'comlink';
import type { Place } from '../core/evaluate/plan';
import type { Finish, Tap } from '../core/finish/finish';
import type { BandChannel } from '../core/kernels/key';
import type { Region } from '../core/picture/region';
import type { LightHistogram } from '../core/scopes/light';
import type { Looking } from '../core/scopes/looking';
import type { ValueHistogram } from '../core/scopes/values';
import type { Beside, Measured, Noticed, Shown, Stop, Engine as WorkerEngine } from './engine.worker';
import type { MediaIndex } from './pass-source';
import { ask, newCounters } from './requests';

/** What the screens ask of the engine. `undefined` answers a request that a newer one of its kind has overtaken. */
export type Engine = {
  setMedia(index: MediaIndex): Promise<void>;
  /** Shows each of `scales` in turn as it is ready; true once the last was shown. */
  show(
    request: { finish: Finish; place: Place; frame: number; region?: Region },
    scales: number[],
    view: Looking,
    ready: (shown: Shown) => void,
    beside?: Beside,
  ): Promise<boolean | undefined>;
  journey(finish: Finish, strand: string, frame: number, x: number, y: number): Promise<Stop[] | undefined>;
  histogram(finish: Finish, stepId: string, frame: number): Promise<LightHistogram | undefined>;
  values(
    finish: Finish,
    stepId: string,
    channel: BandChannel,
    frame: number,
    slot?: string,
  ): Promise<ValueHistogram | undefined>;
  pixel(finish: Finish, stepId: string, frame: number, x: number, y: number): Promise<number[] | undefined>;
  residual(
    finish: Finish,
    strand: string,
    frame: number,
  ): Promise<{ mean: number; most: number } | undefined>;
  scopes(finish: Finish, place: Place, frame: number): Promise<Measured | undefined>;
  thumbnails(finish: Finish, frame: number): Promise<Noticed | undefined>;
  /** Tells the share that a matte covers, frame by frame. */
  coverage(
    finish: Finish,
    place: Tap,
    frames: number[],
    told: (frame: number, share: number) => void,
  ): Promise<boolean | undefined>;
};

/**
 * Starts the engine's worker. With `?alone` in the page's address it works on one thread and plain memory, as it does on a host
 * without shared memory. The console reaches it as `zafiroEngine`.
 */
export function startEngine(): { engine: Engine; end(): void } {
  const name = new URLSearchParams(location.search).has('alone') ? 'alone' : '';
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name });
  const remote = wrap<WorkerEngine>(worker);
  const counters = newCounters();
  remote.setCounters(counters);
  const engine: Engine = {
    setMedia: (index) => remote.setMedia(index),
    show: (request, scales, view, ready, beside) =>
      remote.show(ask(counters, 'viewer'), request, scales, view, proxy(ready), beside),
    journey: (...of) => remote.journey(ask(counters, 'journey'), ...of),
    histogram: (...of) => remote.histogram(ask(counters, 'histogram'), ...of),
    values: (...of) => remote.values(ask(counters, 'histogram'), ...of),
    pixel: (...of) => remote.pixel(ask(counters, 'journey'), ...of),
    residual: (...of) => remote.residual(ask(counters, 'histogram'), ...of),
    scopes: (...of) => remote.scopes(ask(counters, 'scopes'), ...of),
    coverage: (finish, place, frames, told) =>
      remote.coverage(ask(counters, 'coverage'), finish, place, frames, proxy(told)),
    thumbnails: (...of) => remote.thumbnails(ask(counters, 'thumbnails'), ...of),
  };
  Object.assign(globalThis, { zafiroEngine: engine });
  return { engine, end: () => worker.terminate() };
}
