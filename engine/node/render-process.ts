import workerpool from 'workerpool';
import { collectShared } from './collect';
import { type FrameJob, renderFrame } from './render-frame';

/** Report of a renderer: the file that it reads now, if any. */
export type Reading = { pid: number; path?: string };

const reading = (path?: string) => workerpool.workerEmit({ pid: process.pid, path } satisfies Reading);

/** A process of the pool: renders one frame at a time. */
workerpool.worker({
  async render(job: FrameJob) {
    reading();
    const done = await renderFrame(job, reading);
    collectShared();
    return done;
  },
});
