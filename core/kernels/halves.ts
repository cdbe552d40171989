import type { Picture } from '../picture/picture';
import type { Runtime } from './runtime';
import { openWorkspace } from './workspace';

/** Rows that a thread takes at a time. */
const rowPiece = 32;

/**
 * The four channels of a picture as planes of halves (IEEE 754 binary16, rounded to the nearest, ties to even). Finite values past 65504, the most that
 * a half can say, are held there; `held` counts them. What is not finite stays so.
 */
export function halvesOf(
  runtime: Runtime,
  { width, height, data }: Pick<Picture, 'width' | 'height' | 'data'>,
): { planes: Uint16Array[]; held: number } {
  const workspace = openWorkspace(runtime);
  try {
    const picture = workspace.picture(width, height);
    picture.data.set(data);
    const count = width * height;
    // The last four pixels of a row are written together.
    const out = workspace.bytes(count * 8 + 16);
    const held = workspace.bytes(height * 4);
    runtime.run('halvesOf', height, rowPiece, { out, held, from: picture.at, width, height });
    const { buffer } = runtime.arena.memory;
    const planes = [0, 1, 2, 3].map((c) => new Uint16Array(buffer, out + c * count * 2, count).slice());
    return { planes, held: new Int32Array(buffer, held, height).reduce((sum, n) => sum + n, 0) };
  } finally {
    workspace.clear();
  }
}
