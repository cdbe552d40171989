import { existsSync, realpathSync } from 'node:fs';
import { isAbsolute, resolve, sep } from 'node:path';
import { MediaError } from './media-file';

const isInside = (path: string, root: string) =>
  path === root || path.startsWith(root === sep ? sep : root + sep);

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
  const real = (p: string) => (existsSync(p) ? realpathSync(p) : p);
  const target = existsSync(whole)
    ? real(whole)
    : resolve(real(resolve(whole, '..')), whole.slice(whole.lastIndexOf(sep) + 1));
  if (roots.some((r) => isInside(whole, r)) && roots.some((r) => isInside(target, real(r)))) return whole;
  const leads = target === whole ? 'lies' : `leads to ${target}`;
  throw new MediaError(
    `${about}${path} ${leads}${target === whole ? '' : ', which lies'} outside the folders that Zafiro may read (${roots.join(', ')}). Start it with ZAFIRO_MEDIA_ROOTS=/folder to add others.`,
  );
}
