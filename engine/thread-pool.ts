import { Arena } from '../core/kernels/arena';
import {
  firstFree,
  inOrder,
  instantiate,
  type KernelName,
  type Kernels,
  kernelNames,
  type Runtime,
  scratchBytes,
} from '../core/kernels/runtime';

/**
 * Several threads on one shared memory. The driver writes a job into the control block, wakes the workers, and all
 * claim pieces of its range from one counter until none is left; then the driver waits for the last worker. The same in
 * browser workers and Node threads. A browser's main thread may not wait, so the driver is a worker there.
 */
const slot = {
  job: 0,
  kernel: 1,
  next: 2,
  total: 3,
  piece: 4,
  busy: 5,
  args: 6,
  stop: 7,
  end: 8,
  begun: 9,
  broken: 10,
} as const;
const argumentsAt = 256;

/** Start data of a worker. */
export type WorkerStart = { module: WebAssembly.Module; memory: WebAssembly.Memory; scratch: number };

type Control = { word: Int32Array; args: Float64Array };
const controlOf = (memory: WebAssembly.Memory): Control => ({
  word: new Int32Array(memory.buffer, 0, 16),
  args: new Float64Array(memory.buffer, argumentsAt, 32),
});

/** Claims pieces until the range is spent. */
function work({ word }: Control, kernel: Kernels[KernelName] | undefined, args: number[], scratch: number) {
  const total = word[slot.total];
  const piece = word[slot.piece];
  for (;;) {
    const from = Atomics.add(word, slot.next, piece);
    if (from >= total || Atomics.load(word, slot.stop)) return;
    if (!kernel) throw new Error('The programs are from another build than the kernels.');
    kernel(...args, from, Math.min(total, from + piece), scratch);
  }
}

/** A thread of the engine that does not begin, traps, or no longer answers: what was asked cannot be computed on this thread pool. */
export class ThreadPoolError extends Error {
  override name = 'ThreadPoolError';
}

/** Pieces take milliseconds: a thread pool that does not move for so long has lost a thread. */
const usualPatience = 20_000;

/** A worker's life: waits for jobs until the thread pool ends. Blocks its thread. An error in it is reported to the driver, and it continues. */
export function runWorker({ module, memory, scratch }: WorkerStart) {
  const control = controlOf(memory);
  const { word, args } = control;
  const kernels = instantiate(module, memory);
  Atomics.add(word, slot.begun, 1);
  let seen = 0;
  for (;;) {
    Atomics.wait(word, slot.job, seen);
    seen = Atomics.load(word, slot.job);
    if (Atomics.load(word, slot.end)) return;
    try {
      const given = Array.from(args.subarray(0, word[slot.args]));
      work(control, kernels[kernelNames[word[slot.kernel]]], given, scratch);
    } catch {
      Atomics.store(word, slot.broken, 1);
      Atomics.store(word, slot.stop, 1);
    }
    if (Atomics.sub(word, slot.busy, 1) === 1) Atomics.notify(word, slot.busy);
  }
}

export type ThreadPool = Runtime & {
  end(): void;
  /** Whether the workers take part in what comes; they do at first. */
  share(on: boolean): void;
};

/**
 * A runtime of `workers` + 1 threads on a shared memory. `stopped` is asked between pieces and at checkpoints: once it says
 * so, the running kernel ends within a piece and `whenStopped` is thrown.
 */
export function threadPool(
  module: WebAssembly.Module,
  memory: WebAssembly.Memory,
  workers: number,
  startWorker: (start: WorkerStart) => void,
  stopped: () => boolean = () => false,
  whenStopped: () => Error = () => new Error('stopped'),
  patience = usualPatience,
  /** Workers are started when there is first something to share. */
  late = false,
): ThreadPool {
  const control = controlOf(memory);
  const { word } = control;
  const kernels = instantiate(module, memory);
  let [started, shares] = [false, true];
  const startAll = () => {
    started = true;
    for (let i = 1; i <= workers; i++) startWorker({ module, memory, scratch: firstFree + i * scratchBytes });
  };
  if (!late) startAll();
  const checkpoint = () => {
    if (stopped()) throw whenStopped();
  };
  /** Until every worker is through with its pieces. @throws {ThreadPoolError} where one is lost or has trapped. */
  const join = (name: string) => {
    let [left, moved] = [-1, performance.now()];
    for (let busy = Atomics.load(word, slot.busy); busy > 0; busy = Atomics.load(word, slot.busy)) {
      Atomics.wait(word, slot.busy, busy, patience / 20);
      const now = Atomics.load(word, slot.next) + busy;
      if (now !== left) [left, moved] = [now, performance.now()];
      else if (performance.now() - moved > patience) {
        const begun = Atomics.load(word, slot.begun);
        throw new ThreadPoolError(
          begun < workers
            ? `Only ${begun} of ${workers} threads of the engine have started.`
            : `A thread of the engine does not answer (${name}).`,
        );
      }
    }
    if (Atomics.exchange(word, slot.broken, 0))
      throw new ThreadPoolError(`A thread of the engine failed (${name}).`);
  };
  return {
    arena: new Arena(memory, firstFree + (workers + 1) * scratchBytes),
    threads: workers + 1,
    checkpoint,
    run(name, total, piece, named) {
      checkpoint();
      const args = inOrder(name, named);
      if (workers === 0 || !shares || total <= piece) {
        kernels[name](...args, 0, total, firstFree);
        return;
      }
      if (!started) startAll();
      control.args.set(args);
      word[slot.kernel] = kernelNames.indexOf(name);
      word[slot.args] = args.length;
      word[slot.total] = total;
      word[slot.piece] = piece;
      Atomics.store(word, slot.stop, 0);
      Atomics.store(word, slot.next, 0);
      Atomics.store(word, slot.busy, workers);
      Atomics.add(word, slot.job, 1);
      Atomics.notify(word, slot.job);
      const kernel = kernels[name];
      try {
        for (;;) {
          const from = Atomics.add(word, slot.next, piece);
          if (from >= total || Atomics.load(word, slot.stop)) break;
          if (stopped()) {
            Atomics.store(word, slot.stop, 1);
            break;
          }
          kernel(...args, from, Math.min(total, from + piece), firstFree);
        }
      } catch (error) {
        // The workers are still at work on the same pictures.
        Atomics.store(word, slot.stop, 1);
        join(name);
        throw error;
      }
      join(name);
      checkpoint();
    },
    share(on) {
      shares = on;
    },
    end() {
      Atomics.store(word, slot.end, 1);
      Atomics.add(word, slot.job, 1);
      Atomics.notify(word, slot.job);
    },
  };
}
