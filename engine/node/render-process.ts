import workerpool from 'workerpool';
import { type FrameJob, renderFrame } from './render-frame';

/** Report of a renderer: the file that it reads now, if any. */
export type Reading = { pid: number; path?: string };

const reading = (path?: string) => workerpool.workerEmit({ pid: process.pid, path } satisfies Reading);

/** A process of the pool: renders one frame at a time. */
workerpool.worker({
  render(job: FrameJob) {
    reading();
    return renderFrame(job, reading);
  },
});
