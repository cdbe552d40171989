import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { type Crew, crew } from '../crew';

/**
 * A crew of `threads` on this machine, for one picture at a time: bench and tests. Exports render whole frames side by side instead.
 * `programs` is where the bundled programs and the module lie.
 */
export function nodeCrew(threads: number, programs: URL, megabytes = 2048, stopped?: () => boolean): Crew {
  const module = new WebAssembly.Module(readFileSync(new URL('kernels.wasm', programs)));
  const pages = megabytes * 16;
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
  const workers: Worker[] = [];
  const made = crew(
    module,
    memory,
    threads - 1,
    (start) => {
      workers.push(new Worker(new URL('crew-thread.mjs', programs), { workerData: start }));
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
