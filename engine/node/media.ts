import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { type FramePattern, frameOf, parsePattern, pathOf } from '../../core/formats/frame-pattern';
import type { GapRule } from '../../core/formats/gap-rules';
import { fileProblem, MediaError, type Wishes } from './media-file';

/** The files of a media, and how they are read. */
export type MediaSpec = Wishes & { pattern: string; gaps?: GapRule };

/** Media by the names a finish uses. */
export type MediaSpecs = Record<string, MediaSpec>;

/** Frames that are there under a pattern, in order; a still is frame 1. @throws {MediaError} for a folder that is not there. */
export function framesOnDisk(pattern: FramePattern): number[] {
  if (pattern.still) return existsSync(pattern.before) ? [1] : [];
  const folder = dirname(`${pattern.before}x`);
  let names: string[];
  try {
    names = readdirSync(folder);
  } catch (error) {
    throw new MediaError(`The folder ${folder} ${fileProblem(error)}`);
  }
  const inside = folder === '/' ? '/' : `${folder}/`;
  const [from, to] = pattern.range ?? [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
  return names
    .map((name) => frameOf(pattern, inside + name))
    .filter((f) => f !== undefined)
    .filter((f) => f >= from && f <= to)
    .sort((a, b) => a - b);
}

/**
 * The file of a frame, and whether the frame is empty: then only the size of the file is used.
 * @throws {MediaError} naming the media, the frame and the remedy.
 */
export function frameFile(media: MediaSpecs, name: string, frame: number): { path: string; empty: boolean } {
  const spec = media[name];
  if (spec === undefined) {
    const given = Object.keys(media).join(', ') || 'none';
    throw new MediaError(
      `The finish uses the media “${name}”, which was not given (given: ${given}). Add --media ${name}=PATTERN.`,
    );
  }
  const pattern = parsePattern(spec.pattern);
  const path = pathOf(pattern, frame);
  if (!spec.gaps || spec.gaps === 'missing' || existsSync(path)) return { path, empty: false };
  const there = framesOnDisk(pattern);
  const last = there.findLast((f) => f <= frame);
  if (spec.gaps === 'hold' && last !== undefined) return { path: pathOf(pattern, last), empty: false };
  if (there.length === 0) return { path, empty: false };
  return { path: pathOf(pattern, last ?? there[0]), empty: true };
}

/** Tells one content of a file from another without reading it. @throws {MediaError} */
export function fileStamp(path: string, about: string): string {
  try {
    const { mtimeMs, size } = statSync(path);
    return `${path}:${mtimeMs}:${size}`;
  } catch (error) {
    throw new MediaError(`${about}${path} ${fileProblem(error)}`, 'not-found');
  }
}
