import { readdirSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { FoundSequence, Listing } from '../../api/files';
import { pathOf } from '../../core/formats/frame-pattern';
import { patternText, sequencesOf } from '../../core/formats/sequences';
import { fileProblem, MediaError } from '../../engine/node/media-file';
import { insideRoots, isOwnData, mediaRoots } from './roots';

const mostFiles = 20_000;

function entries(path: string) {
  try {
    return readdirSync(path, { withFileTypes: true });
  } catch (error) {
    throw new MediaError(`The folder ${path} ${fileProblem(error)}`);
  }
}

const order = new Intl.Collator('en', { numeric: true }).compare;

/** Sequences of one folder; the size is the first file's, times how many there are. */
function sequencesIn(folder: string, names: string[]): FoundSequence[] {
  return sequencesOf(names).map(({ name, pattern, frames, gaps }) => {
    const whole = { ...pattern, before: join(folder, pattern.before) };
    const first = statSync(pathOf(whole, frames[0]), { throwIfNoEntry: false });
    return {
      name,
      frames,
      gaps,
      pattern: patternText(whole),
      folder: basename(folder),
      bytes: (first?.size ?? 0) * frames.length,
    };
  });
}

/**
 * What is in a folder: its folders, and its pictures as sequences; where it has none, those of the folders right inside it, so
 * that a folder of layers is seen at once.
 * @throws {MediaError}
 */
export function browse(given: string | null, roots: string[] = mediaRoots()): Listing {
  if (roots.length === 0)
    throw new MediaError(
      'There is no folder that you may look through. Send your frames by dropping them on the page.',
    );
  const path = insideRoots(given || roots[0], '', roots);
  const all = entries(path).filter((e) => !e.name.startsWith('.'));
  const folders = all
    .filter((e) => e.isDirectory())
    .map(({ name }) => ({ name, path: join(path, name) }))
    .filter((f) => roots.includes(f.path) || !isOwnData(f.path))
    .sort((a, b) => order(a.name, b.name));
  const files = all.filter((e) => !e.isDirectory()).map((e) => e.name);
  let sequences = sequencesIn(path, files.slice(0, mostFiles));
  if (sequences.length === 0 && folders.length <= 100) {
    sequences = folders.flatMap((f) => {
      try {
        return sequencesIn(
          f.path,
          entries(f.path)
            .filter((e) => e.isFile())
            .map((e) => e.name)
            .slice(0, mostFiles),
        );
      } catch {
        // A folder that may not be read is no reason to show none.
        return [];
      }
    });
  }
  const above = dirname(path);
  const mayRise = above !== path && roots.some((r) => above === r || above.startsWith(`${r}/`) || r === '/');
  return {
    roots,
    path,
    above: mayRise ? above : null,
    folders,
    sequences,
    more: Math.max(0, files.length - mostFiles),
  };
}
