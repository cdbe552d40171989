import { existsSync } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { forgetSessions } from '../access/sessions';
import { database, type Result, rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { contentsName } from '../media/contents';
import type { Media } from '../media/frames';
import { thumbnailEdition } from '../media/thumbnails';
import { emptyBin } from '../shots/bin';

/**
 * Deletes for good what was put aside for longer than it is kept, and removes files of the data folder that belong to nothing any more: exports and uploads of deleted shots, which the deletion has listed; small
 * pictures of contents that are gone; and halves of files whose writer died. What is young stays: it may be on its way into the database.
 */

const hour = 3_600_000;

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
  isWanted: (entry: { name: string; links: number }) => boolean,
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

/** Removes what deleted shots have left; gives how much. Only what lies among exports and uploads is ever removed. */
async function removeLeftovers(): Promise<number> {
  const leftovers = await rows<{ id: number; path: string }>('SELECT id, path FROM leftover');
  if (leftovers.length === 0) return 0;
  const folders = [dataPath('exports'), dataPath('media')];
  const patterns = (await rows<{ pattern: string }>('SELECT pattern FROM media')).map((m) => m.pattern);
  for (const { id, path } of leftovers) {
    // Imported once more meanwhile, an upload is wanted again.
    const isWanted = patterns.some((pattern) => pattern.startsWith(`${path}/`));
    if (folders.includes(dirname(path)) && !isWanted) await rm(path, { recursive: true, force: true });
    await database().query('DELETE FROM leftover WHERE id = ?', [id]);
  }
  return leftovers.length;
}

/** What is put down of who did what, and machines that nobody has heard of, stay so many days. */
const recordDays = Number(process.env.ZAFIRO_RECORD_DAYS || 730);
const machineDays = 30;

/** Lines of the record that are old, and machines that are gone and have rendered nothing that is still listed. */
async function forgetOld(): Promise<number> {
  const [lines] = await database().query<Result>('DELETE FROM record WHERE at < NOW(3) - INTERVAL ? DAY', [
    recordDays,
  ]);
  const [machines] = await database().query<Result>(
    `DELETE FROM render_node WHERE NOT is_server AND seen_at < NOW(3) - INTERVAL ? DAY
       AND id NOT IN (SELECT node_id FROM export_frame WHERE node_id IS NOT NULL)`,
    [machineDays],
  );
  return lines.affectedRows + machines.affectedRows;
}

/** Uploads whose folder is gone count no more towards what an account has sent. */
async function forgetUploads(): Promise<void> {
  const old = await rows<{ id: string }>('SELECT id FROM upload WHERE created_at < NOW(3) - INTERVAL 1 HOUR');
  const gone = old.filter(({ id }) => !existsSync(dataPath('media', id))).map(({ id }) => id);
  if (gone.length > 0) await database().query('DELETE FROM upload WHERE id IN (?)', [gone]);
}

/** Tidies up once; gives how many files and folders were removed. `rest` is how old those must be that nobody has listed, in milliseconds. */
export async function tidy(rest = hour): Promise<number> {
  let count = await emptyBin();
  count += await removeLeftovers();
  count += await forgetSessions();
  count += await forgetOld();
  await forgetUploads();
  const frames = await rows<{ content: string } & Pick<Media, 'encoding' | 'kinds'>>(
    `SELECT DISTINCT f.content, m.encoding, m.kinds FROM media_frame f JOIN media m ON m.id = f.media_id
     WHERE f.content <> ''`,
  );
  const contents = new Set(frames.map((f) => f.content));
  const read = new Set(frames.map((f) => contentsName(f.content, f)));
  for (const { path } of await entriesOf(dataPath('exports')))
    count += await sweep(path, rest, ({ name }) => !name.endsWith('.part'));
  // Each content is linked from the uploads that hold it.
  count += await sweepSpread(dataPath('store'), rest, ({ links }) => links > 1);
  count += await sweep(dataPath('thumbnails'), rest, ({ name }) => name === thumbnailEdition);
  for (const { path } of await entriesOf(dataPath('thumbnails', thumbnailEdition)))
    count += await sweepSpread(path, rest, ({ name }) => contents.has(name.split('.')[0]));
  count += await sweepSpread(dataPath('passes'), rest, ({ name }) => read.has(name));
  return count;
}
