/**
 * Whether this browser's workers share memory: memory is made, sent to a worker, written there, and read here. Tried rather than asked for, since
 * a page may be isolated in a browser that cannot send such memory. False also where no answer comes within `patience` milliseconds.
 */
export async function sharesMemory(start: () => Worker, patience = 5000): Promise<boolean> {
  let worker: Worker | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  try {
    const memory = new WebAssembly.Memory({ initial: 1, maximum: 1, shared: true });
    const trial = start();
    worker = trial;
    const answered = new Promise<boolean>((done) => {
      timer = setTimeout(() => done(false), patience);
      trial.onmessage = () => done(true);
      trial.onerror = (event) => {
        event.preventDefault();
        done(false);
      };
    });
    trial.postMessage(memory);
    return (await answered) && Atomics.load(new Int32Array(memory.buffer), 0) === written;
  } catch {
    // It cannot be made, or not be sent.
    return false;
  } finally {
    clearTimeout(timer);
    worker?.terminate();
  }
}

/** What the worker of the trial writes. */
const written = 0x5afe;

/** The worker's part. */
export function writeShared(memory: WebAssembly.Memory): void {
  Atomics.store(new Int32Array(memory.buffer), 0, written);
}
