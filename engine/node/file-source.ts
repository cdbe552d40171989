import { statSync } from 'node:fs';
import type { FrameSource } from '../../core/evaluate/run';
import type { Header } from '../../core/formats/exr/types';
import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { fileProblem, MediaError, readPassPicture } from './media-file';

/** Media by the names a finish uses, each a path pattern. */
export type MediaPatterns = Record<string, string>;

/** The file of a media's frame. */
export function framePath(media: MediaPatterns, name: string, frame: number): string {
  const pattern = media[name];
  if (pattern === undefined) {
    const given = Object.keys(media).join(', ') || 'none';
    throw new MediaError(
      `The finish uses the media “${name}”, which was not given (given: ${given}). Add --media ${name}=PATTERN.`,
    );
  }
  return pathOf(parsePattern(pattern), frame);
}

/** Frames straight from files; `headers` keeps what was read last of each media, for what goes on into the output. */
export function fileSource(media: MediaPatterns): FrameSource & { headers: Map<string, Header> } {
  const headers = new Map<string, Header>();
  return {
    headers,
    identity(name, frame) {
      const path = framePath(media, name, frame);
      try {
        const { mtimeMs, size } = statSync(path);
        return `${path}:${mtimeMs}:${size}`;
      } catch (error) {
        throw new MediaError(`Frame ${frame}: ${path} ${fileProblem(error)}`);
      }
    },
    async load(head, frame) {
      const { header, place } = readPassPicture(
        framePath(media, head.media, frame),
        head.pass,
        `Frame ${frame}: `,
      );
      headers.set(head.media, header);
      return place;
    },
  };
}
