import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { listChunks, readChunks, roomFor } from '../../core/formats/exr/read';
import { FileError } from '../../core/formats/file-error';
import type { UnpackDone, UnpackJob } from './exr-thread';
import type { PartReader } from './files/exr';
import { nodeZlib } from './zlib';

/** Smaller files are unpacked sooner than a thread wakes. */
const worthSharing = 2 ** 20;

/** Threads that unpack chunks beside this one; they rest until they are needed, and do not keep the process. */
let workers: Worker[] | undefined;
function workersHere(): Worker[] {
  workers ??= Array.from({ length: Math.max(0, availableParallelism() - 1) }, () => {
    const worker = new Worker(new URL('./exr-thread.mjs', import.meta.url));
    worker.unref();
    return worker;
  });
  return workers;
}

const answerOf = (worker: Worker) =>
  new Promise<UnpackDone>((done, failed) => {
    const clear = () => {
      worker.off('message', answered);
      worker.off('error', failed);
      worker.unref();
    };
    const answered = (message: UnpackDone) => {
      clear();
      done(message);
    };
    worker.ref();
    worker.once('message', answered);
    worker.once('error', failed);
  });

/** Unpacks a part's chunks on all threads of this machine: `bytes` and the samples are in shared memory. */
export const readShared: PartReader = async (bytes, part, channels) => {
  const list = listChunks(bytes, part);
  const room = roomFor(part, channels, (size) => new SharedArrayBuffer(size));
  const done = new Uint8Array(new SharedArrayBuffer(list.count));
  const counter = new Int32Array(new SharedArrayBuffer(4));
  const reading = { bytes, part, list, room, done };
  const threadPool =
    bytes.buffer instanceof SharedArrayBuffer && bytes.length > worthSharing ? workersHere() : [];
  const job: UnpackJob = { reading, counter };
  const answers = threadPool.map((worker) => {
    const answer = answerOf(worker);
    worker.postMessage(job);
    return answer;
  });
  let first = readChunks(reading, nodeZlib, () => Atomics.add(counter, 0, 1));
  for (const { first: other } of await Promise.all(answers))
    if (other && !first) first = new FileError(other.problem, other.offset, other.remedy, other.code);
  return { ...reading, first };
};
