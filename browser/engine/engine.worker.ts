import { expose, transfer } from 'comlink';
import { PictureCache } from '../../core/evaluate/cache';
import { framesAhead } from './frames';
import { measures } from './measures';
import { type MediaIndex, passSource } from './pass-source';
import { jobQueue, type Queue } from './queue';
import type { Counters } from './requests';
import { browserRuntime } from './runtime';
import { showing } from './show';
import { thumbnails } from './thumbnails';

/** The engine of one shot screen: the core on its runtime, over frames from the server. */
let media: MediaIndex = {};
const source = passSource(() => media);
const jobs = jobQueue();

const started = browserRuntime(jobs.isStopped, self.name === 'alone').then((runtime) => ({
  runtime,
  source,
  cache: new PictureCache(runtime.arena, runtime.arena.memory.buffer.byteLength * 0.6),
}));
// Told with the first thing that is asked.
started.catch(() => {});
const queue: Queue = (purpose, number, work) => jobs.add(purpose, number, started, work);

const asked = {
  ...showing(queue, source, transfer),
  ...framesAhead(queue, source, transfer),
  ...measures(queue, source),
  ...thumbnails(queue),
};
/** Calls of the page to the engine. The first argument of each is the number of the request. */
export type Asked = typeof asked;

const worker = {
  ...asked,
  /** Shared counter of the page's requests. */
  setCounters: (shared: Counters) => jobs.setCounters(shared),
  setMedia(index: MediaIndex) {
    media = index;
  },
  /** Resolves once every thread is there. */
  async started() {
    await started;
  },
};
export type EngineWorker = typeof worker;
expose(worker);
