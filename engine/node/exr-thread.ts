import { parentPort } from 'node:worker_threads';
import { type Reading, readChunks } from '../../core/formats/exr/read';
import type { FileError } from '../../core/formats/file-error';
import { collectShared } from './collect';
import { nodeZlib } from './zlib';

/** Chunks to unpack, shared with other threads through `counter`. */
export type UnpackJob = { reading: Reading; counter: Int32Array };
export type UnpackDone = { first?: Pick<FileError, 'problem' | 'offset' | 'remedy' | 'code'> };

parentPort!.on('message', ({ reading, counter }: UnpackJob) => {
  const first = readChunks(reading, nodeZlib, () => Atomics.add(counter, 0, 1));
  const done: UnpackDone = first
    ? { first: { problem: first.problem, offset: first.offset, remedy: first.remedy, code: first.code } }
    : {};
  parentPort!.postMessage(done);
  // This thread too holds what it has worked on until it collects.
  setImmediate(collectShared);
});
