import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { dataPath } from './data-folder';
import { rows } from './db/connect';
import { contentsName } from './media/contents';
import type { Media } from './media/frames';

/**
 * Removes files of the data folder that belong to nothing any more: exports of deleted shots, uploads that no shot uses, small pictures of
 * contents that are gone, and halves of files whose writer died. What is young stays: it may be on its way into the database.
 */

const hour = 3_600_000;
/** Uploads are chosen from at leisure before they become a shot. */
const uploadRest = 48 * hour;

async function entriesOf(folder: string) {
  const names = await readdir(folder).catch(() => []);
  const found: { name: string; path: string; age: number; links: number }[] = [];
  for (const name of names) {
    const path = join(folder, name);
    const seen = await stat(path).catch(() => undefined);
    if (seen) found.push({ name, path, age: Date.now() - seen.mtimeMs, links: seen.nlink });
  }
  return found;
}

/** Removes entries of a folder that are older than `rest` and not wanted; gives how many. */
async function sweep(
  folder: string,
  rest: number,
  isWanted: (entry: { name: string; path: string; links: number }) => boolean,
): Promise<number> {
  let count = 0;
  for (const entry of await entriesOf(folder)) {
    if (entry.age < rest || isWanted(entry)) continue;
    await rm(entry.path, { recursive: true, force: true });
    count++;
  }
  return count;
}

/** A folder of folders, each named after the first letters of what it holds. */
async function sweepSpread(folder: string, ...how: [number, Parameters<typeof sweep>[2]]): Promise<number> {
  let count = 0;
  for (const { path } of await entriesOf(folder)) count += await sweep(path, ...how);
  return count;
}

/** Tidies up once; gives how many files and folders were removed. `rest` is how old they must be, in milliseconds. */
export async function tidy(rest = hour, uploads = uploadRest): Promise<number> {
  const runs = new Set((await rows<{ id: number }>('SELECT id FROM export_run')).map((r) => String(r.id)));
  const patterns = (await rows<{ pattern: string }>('SELECT pattern FROM media')).map((m) => m.pattern);
  const frames = await rows<{ content: string } & Pick<Media, 'encoding' | 'kinds'>>(
    `SELECT DISTINCT f.content, m.encoding, m.kinds FROM media_frame f JOIN media m ON m.id = f.media_id
     WHERE f.content <> ''`,
  );
  const contents = new Set(frames.map((f) => f.content));
  const read = new Set(frames.map((f) => contentsName(f.content, f)));
  let count = await sweep(dataPath('exports'), rest, ({ name }) => !/^\d+$/.test(name) || runs.has(name));
  for (const { path } of await entriesOf(dataPath('exports')))
    count += await sweep(path, rest, ({ name }) => !name.endsWith('.part'));
  count += await sweep(dataPath('media'), uploads, ({ path }) =>
    patterns.some((pattern) => pattern.startsWith(`${path}/`)),
  );
  // Each content is linked from the uploads that hold it.
  count += await sweepSpread(dataPath('store'), rest, ({ links }) => links > 1);
  for (const { path } of await entriesOf(dataPath('thumbnails')))
    count += await sweepSpread(path, rest, ({ name }) => contents.has(name.split('.')[0]));
  count += await sweepSpread(dataPath('passes'), rest, ({ name }) => read.has(name));
  return count;
}
