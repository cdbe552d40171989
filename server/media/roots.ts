import { existsSync, realpathSync } from 'node:fs';
import { homedir } from 'node:os';
import { delimiter, isAbsolute, resolve, sep } from 'node:path';
import { MediaError } from '../../engine/node/media-file';
import { dataFolder } from '../data-folder';

/**
 * Folders that frames may be read from: those of ZAFIRO_MEDIA_ROOTS (parted by colons), else the home folder; and always the
 * data folder, where uploads and the demo lie.
 */
export function mediaRoots(): string[] {
  const given = (process.env.ZAFIRO_MEDIA_ROOTS ?? homedir()).split(delimiter).filter(isAbsolute);
  return [...new Set([...given, dataFolder()].map((r) => resolve(r)))].filter((r) => existsSync(r));
}

const isInside = (path: string, root: string) =>
  path === root || path.startsWith(root === sep ? sep : root + sep);

/**
 * The path as it is, if it lies inside a root, links followed.
 * @throws {MediaError} naming the roots.
 */
export function insideRoots(path: string): string {
  if (!isAbsolute(path)) throw new MediaError(`“${path}” is not a whole path. Begin it with /.`);
  // Behind a link the host goes up from where that leads, which the text does not tell.
  if (path.split(sep).includes('..'))
    throw new MediaError(`“${path}” goes up by “..”. Write the whole path without it.`);
  const whole = resolve(path);
  const roots = mediaRoots();
  const real = (p: string) => (existsSync(p) ? realpathSync(p) : p);
  const folders = roots.map(real);
  const target = existsSync(whole)
    ? real(whole)
    : resolve(real(resolve(whole, '..')), whole.slice(whole.lastIndexOf(sep) + 1));
  if (roots.some((r) => isInside(whole, r)) && folders.some((r) => isInside(target, r))) return whole;
  throw new MediaError(
    `${path} lies outside the folders that Zafiro may read (${roots.join(', ')}). Start it with ZAFIRO_MEDIA_ROOTS=/folder to add others.`,
  );
}
