import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Runtime } from '../../core/kernels/runtime';
import { forPlainMemory, soloRuntime } from '../../core/kernels/runtime';

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

let runtime: Runtime | undefined;

/** This process's own runtime: frames are rendered side by side, one a process, which wastes least. */
export function threadRuntime(): Runtime {
  if (!runtime) {
    const pages = reserved * 16;
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    runtime = soloRuntime(new WebAssembly.Module(forPlainMemory(kernelsFile())), memory);
  }
  return runtime;
}
