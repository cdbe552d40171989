import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { type ThreadPool, threadPool } from '../thread-pool';

/**
 * A thread pool of `threads` on this machine, for one picture at a time: bench and tests. Exports render whole frames side by side instead.
 * `programs` is the folder of the bundled programs and the module.
 */
export function nodeThreadPool(
  threads: number,
  programs: URL,
  megabytes = 2048,
  stopped?: () => boolean,
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
      workers.push(new Worker(new URL('pool-worker.mjs', programs), { workerData: start }));
    },
    stopped,
  );
  return {
    ...made,
    end() {
      made.end();
      for (const worker of workers) worker.unref();
    },
  };
}
