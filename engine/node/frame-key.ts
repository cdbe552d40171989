import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
import { basename } from 'node:path';
import * as v from 'valibot';
import { keysOf } from '../../core/evaluate/inputs';
import type { Finish } from '../../core/finish/finish';
import { programVersion } from '../../core/finish/program';
import { exportSettings, type GivenSettings } from '../../core/formats/export-formats';
import { frameFile, type MediaSpecs } from './media';
import { fileProblem, MediaError } from './media-file';

/** A finished frame, before it is known where its files are read and where it is written. */
export type FrameWanted = {
  finish: Finish;
  media: MediaSpecs;
  frame: number;
  scale: number;
  settings: GivenSettings;
};

/** A file that a frame is made of: which frame of which media is asked for, and the file that stands for it. */
export type FrameFile = { media: string; frame: number; path: string; size: number; modified: number };

/** @throws {MediaError} for a file that is not there. */
function fileOf(media: MediaSpecs, name: string, frame: number): { file: FrameFile; empty: boolean } {
  const { path, empty } = frameFile(media, name, frame);
  try {
    const { size, mtimeMs } = statSync(path);
    return { file: { media: name, frame, path, size, modified: Math.round(mtimeMs) }, empty };
  } catch (error) {
    throw new MediaError(`Frame ${frame}: ${path} ${fileProblem(error)}`, 'not-found');
  }
}

/**
 * What a finished frame depends on: its key, which is the same on every machine that sees the same files, wherever they lie; and those files. Of
 * what is told about a frame (the finish that it carries) the key knows nothing: it stands for pixels and for how they are written.
 * @throws {MediaError} for a file that is not there.
 */
export function frameContent({ finish, media, frame, scale, settings }: FrameWanted): {
  key: string;
  files: FrameFile[];
} {
  const files = new Map<string, FrameFile>();
  const identity = (name: string, at: number) => {
    const { file, empty } = fileOf(media, name, at);
    files.set(`${name}\n${at}`, file);
    const { encoding = '', kinds = {} } = media[name];
    return `${basename(file.path)}:${file.size}:${file.modified}:${encoding}:${JSON.stringify(kinds)}:${empty}`;
  };
  const written = v.parse(exportSettings, settings);
  const { pictures, attributes } = keysOf({ finish, frame, scale, outputs: written.outputs }, identity);
  const whole = JSON.stringify([programVersion, pictures, attributes, written]);
  return { key: createHash('sha1').update(whole).digest('hex'), files: [...files.values()] };
}
