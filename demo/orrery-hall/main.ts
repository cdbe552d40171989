import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { writeWhole } from '../../engine/node/write-file';
import { nodeZlib } from '../../engine/node/zlib';
import { bufferBytes, buffersOn, size } from './render';
import { writeFrame } from './write';

/**
 * The stand-in renderer of the demo shot: `orrery-hall FOLDER LAST` writes the frames 1 … LAST that are not there
 * yet, each as a whole file.
 */
const [folder, last] = [process.argv[2], Number(process.argv[3])];
const band = 18;

/** Two frames' worth of memory: one is written while the next is rendered. */
const memories = [0, 1].map(() => new SharedArrayBuffer(bufferBytes));
const workers = Array.from(
  { length: availableParallelism() },
  () => new Worker(new URL('./orrery-hall-worker.mjs', import.meta.url), { workerData: memories }),
);

function renderFrame(frame: number, memory: number): Promise<void> {
  return new Promise((resolve, reject) => {
    let next = 0;
    let open = 0;
    const hand = (worker: Worker) => {
      if (next < size.height) {
        worker.postMessage({ memory, frame, y0: next, y1: Math.min(size.height, next + band) });
        next += band;
        open++;
      } else if (open === 0) resolve();
    };
    for (const worker of workers) {
      worker.removeAllListeners();
      worker.on('error', reject);
      worker.on('message', () => {
        open--;
        hand(worker);
      });
      hand(worker);
    }
  });
}

let writing: Promise<void> = Promise.resolve();
for (let frame = 1; frame <= last; frame++) {
  const path = join(folder, `orrery_hall.${String(frame).padStart(4, '0')}.exr`);
  if (existsSync(path)) continue;
  const memory = frame & 1;
  await renderFrame(frame, memory);
  await writing;
  writing = writeWhole(path, writeFrame(frame, buffersOn(memories[memory]), nodeZlib));
}
await writing;
for (const worker of workers) await worker.terminate();
