import { existsSync, realpathSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { MediaError } from './media-file';

/** Whether a path is a folder or lies in it, by their text. */
export const isInside = (path: string, root: string) =>
  path === root || path.startsWith(root === sep ? sep : root + sep);

/** Where a path leads once links are followed; of what is not there yet, where it would be made. */
export function targetOf(path: string): string {
  const whole = resolve(path);
  let there = whole;
  while (!existsSync(there) && there !== dirname(there)) there = dirname(there);
  return join(realpathSync(there), relative(there, whole));
}

/**
 * The path as it is, if it is inside a root after links are resolved. `about` is a frame or empty.
 * @throws {MediaError} naming the roots.
 */
export function insideRoots(path: string, roots: readonly string[], about = ''): string {
  if (!isAbsolute(path)) throw new MediaError(`${about}“${path}” is not a whole path. Begin it with /.`);
  // Behind a link the host goes up from where that leads, which the text does not tell.
  if (path.split(sep).includes('..'))
    throw new MediaError(`${about}“${path}” goes up by “..”. Write the whole path without it.`);
  const whole = resolve(path);
  const target = targetOf(whole);
  if (roots.some((r) => isInside(whole, r)) && roots.some((r) => isInside(target, targetOf(r)))) return whole;
  const leads = target === whole ? 'lies' : `leads to ${target}`;
  throw new MediaError(
    `${about}${path} ${leads}${target === whole ? '' : ', which lies'} outside the folders that Zafiro may read (${roots.join(', ')}). Start it with ZAFIRO_MEDIA_ROOTS=/folder to add others.`,
  );
}
