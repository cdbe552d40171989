import { createHash } from 'node:crypto';
import { appendFileSync, createReadStream, readFileSync, statSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import * as v from 'valibot';
import type { FramePattern } from '../../core/formats/frame-pattern';

/**
 * The record beside finished frames: a text with a line of JSON for each frame that was written, the last line of a frame counts. What was torn when a
 * machine went down is passed over: that frame is rendered again.
 */

const line = v.object({
  frame: v.pipe(v.number(), v.integer()),
  key: v.string(),
  digest: v.string(),
  bytes: v.number(),
});
export type RecordLine = v.InferOutput<typeof line>;

/** Where the record of frames stands that are written under a pattern. */
export const recordOf = ({ before, after, still }: FramePattern): string =>
  still
    ? `${before}.frames.jsonl`
    : `${before.replace(/[._-]*$/, '')}${after.replace(/\.[^.]*$/, '')}.frames.jsonl`;

/** What is known of frames, by their number. */
export function readRecord(path: string): Map<number, RecordLine> {
  const known = new Map<number, RecordLine>();
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch {
    return known;
  }
  for (const row of text.split('\n')) {
    try {
      const found = v.parse(line, JSON.parse(row));
      known.set(found.frame, found);
    } catch {
      // Torn, or the end of the text.
    }
  }
  return known;
}

/** A line in one write, begun anew after one that was torn. */
export const addToRecord = (path: string, { frame, key, digest, bytes }: RecordLine): void =>
  appendFileSync(path, `\n${JSON.stringify({ frame, key, digest, bytes })}`);

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
    if (!known || statSync(path).size !== known.bytes) return undefined;
    return !checked || (await digestOf(path)) === known.digest ? known.key : undefined;
  } catch {
    return undefined;
  }
}
