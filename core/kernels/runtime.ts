import { Arena } from './arena';

/**
 * The kernels' module on a memory, and how its kernels are run: by one thread here, by several in engine/.
 * Memory: 0 … 1023 the thread pool's control block, then the module's constants up to `firstFree`, then scratch for each thread, then the arena.
 */
export const kernelNames = [
  'addThrown',
  'addUp',
  'blendPlanes',
  'blurInto',
  'checker',
  'clean',
  'colourKey',
  'combine',
  'copy',
  'cover',
  'dilate',
  'display',
  'distanceColumns',
  'distanceRows',
  'down',
  'facingKey',
  'fadeAround',
  'fadeAway',
  'fftColours',
  'fftColumns',
  'fftRows',
  'fftRowsBack',
  'fill',
  'flatIds',
  'gaussianColumns',
  'gaussianRows',
  'growRows',
  'join',
  'lay',
  'layMist',
  'levels',
  'linesIn',
  'linesOut',
  'matte',
  'mistDensity',
  'mistEdges',
  'mix',
  'mixPasses',
  'mixPlanes',
  'ofPlane',
  'oneColour',
  'over',
  'pick',
  'plus',
  'positionKey',
  'premultiply',
  'ramp',
  'rangeKey',
  'rankedIds',
  'recursiveColumns',
  'recursiveRows',
  'resample',
  'shade',
  'shareOf',
  'shrink',
  'shrinkPlane',
  'softened',
  'spreadUnder',
  'streaks',
  'strength',
  'take',
  'temporalFilter',
  'timesPlane',
  'toPlane',
  'transpose',
  'unpredict',
  'unpremultiply',
  'unweave',
  'warp',
  'weave',
  'weightedSum',
] as const;
export type KernelName = (typeof kernelNames)[number];

type Kernel = (...args: number[]) => void;
export type Kernels = Record<KernelName, Kernel>;

export const firstFree = 64 * 1024;
/** Scratch of one thread: enough for transforms of 16384 and rows of 40000 pixels. */
export const scratchBytes = 2 * 1024 * 1024;

export type Runtime = {
  arena: Arena;
  threads: number;
  /** Runs a kernel over 0 … `total`, in pieces of `piece` where threads share it. */
  run(name: KernelName, total: number, piece: number, ...args: number[]): void;
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
    run: (name, total, _, ...args) => kernels[name](...args, 0, total, firstFree),
    checkpoint() {},
  };
}
