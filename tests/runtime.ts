import { readFileSync } from 'node:fs';
import { forPlainMemory, scratchBytes, soloRuntime } from '../core/kernels/runtime';
import { openWorkspace } from '../core/kernels/workspace';
import type { Picture } from '../core/picture/picture';

const wasm = readFileSync(new URL('../dist/kernels.wasm', import.meta.url));

/** The kernels on one thread and plain memory, as on a host without shared memory: so much of it beside the thread's scratch. */
export function plainRuntime(megabytes = 256) {
  const pages = megabytes * 16 + scratchBytes / 65536;
  const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
  return soloRuntime(new WebAssembly.Module(forPlainMemory(wasm)), memory);
}

/** A runtime and a workspace for a test file, and pictures made on it. */
export const runtime = plainRuntime();
export const workspace = openWorkspace(runtime);

export function pictureOf(
  width: number,
  height: number,
  values: (i: number) => number,
  channels: 1 | 4 = 4,
): Picture {
  const picture = workspace.picture(width, height, channels);
  for (let i = 0; i < picture.data.length; i++) picture.data[i] = values(i);
  return picture;
}

/** Numbers that look random, the same for the same seed: mostly 0 … 1.5, some far above. */
export function noise(seed: number, highest = 60): (i: number) => number {
  return (i) => {
    let h = Math.imul(i + 1, 0x9e3779b1) ^ Math.imul(seed | 1, 0x85ebca6b);
    h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
    h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
    const u = ((h ^ (h >>> 15)) >>> 0) / 2 ** 32;
    return (h & 15) === 0 ? u * highest : u * 1.5;
  };
}
