import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { type ThreadPool, threadPool } from '../thread-pool';

/**
 * A thread pool of `threads` on this machine. With `late` its workers start when there is first something to share. `programs` is the folder of the bundled programs and the module.
 */
export function nodeThreadPool(
  threads: number,
  programs: URL,
  megabytes = 2048,
  { stopped, late }: { stopped?: () => boolean; late?: boolean } = {},
): ThreadPool {
  const module = new WebAssembly.Module(readFileSync(new URL('kernels.wasm', programs)));
  const pages = megabytes * 16;
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
  const workers: Worker[] = [];
  const made = threadPool(
    module,
    memory,
    threads - 1,
    (start) => {
      const worker = new Worker(new URL('pool-worker.mjs', programs), { workerData: start });
      // Whoever has nothing else to do ends.
      if (late) worker.unref();
      workers.push(worker);
    },
    stopped,
    undefined,
    undefined,
    late,
  );
  return {
    ...made,
    end() {
      made.end();
      for (const worker of workers) worker.unref();
    },
  };
}
