import { statSync } from 'node:fs';
import type { NodeJob } from '../../api/node';
import type { MediaSpecs } from '../../engine/node/media';
import type { Fetch, Mirror } from './mirror';

/** A folder of the server, and its name on this machine. */
export type PathMap = readonly { there: string; here: string }[];

/** A path of the server as it is called here; the longest folder that fits counts. */
export function mapped(path: string, map: PathMap): string {
  const fitting = map
    .filter(({ there }) => path === there || path.startsWith(`${there}/`))
    .sort((a, b) => b.there.length - a.there.length);
  return fitting.length === 0 ? path : fitting[0].here + path.slice(fitting[0].there.length);
}

/** Whether a file of the server is to be read here, as it is there. */
function isShared(file: NodeJob['files'][number], map: PathMap): boolean {
  try {
    const { size, mtimeMs } = statSync(mapped(file.path, map));
    return size === file.size && Math.round(mtimeMs) === file.modified;
  } catch {
    return false;
  }
}

/** The media of a frame, where this machine reads them: in a folder that it shares with the server, or in copies. */
export async function mediaFor(
  { media, files }: Pick<NodeJob, 'media' | 'files'>,
  map: PathMap,
  mirror: Mirror,
  fetch: Fetch,
): Promise<MediaSpecs> {
  const found: MediaSpecs = {};
  for (const [name, spec] of Object.entries(media)) {
    const needed = files.filter((f) => f.media === name);
    if (needed.every((file) => isShared(file, map)))
      found[name] = { ...spec, pattern: mapped(spec.pattern, map) };
    else {
      for (const file of needed) await mirror.have(file, fetch);
      found[name] = { ...spec, pattern: mirror.patternOf(spec.pattern) };
    }
  }
  return found;
}
