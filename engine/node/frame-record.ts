import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { appendFile, open, stat } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { LRUCache } from 'lru-cache';
import * as v from 'valibot';
import type { FramePattern } from '../../core/formats/frame-pattern';

/**
 * The record beside finished frames: a text with a line of JSON for each frame that was written, the last line of a frame counts. What was torn when a
 * machine went down is passed over: that frame is rendered again. A disk that does not answer holds up whoever asks for it and nobody else.
 */

const line = v.object({
  frame: v.pipe(v.number(), v.integer()),
  key: v.string(),
  digest: v.string(),
  bytes: v.number(),
});
export type RecordLine = v.InferOutput<typeof line>;

const newLine = 10;

/** Where the record of frames stands that are written under a pattern. */
export const recordOf = ({ before, after, still }: FramePattern): string =>
  still
    ? `${before}.frames.jsonl`
    : `${before.replace(/[._-]*$/, '')}${after.replace(/\.[^.]*$/, '')}.frames.jsonl`;

/** A record that was read: how it begins, and as far as the last line that begins, which may not be whole yet. */
type Read = { head: Buffer; upTo: number; known: Map<number, RecordLine> };
const read = new LRUCache<string, Read>({ max: 50 });
/** Longer than a line, so that the first digest is in it. */
const headBytes = 256;

/** How a file begins, and its bytes from where it was read to; from its beginning where it is another one by now. */
async function tailOf(
  path: string,
  before: Read | undefined,
): Promise<{ head: Buffer; bytes: Buffer; from: number }> {
  const file = await open(path, 'r');
  const bytesAt = async (start: number, end: number) => {
    const bytes = Buffer.alloc(Math.max(0, end - start));
    let at = 0;
    for (let count = 1; count > 0 && at < bytes.length; at += count)
      count = (await file.read(bytes, at, bytes.length - at, start + at)).bytesRead;
    return bytes.subarray(0, at);
  };
  try {
    const { size } = await file.stat();
    const head = await bytesAt(0, Math.min(size, headBytes));
    const isSame = before && before.upTo <= size && head.subarray(0, before.head.length).equals(before.head);
    const from = isSame ? before.upTo : 0;
    return { head, bytes: await bytesAt(from, size), from };
  } finally {
    await file.close();
  }
}

/** What is known of frames, by their number. A record that has been read before is read from where that ended. */
export async function readRecord(path: string): Promise<ReadonlyMap<number, RecordLine>> {
  const before = read.get(path);
  let tail: Awaited<ReturnType<typeof tailOf>>;
  try {
    tail = await tailOf(path, before);
  } catch {
    read.delete(path);
    return new Map();
  }
  const known = before && tail.from > 0 ? before.known : new Map<number, RecordLine>();
  for (const row of tail.bytes.toString('utf8').split('\n')) {
    try {
      const found = v.parse(line, JSON.parse(row));
      known.set(found.frame, found);
    } catch {
      // Torn, or the end of the text.
    }
  }
  const last = tail.bytes.lastIndexOf(newLine);
  read.set(path, { head: tail.head, upTo: tail.from + Math.max(0, last), known });
  return known;
}

/** A line in one write, begun anew after one that was torn. */
export const addToRecord = (path: string, { frame, key, digest, bytes }: RecordLine): Promise<void> =>
  appendFile(path, `\n${JSON.stringify({ frame, key, digest, bytes })}`);

/** The SHA-256 of a file. */
export async function digestOf(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

/** The key of the frame that stands at `path`, if it is there as it was written; by its size, or by every byte where `checked`. */
export async function keyOfStanding(
  known: RecordLine | undefined,
  path: string,
  checked = false,
): Promise<string | undefined> {
  try {
    if (!known || (await stat(path)).size !== known.bytes) return undefined;
    return !checked || (await digestOf(path)) === known.digest ? known.key : undefined;
  } catch {
    return undefined;
  }
}
