import { existsSync } from 'node:fs';
import { homedir } from 'node:os';
import { delimiter, isAbsolute, resolve } from 'node:path';
import { insideRoots as inside } from '../../engine/node/roots';
import { dataFolder } from '../data-folder';

/**
 * Folders that frames may be read from: those of ZAFIRO_MEDIA_ROOTS (parted by colons), else the home folder; and always the
 * data folder, which holds uploads and the demo.
 */
export function mediaRoots(): string[] {
  const given = (process.env.ZAFIRO_MEDIA_ROOTS ?? homedir()).split(delimiter).filter(isAbsolute);
  return [...new Set([...given, dataFolder()].map((r) => resolve(r)))].filter((r) => existsSync(r));
}

/** @throws {MediaError} for a path outside them, links followed. `about` is a frame or empty. */
export const insideRoots = (path: string, about = '', roots: readonly string[] = mediaRoots()) =>
  inside(path, roots, about);
