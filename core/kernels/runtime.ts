import { Arena } from './arena';
import { kernelParameters } from './bindings';

/**
 * The kernels' module on a memory, and how its kernels are run: by one thread here, by several in engine/.
 * Memory: 0 … 1023 the thread pool's control block, then the module's constants up to `firstFree`, then scratch for each thread, then the arena.
 */
export type KernelName = keyof typeof kernelParameters;
export const kernelNames = Object.keys(kernelParameters) as readonly KernelName[];

type Split<Names extends string> = Names extends `${infer First} ${infer Rest}` ? First | Split<Rest> : Names;
/** Arguments of a kernel by name: numbers, switches (0 or 1), and byte addresses (0 for none). */
export type KernelArguments<Name extends KernelName> = Record<Split<(typeof kernelParameters)[Name]>, number>;

const parametersOf = new Map(kernelNames.map((name) => [name, kernelParameters[name].split(' ')]));
/** The same in the kernel's order. */
export const inOrder = <Name extends KernelName>(name: Name, args: KernelArguments<Name>): number[] =>
  parametersOf.get(name)!.map((parameter) => args[parameter as keyof typeof args]);

type Kernel = (...args: number[]) => void;
export type Kernels = Record<KernelName, Kernel>;

export const firstFree = 64 * 1024;
/** Scratch of one thread: enough for transforms of 16384, and for lines of 65536 pixels with 12 a pixel (`gatherIn`). */
export const scratchBytes = 16 * 1024 * 1024;

export type Runtime = {
  arena: Arena;
  threads: number;
  /** Runs a kernel over 0 … `total`, in pieces of `piece` where threads share it. */
  run<Name extends KernelName>(name: Name, total: number, piece: number, args: KernelArguments<Name>): void;
  /** Thrown into a running kernel's caller when the host no longer wants the result. */
  checkpoint(): void;
};

/** The module that imports a shared memory, changed to import a plain one: the flag of its memory's limits. */
export function forPlainMemory(wasm: Uint8Array): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(wasm);
  const name = [3, 101, 110, 118, 6, 109, 101, 109, 111, 114, 121, 2];
  for (let i = 0; i < bytes.length - name.length; i++) {
    if (!name.every((b, k) => bytes[i + k] === b)) continue;
    if (bytes[i + name.length] === 3) bytes[i + name.length] = 1;
    return bytes;
  }
  throw new Error('The module imports no memory.');
}

export const instantiate = (module: WebAssembly.Module, memory: WebAssembly.Memory): Kernels =>
  new WebAssembly.Instance(module, { env: { memory } }).exports as unknown as Kernels;

/** A runtime of one thread, on any memory. */
export function soloRuntime(module: WebAssembly.Module, memory: WebAssembly.Memory): Runtime {
  const kernels = instantiate(module, memory);
  return {
    arena: new Arena(memory, firstFree + scratchBytes),
    threads: 1,
    run: (name, total, _, args) => kernels[name](...inOrder(name, args), 0, total, firstFree),
    checkpoint() {},
  };
}
