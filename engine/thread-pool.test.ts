import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { afterAll, describe, expect, test } from 'vitest';
import { gaussian } from '../core/kernels/gaussian';
import { over } from '../core/kernels/point';
import { sumOfGaussians } from '../core/kernels/pyramid';
import type { Runtime } from '../core/kernels/runtime';
import { dilate, distance } from '../core/kernels/shape';
import { openWorkspace } from '../core/kernels/workspace';
import { convolveWith } from '../tests/convolve';
import { noise, runtime as solo } from '../tests/runtime';
import { nodeThreadPool } from './node/thread-pool';
import { threadPool, type WorkerStart } from './thread-pool';

const programs = new URL('../dist/', import.meta.url);
let stop = false;
const two = nodeThreadPool(2, programs, 512, { stopped: () => stop });
const four = nodeThreadPool(4, programs, 512);
afterAll(() => {
  two.end();
  four.end();
});

/** Everything that is shared out in strips, on a picture of an odd size. */
function everything(runtime: Runtime): Uint8Array[] {
  const workspace = openWorkspace(runtime);
  const fill = (channels: 1 | 4, seed: number, width = 331, height = 207) => {
    const p = workspace.picture(width, height, channels);
    const at = noise(seed);
    for (let i = 0; i < p.data.length; i++) p.data[i] = at(i);
    return p;
  };
  const [p, q, m] = [fill(4, 1), fill(4, 2), fill(1, 3)];
  const results = [
    over(workspace, p, q),
    gaussian(workspace, p, 3),
    gaussian(workspace, p, 25),
    sumOfGaussians(workspace, p, [
      { sigma: 30, weight: 0.7 },
      { sigma: 2, weight: 0.3 },
    ]),
    convolveWith(workspace, p, fill(1, 5, 33, 21)),
    dilate(workspace, m, 6.5),
    distance(workspace, m),
  ].map((r) => new Uint8Array(new Uint8Array(r.data.buffer, r.data.byteOffset, r.data.byteLength)));
  workspace.clear();
  expect(runtime.arena.used).toBe(0);
  return results;
}

describe('a thread pool', () => {
  test('of two or four threads on shared memory gives the bits of one thread on plain memory', () => {
    const one = everything(solo);
    for (const threadPool of [two, four]) {
      everything(threadPool).forEach((bytes, i) => {
        expect(Buffer.from(bytes).equals(Buffer.from(one[i]))).toBe(true);
      });
    }
  });

  test('stops within a kernel when asked to, and works again after', () => {
    const workspace = openWorkspace(two);
    const p = workspace.blank(600, 600);
    stop = true;
    expect(() => gaussian(workspace, p, 20)).toThrow('stopped');
    stop = false;
    expect(gaussian(workspace, p, 20).data[0]).toBe(0);
    workspace.clear();
  });

  test('thousands of short jobs in a row lose none', () => {
    const workspace = openWorkspace(two);
    const p = workspace.blank(400, 100);
    for (let i = 0; i < 3000; i++) two.run('weightedSum', 40000, 5000, sum(p.at, 1));
    p.data.fill(1);
    for (let i = 0; i < 3; i++) two.run('weightedSum', 40000, 5000, sum(p.at, 2));
    expect(new Set(p.data)).toEqual(new Set([8]));
    workspace.clear();
  });

  test('a thread that traps is reported, and the pool works on', () => {
    const workspace = openWorkspace(two);
    const p = workspace.blank(600, 600);
    // An address far outside the memory: whichever thread gets there first traps.
    const outside = 2 ** 31;
    expect(() => two.run('weightedSum', 360_000, 5000, sum(outside, 1))).toThrow();
    expect(gaussian(workspace, p, 20).data[0]).toBe(0);
    workspace.clear();
  });
});

/** Of what lies at an address `weight` times, in place. */
const sum = (at: number, weight: number) => ({ out: at, a: at, weightA: weight, b: at, weightB: 0 });

/** A thread pool whose workers are what `worker` makes of their start. */
function poolWith(worker: (start: WorkerStart) => void) {
  const module = new WebAssembly.Module(readFileSync(new URL('kernels.wasm', programs)));
  const memory = new WebAssembly.Memory({ initial: 64 * 16, maximum: 64 * 16, shared: true });
  return threadPool(module, memory, 1, worker, undefined, undefined, 500);
}

describe('a thread pool that is not whole', () => {
  test('says so in place of waiting for ever: its thread never starts', () => {
    const one = poolWith(() => {});
    const workspace = openWorkspace(one);
    const p = workspace.blank(600, 600);
    expect(() => one.run('weightedSum', 360_000, 5000, sum(p.at, 1))).toThrow(
      'Only 0 of 1 threads of the engine have started.',
    );
  });

  test('says so where its programs are from another build than its kernels', async () => {
    // A thread that breaks at its first job, as one does that has no such kernel.
    let worker: Worker | undefined;
    const one = poolWith(({ memory }) => {
      worker = new Worker(
        `const { workerData } = require('node:worker_threads');
         const word = new Int32Array(workerData.buffer, 0, 16);
         Atomics.add(word, 9, 1);
         Atomics.wait(word, 0, 0);
         Atomics.store(word, 10, 1);
         Atomics.store(word, 7, 1);
         if (Atomics.sub(word, 5, 1) === 1) Atomics.notify(word, 5);`,
        { eval: true, workerData: memory },
      );
    });
    await once(worker!, 'online');
    const workspace = openWorkspace(one);
    const p = workspace.blank(600, 600);
    expect(() => one.run('weightedSum', 360_000, 500, sum(p.at, 1))).toThrow(
      'A thread of the engine failed (weightedSum).',
    );
    await worker!.terminate();
  });
});
