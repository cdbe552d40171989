import { readFileSync } from 'node:fs';
import type { Machine } from '../../core/kernels/machine';
import { forPlainMemory, soloMachine } from '../../core/kernels/machine';

/** The kernels' module, beside the bundled programs. */
export const kernelsFile = () => readFileSync(new URL('./kernels.wasm', import.meta.url));

/** Address space set aside for one thread's pictures; the host commits it as it is used. */
const reserved = 3 * 1024;

let machine: Machine | undefined;

/** This thread's own machine: frames are rendered side by side, one a thread, which wastes least. */
export function threadMachine(): Machine {
  if (!machine) {
    const pages = reserved * 16;
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    machine = soloMachine(new WebAssembly.Module(forPlainMemory(kernelsFile())), memory);
  }
  return machine;
}
