import { Overtaken } from '../../core/evaluate/run';
import { forPlainMemory, type Runtime, soloRuntime } from '../../core/kernels/runtime';
import { threadPool } from '../../engine/thread-pool';
import { sharesMemory } from './shared-memory';

const pagesOf = (megabytes: number) => megabytes * 16;

/** Reserved up front; a host that will not give as much is asked for less. */
function reserve(shared: boolean): WebAssembly.Memory {
  for (const megabytes of [2048, 1024, 512]) {
    try {
      const pages = pagesOf(megabytes);
      return new WebAssembly.Memory({ initial: pages, maximum: pages, shared });
    } catch {
      // Less, then.
    }
  }
  throw new Error('This browser has no memory for the engine: close other pages and reload.');
}

const triedSharing = () =>
  sharesMemory(() => new Worker(new URL('./shared-memory.worker.ts', import.meta.url), { type: 'module' }));

async function fetchKernels(): Promise<Uint8Array<ArrayBuffer>> {
  const response = await fetch('/kernels.wasm');
  if (!response.ok) throw new Error('The engine’s program could not be fetched.');
  return new Uint8Array(await response.arrayBuffer());
}

/**
 * The engine's runtime in a browser's worker: a thread pool on shared memory where that was tried and works, else one thread on plain memory with
 * the same module. `alone` asks for one thread.
 */
export async function browserRuntime(stopped: () => boolean, alone: boolean): Promise<Runtime> {
  const [wasm, shares] = await Promise.all([fetchKernels(), !alone && triedSharing()]);
  if (!shares) return soloRuntime(await WebAssembly.compile(forPlainMemory(wasm)), reserve(false));
  const workers = Math.max(0, Math.min(8, navigator.hardwareConcurrency) - 1);
  const ready: Promise<unknown>[] = [];
  const made = threadPool(
    await WebAssembly.compile(wasm),
    reserve(true),
    workers,
    (start) => {
      const worker = new Worker(new URL('./pool.worker.ts', import.meta.url), { type: 'module' });
      ready.push(
        new Promise((done, failed) => {
          worker.addEventListener('message', done, { once: true });
          worker.addEventListener('error', (event) => {
            event.preventDefault();
            failed(new Error(`A thread of the engine could not be started. ${event.message ?? ''}`.trim()));
          });
        }),
      );
      worker.postMessage(start);
    },
    stopped,
    () => new Overtaken(),
  );
  // A worker that blocks before its own workers have begun would wait for them for ever.
  await Promise.all(ready);
  return made;
}
