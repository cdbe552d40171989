import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { FrameDone, FrameJob } from './render-frame';

export type RenderPool = {
  render(job: FrameJob, signal?: AbortSignal): Promise<FrameDone>;
  threads: number;
  close(): Promise<void>;
};

/** Threads that render frames; a frame that is aborted ends its thread, which is replaced. */
export function renderPool(threads = availableParallelism()): RenderPool {
  const pool = new Piscina<FrameJob, FrameDone>({
    filename: new URL('./render-thread.mjs', import.meta.url).href,
    minThreads: 1,
    maxThreads: threads,
    idleTimeout: 60_000,
  });
  return {
    threads,
    render: (job, signal) => pool.run(job, { signal }),
    close: () => pool.close({ force: true }),
  };
}
