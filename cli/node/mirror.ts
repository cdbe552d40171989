import { createHash, randomUUID } from 'node:crypto';
import {
  createWriteStream,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { LRUCache } from 'lru-cache';
import type { NodeJob } from '../../api/node';
import { MediaError } from '../../engine/node/media-file';
import { listsBeside } from '../../engine/node/metadata';

/**
 * Copies of the server's media, under the names and with the times that they have there, so that frames made of them are the same. What was not used for
 * longest makes room.
 */

type File = NodeJob['files'][number];
/** Gets the bytes of a file of a frame, or of one that lies beside it. */
export type Fetch = (file: File, beside?: string) => Promise<Response>;

export type Mirror = {
  /** Has a copy of a file; a file that has changed since is fetched anew. */
  have(file: File, fetch: Fetch): Promise<void>;
  /** Where copies of what a pattern names lie, as a pattern. */
  patternOf(pattern: string): string;
};

/** A file with the lists beside it: they come and go together. */
type Copy = { size: number; files: string[] };

export function mediaMirror(folder: string, mostBytes: number): Mirror {
  rmSync(folder, { recursive: true, force: true });
  const copies = new LRUCache<string, Copy>({
    maxSize: mostBytes,
    maxEntrySize: Number.MAX_SAFE_INTEGER,
    sizeCalculation: ({ size }) => Math.max(1, size),
    // A copy that is fetched anew stands in the place of the old one.
    dispose: ({ files }, _, reason) => {
      if (reason !== 'set') for (const file of files) rmSync(file, { force: true });
    },
  });
  const coming = new Map<string, Promise<void>>();
  const placeOf = (path: string) =>
    join(folder, createHash('sha1').update(dirname(path)).digest('hex').slice(0, 12), basename(path));
  const isAsThere = (path: string, { size, modified }: File) => {
    try {
      const now = statSync(path);
      return now.size === size && Math.round(now.mtimeMs) === modified;
    } catch {
      return false;
    }
  };

  async function write(path: string, response: Response): Promise<number> {
    mkdirSync(dirname(path), { recursive: true });
    // Two files may have one list beside them.
    const part = `${path}.${randomUUID()}.part`;
    try {
      await pipeline(Readable.fromWeb(response.body as never), createWriteStream(part));
      const seconds = Number(response.headers.get('x-zafiro-modified')) / 1000;
      utimesSync(part, seconds, seconds);
      const { size } = statSync(part);
      if (size !== Number(response.headers.get('x-zafiro-size')))
        throw new MediaError(`${basename(path)} did not arrive whole from the server.`, 'exhausted');
      renameSync(part, path);
      return size;
    } finally {
      rmSync(part, { force: true });
    }
  }

  async function copy(file: File, fetch: Fetch): Promise<void> {
    const path = placeOf(file.path);
    const made: Copy = { size: await write(path, await fetch(file)), files: [path] };
    for (const name of listsBeside(readFileSync(path))) {
      // One that the server has not is missed by whoever asks for its names, who says so.
      const response = await fetch(file, name).catch((error: { code?: string }) => {
        if (error.code === 'not-found') return undefined;
        throw error;
      });
      if (!response) continue;
      const beside = join(dirname(path), name);
      made.size += await write(beside, response);
      made.files.push(beside);
    }
    copies.set(path, made);
  }

  return {
    async have(file, fetch) {
      const path = placeOf(file.path);
      if (copies.get(path) && isAsThere(path, file)) return;
      const under = coming.get(path) ?? copy(file, fetch).finally(() => coming.delete(path));
      coming.set(path, under);
      await under;
    },
    patternOf: placeOf,
  };
}
