import { Overtaken } from '../../core/evaluate/run';
import { forPlainMemory, type Machine, soloMachine } from '../../core/kernels/machine';
import { crew } from '../../engine/crew';

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

/**
 * The engine's machine in a browser's worker: a crew on shared memory where the page is isolated, else one thread on plain
 * memory with the same module.
 */
export async function browserMachine(
  stopped: () => boolean,
  alone = !self.crossOriginIsolated,
): Promise<Machine> {
  const response = await fetch('/kernels.wasm');
  if (!response.ok) throw new Error('The engine’s program could not be fetched.');
  const wasm = new Uint8Array(await response.arrayBuffer());
  if (alone) return soloMachine(await WebAssembly.compile(forPlainMemory(wasm)), reserve(false));
  const helpers = Math.max(0, Math.min(8, navigator.hardwareConcurrency) - 1);
  const ready: Promise<unknown>[] = [];
  const made = crew(
    await WebAssembly.compile(wasm),
    reserve(true),
    helpers,
    (start) => {
      const worker = new Worker(new URL('./crew.worker.ts', import.meta.url), { type: 'module' });
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
