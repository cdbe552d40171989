import { deflateSync, inflateSync } from 'node:zlib';
import type { Zlib } from '../../core/formats/exr/types';
import { firstFree, forPlainMemory, inOrder, instantiate, type Kernels } from '../../core/kernels/runtime';
import { kernelsFile } from './runtime';

/** The kernels' module on a small memory of this thread's own, which grows with the largest chunk. */
let small: { kernels: Kernels; memory: WebAssembly.Memory } | undefined;
const pageBytes = 65536;
const mostPages = 32768;
/** Kernels may touch as much behind what they work on. */
const spare = 64;

/** A kernel on the bytes of a chunk; what it gives holds until the next. */
const onBytes =
  (name: 'predict' | 'unpredict') =>
  (bytes: Uint8Array): Uint8Array => {
    if (!small) {
      const memory = new WebAssembly.Memory({ initial: 16, maximum: mostPages });
      const module = new WebAssembly.Module(forPlainMemory(kernelsFile()));
      small = { kernels: instantiate(module, memory), memory };
    }
    const { kernels, memory } = small;
    const room = Math.ceil((bytes.length + spare) / 16) * 16;
    const lacking = firstFree + 2 * room - memory.buffer.byteLength;
    if (lacking > 0) memory.grow(Math.ceil(lacking / pageBytes));
    const [from, to] = [firstFree, firstFree + room];
    new Uint8Array(memory.buffer, from, bytes.length).set(bytes);
    kernels[name](...inOrder(name, { out: to, from, size: bytes.length }), 0, 1, 0);
    return new Uint8Array(memory.buffer, to, bytes.length);
  };

/** Deflate by the library that Node brings. */
export const nodeZlib: Zlib = {
  // One chunk as large as the whole, so that nothing is put together from pieces.
  inflate: (bytes, limit) =>
    inflateSync(bytes, { maxOutputLength: limit, chunkSize: Math.min(2 ** 26, Math.max(64, limit)) }),
  deflate: (bytes) => deflateSync(bytes, { level: 4 }),
  unpredict: onBytes('unpredict'),
  predict: onBytes('predict'),
};
