import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Machine } from '../../core/kernels/machine';
import { forPlainMemory, soloMachine } from '../../core/kernels/machine';

/** The kernels' module: beside the bundled programs, or in dist/ of the checkout that the server runs in. */
export function kernelsFile(): Buffer {
  const beside = import.meta.url.endsWith('.mjs') ? new URL(import.meta.url).pathname : '';
  const folder = /\/dist\/[^/]+$/.test(beside)
    ? join(beside, '..')
    : join(/* turbopackIgnore: true */ process.cwd(), 'dist');
  return readFileSync(join(/* turbopackIgnore: true */ folder, 'kernels.wasm'));
}

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
