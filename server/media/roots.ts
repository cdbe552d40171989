import { existsSync } from 'node:fs';
import { homedir } from 'node:os';
import { delimiter, isAbsolute, resolve } from 'node:path';
import { MediaError } from '../../engine/node/media-file';
import { insideRoots as inside, isInside, targetOf } from '../../engine/node/roots';
import { dataFolder, dataPath } from '../base/data-folder';

/** Where the frames lie that people have sent, each upload in a folder of its own. */
export const uploadsFolder = () => dataPath('media');

/** Folders that frames may be imported from: those of ZAFIRO_MEDIA_ROOTS (parted by colons), else the home folder; and always the demo's. */
export function mediaRoots(): string[] {
  const given = (process.env.ZAFIRO_MEDIA_ROOTS ?? homedir()).split(delimiter).filter(isAbsolute);
  return [...new Set([...given, dataPath('demo')].map((r) => resolve(r)))].filter((r) => existsSync(r));
}

/** Folders that frames of shots are read from: those, and what was sent. */
export const frameRoots = (): string[] => [...mediaRoots(), uploadsFolder()];

/** Whether a path leads into Zafiro's data folder, where the files of all lie. */
export const isOwnData = (path: string): boolean => isInside(targetOf(path), targetOf(dataFolder()));

/**
 * The path as it is, if it is inside a root, links followed. Of the data folder only the demo's frames are read, and the uploads that are among
 * the roots. `about` is a frame or empty. @throws {MediaError}
 */
export function insideRoots(path: string, about = '', roots: readonly string[] = frameRoots()): string {
  const whole = inside(path, roots, about);
  if (!isOwnData(whole)) return whole;
  const uploads = targetOf(uploadsFolder());
  const readable = [dataPath('demo'), ...roots.filter((r) => isInside(targetOf(r), uploads))];
  if (readable.some((r) => isInside(targetOf(whole), targetOf(r)))) return whole;
  throw new MediaError(
    `${about}${path} lies in Zafiro’s own data folder, which is not read from. Copy the frames into another folder.`,
  );
}

/** Whether frames of any shot may be read from a path. */
export function isReadable(path: string): boolean {
  try {
    insideRoots(path);
    return true;
  } catch {
    return false;
  }
}
