import { createHash } from 'node:crypto';
import {
  createReadStream,
  createWriteStream,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { PassThrough, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { TarArchive } from 'archiver';
import { extract } from 'tar';
import * as v from 'valibot';
import { closeDatabase, database, rows } from '../base/connect';
import { dataFolder, dataPath } from '../base/data-folder';
import { migrate } from '../base/migrate';
import { LaunchError, stop } from '../services/child';
import { startMariaDb } from '../services/mariadb';
import { dumped, isRunning, load, tables } from './database';
import { movePaths } from './moved';

/**
 * A backup is one tar file: the rows as SQL, each stored content once, finished frames, and a list of all of it with SHA-256. It is made while the
 * server runs: rows as of one moment, and then the files; a file is there before a row names it and stays for an hour after none does, so
 * every file that the rows name is in it. Frames that are read where they lie are not Zafiro’s, and not in it.
 */

const listName = 'zafiro-backup.json';
const sqlName = 'database.sql';
/** Folders of the data folder that a backup has; all else is made again. */
const kept = ['store', 'media', 'exports'] as const;

/** A path of a backup: the rows, or a file inside one of its folders, which no part of it leaves. */
const path = v.pipe(
  v.string(),
  v.check((text) => {
    const parts = text.split('/');
    const sound = parts.every((p) => p !== '' && p !== '.' && p !== '..' && !p.includes('\0'));
    return text === sqlName || (sound && parts.length > 1 && kept.some((k) => k === parts[0]));
  }, 'It names a path that no backup has.'),
);

const list = v.object({
  zafiro: v.literal('backup'),
  version: v.literal(1),
  madeAt: v.string(),
  /** The folder that paths in the rows begin with. */
  data: v.string(),
  tables: v.record(v.string(), v.number()),
  files: v.array(
    v.object({
      path,
      bytes: v.number(),
      /** SHA-256, of a file that is in the backup; the path of another that it is a link to. */
      sha256: v.optional(v.string()),
      link: v.optional(path),
    }),
  ),
});
export type BackupList = v.InferOutput<typeof list>;

function* filesIn(folder: string, inside = ''): Generator<string> {
  if (!existsSync(join(folder, inside))) return;
  for (const entry of readdirSync(join(folder, inside), { withFileTypes: true })) {
    const path = join(inside, entry.name);
    if (entry.isDirectory()) yield* filesIn(folder, path);
    else if (entry.isFile() && !entry.name.endsWith('.part')) yield path;
  }
}

/** Passes bytes on, counted and hashed. */
function measured() {
  const hash = createHash('sha256');
  let bytes = 0;
  const stream = new Transform({
    transform(chunk, _, done) {
      hash.update(chunk);
      bytes += chunk.length;
      done(null, chunk);
    },
  });
  return { stream, result: () => ({ bytes, sha256: hash.digest('hex') }) };
}

/** Writes a backup; whole or not at all. Gives what is in it. */
export async function backup(target: string, say: (words: string) => void = () => {}): Promise<BackupList> {
  const half = `${target}.part`;
  mkdirSync(dirname(resolve(target)), { recursive: true });
  const tar = new TarArchive({});
  const written = pipeline(tar as unknown as NodeJS.ReadableStream, createWriteStream(half, { mode: 0o600 }));
  // Said where it is waited for.
  written.catch(() => {});
  const made: BackupList = {
    zafiro: 'backup',
    version: 1,
    madeAt: new Date().toISOString(),
    data: dataFolder(),
    tables: {},
    files: [],
  };
  /** One entry after the other, so that no more than one file is open. */
  const add = async (path: string, source: string) => {
    const from = createReadStream(source);
    const { stream, result } = measured();
    const out = new PassThrough();
    const done = pipeline(from, stream, out);
    const entered = new Promise<void>((ok, fail) => {
      tar.once('entry', () => ok());
      tar.once('error', fail);
    });
    // With its size an entry goes through; without, it would be held in memory.
    tar.append(out, { name: path, stats: statSync(source) });
    await Promise.all([done, entered]);
    made.files.push({ path, ...result() });
  };
  try {
    say('Rows …');
    // The SQL itself says of how many rows it is: counted in the same moment, by the statements of the dump.
    const sql = `${half}.sql`;
    const { stream, ended } = dumped(['--skip-extended-insert']);
    const counts = countedRows(made.tables);
    await Promise.all([pipeline(stream, counts, createWriteStream(sql, { mode: 0o600 })), ended]);
    for (const name of await tables()) made.tables[name] ??= 0;
    await add(sqlName, sql);
    rmSync(sql);
    const places = new Map<string, string>();
    let bytes = 0;
    for (const part of kept)
      for (const inside of filesIn(dataPath(part))) {
        const path = join(part, inside);
        const seen = statSync(dataPath(path), { throwIfNoEntry: false });
        // Gone meanwhile: nothing names it any more.
        if (!seen) continue;
        const known = seen.nlink > 1 ? places.get(String(seen.ino)) : undefined;
        if (known) {
          made.files.push({ path, bytes: seen.size, link: known });
          continue;
        }
        places.set(String(seen.ino), path);
        await add(path, dataPath(path));
        bytes += seen.size;
        if (made.files.length % 200 === 0) say(`${made.files.length} files, ${Math.round(bytes / 1e6)} MB …`);
      }
    tar.append(JSON.stringify(made), { name: listName });
    await tar.finalize();
    await written;
    renameSync(half, target);
    return made;
  } finally {
    rmSync(half, { force: true });
    rmSync(`${half}.sql`, { force: true });
  }
}

/** Counts the rows of each table in SQL that goes by: a statement a row, each at the beginning of a line. */
function countedRows(into: Record<string, number>): Transform {
  let rest = '';
  const line = (text: string) => {
    const [, table] = /^INSERT INTO `(\w+)` VALUES/.exec(text) ?? [];
    if (table) into[table] = (into[table] ?? 0) + 1;
  };
  return new Transform({
    transform(chunk, _, done) {
      const lines = (rest + chunk.toString('latin1')).split('\n');
      // Of a long line its beginning is enough.
      rest = lines.pop()!;
      for (const text of lines) line(text);
      done(null, chunk);
    },
    flush(done) {
      line(rest);
      done();
    },
  });
}

/** Puts a backup into a data folder that is empty. @throws {LaunchError} in words; nothing is left half done. */
export async function restore(source: string, say: (words: string) => void = () => {}): Promise<BackupList> {
  const target = dataFolder();
  if (isRunning()) throw new LaunchError('Something runs on this data folder. Stop it first: ./zafiro stop.');
  if (existsSync(target) && readdirSync(target).length > 0)
    throw new LaunchError(
      `${target} is not empty. Set ZAFIRO_DATA to an empty folder, or one that is not there.`,
    );
  if (!existsSync(source)) throw new LaunchError(`There is no file ${source}.`);
  const half = `${target}.restoring`;
  rmSync(half, { recursive: true, force: true });
  mkdirSync(half, { recursive: true, mode: 0o700 });
  try {
    say('Unpacking …');
    try {
      await extract({
        ...{ file: source, cwd: half, strict: true, preservePaths: false },
        // Files and folders alone: a link would lead whatever is written after it elsewhere.
        filter: (_, entry) => !('type' in entry) || entry.type === 'File' || entry.type === 'Directory',
      });
    } catch (error) {
      throw new LaunchError(`${source} cannot be unpacked: ${(error as Error).message}. Is all of it there?`);
    }
    const found = v.safeParse(
      list,
      existsSync(join(half, listName)) ? JSON.parse(readFileSync(join(half, listName), 'utf8')) : undefined,
    );
    if (!found.success) throw new LaunchError(`${source} is no backup of Zafiro, or not all of one.`);
    const made = found.output;
    say('Comparing …');
    const named = new Set([listName, ...made.files.map((f) => f.path)]);
    const stranger = readdirSync(half, { recursive: true, withFileTypes: true })
      .filter((entry) => !entry.isDirectory())
      .map((entry) => relative(half, join(entry.parentPath ?? entry.path, entry.name)))
      .find((inside) => !named.has(inside));
    if (stranger !== undefined)
      throw new LaunchError(`${source} has ${stranger}, which its list does not name. Use another backup.`);
    for (const file of made.files) {
      const path = join(half, file.path);
      if (file.link) {
        if (!existsSync(join(half, file.link)))
          throw new LaunchError(`${file.link} is missing in ${source}. Use another backup.`);
        mkdirSync(dirname(path), { recursive: true });
        linkSync(join(half, file.link), path);
      } else if ((await sha256Of(path)) !== file.sha256)
        throw new LaunchError(`${file.path} in ${source} is not as it was saved. Use another backup.`);
    }
    rmSync(join(half, listName));
    mkdirSync(join(half, 'logs'), { mode: 0o700 });
    say('Rows …');
    const { child, url } = await startMariaDb(join(half, 'mariadb'));
    process.env.ZAFIRO_DATABASE_URL = url;
    try {
      await load(createReadStream(join(half, sqlName)));
      await compareRows(made);
      await movePaths(made.data, target);
      writeFileSync(join(half, 'place'), target);
      // Sessions and what was on its way belong to the server that was.
      await database().query('DELETE FROM session');
      await migrate('server/base/migrations');
    } finally {
      await closeDatabase();
      await stop(child, 60);
    }
    rmSync(join(half, sqlName));
    if (existsSync(target)) rmSync(target, { recursive: true });
    renameSync(half, target);
    return made;
  } finally {
    rmSync(half, { recursive: true, force: true });
  }
}

async function sha256Of(path: string): Promise<string | undefined> {
  if (!existsSync(path)) return;
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

async function compareRows(made: BackupList): Promise<void> {
  for (const [table, count] of Object.entries(made.tables)) {
    const [{ n }] = await rows<{ n: number }>(`SELECT COUNT(*) AS n FROM \`${table}\``);
    if (Number(n) !== count)
      throw new LaunchError(`${table} has ${n} rows in place of ${count}. Use another backup.`);
  }
}
