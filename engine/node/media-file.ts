import { readFileSync } from 'node:fs';
import { ExrError } from '../../core/formats/exr/error';
import { looksLikeExr, readExr, readHeader } from '../../core/formats/exr/read';
import type { Header, Samples } from '../../core/formats/exr/types';
import { type Pass, passesOf, passPicture } from '../../core/formats/passes';
import type { Desk } from '../../core/kernels/desk';
import type { Picture } from '../../core/picture/picture';
import { nodeZlib } from './zlib';

/** A frame that cannot be had: names the file, the frame and the mend. */
export class MediaError extends Error {
  override name = 'MediaError';
}

/** What the host says of a file it cannot open, in the user's words. */
export function fileProblem(error: unknown): string {
  switch ((error as NodeJS.ErrnoException).code) {
    case 'ENOENT':
      return 'is not there. Render it, or choose other frames.';
    case 'EACCES':
    case 'EPERM':
      return 'may not be read or written. Change its permissions.';
    case 'EISDIR':
      return 'is a folder. Name a file.';
    case 'ENOSPC':
      return 'does not fit: the disk is full. Free some space and try again.';
    default:
      return `cannot be used: ${(error as Error).message}`;
  }
}

/** Bytes of a file, with an error that names it. `about` is a frame or empty. */
export function readBytes(path: string, about: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new MediaError(`${about}${path} ${fileProblem(error)}`);
  }
}

/** Runs `read` and adds the file and frame to what is wrong with its content. */
export function naming<T>(path: string, about: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof ExrError) throw new MediaError(`${about}${path}: ${error.message}`);
    throw error;
  }
}

export type FrameInfo = { header: Header; passes: Pass[] };

/** Header and passes of an EXR file. */
export function frameInfo(path: string, bytes: Uint8Array, about = ''): FrameInfo {
  return naming(path, about, () => {
    if (!looksLikeExr(bytes))
      throw new ExrError('This is not an OpenEXR file', 0, 'Choose a frame rendered as EXR.');
    const header = readHeader(bytes);
    return { header, passes: passesOf(header) };
  });
}

/** Samples of one pass, bit for bit as the file has them, with what is needed to place them. */
export function readPass(
  path: string,
  bytes: Uint8Array,
  name: string,
  about = '',
): { header: Header; pass: Pass; planes: Samples[] } {
  const { passes } = frameInfo(path, bytes, about);
  const pass = passes.find((p) => p.name === name);
  if (!pass) {
    const there = passes.map((p) => p.label).join(', ');
    throw new MediaError(`${about}${path} has no pass “${name || 'beauty'}”. It has: ${there}.`);
  }
  const { header, samples } = naming(path, about, () => readExr(bytes, nodeZlib, pass.channels));
  return { header, pass, planes: pass.channels.map((c) => samples.get(c)!) };
}

/** The pass of a file, ready to be placed on a desk. */
export function readPassPicture(
  path: string,
  name: string,
  about = '',
): { header: Header; place: (desk: Desk) => Picture } {
  const { header, pass, planes } = readPass(path, readBytes(path, about), name, about);
  return {
    header,
    place: (desk) => passPicture(desk, pass, planes, header.dataWindow, header.displayWindow),
  };
}
