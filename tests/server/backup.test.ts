import { createHash } from 'node:crypto';
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { create, extract, list } from 'tar';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { saveOf } from '../browser/page';
import { writeFrames } from '../browser/small-shot';
import {
  databaseOf,
  type Instance,
  json,
  remove,
  startInstance,
  temporaryFolder,
  until,
  zafiro,
} from './instance';

/** A backup that is made while somebody edits and exports run, put into a second folder, and compared with the first: row by row, file by file. */
const data = temporaryFolder();
const second = join(temporaryFolder(), 'second');
const frames = temporaryFolder();
const file = join(temporaryFolder(), 'all.tar');
const env = { ZAFIRO_MEDIA_ROOTS: frames };
let zaf: Instance;
let copy: Instance | undefined;
let shot: number;
let finish: number;

const document = (amount: number) => {
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'bloom', 'bloom').apply(doc);
  return setValue(doc, 'bloom', 'amount', amount, 1).apply(doc);
};
const exportNow = (address: string) =>
  json<{ run: number }>(`${address}/api/exports`, {
    method: 'POST',
    body: JSON.stringify({ shot, document: document(2), frames: '1-2', format: 'exr', name: 'hall' }),
  });
const runs = (address: string) => json<ExportRun[]>(`${address}/api/exports?shot=${shot}`);
const isOver = (run: ExportRun) => run.frames.every((f) => f.state === 'done');
const keep = (folder: string, ...args: string[]) => zafiro(args, { ZAFIRO_DATA: folder, ...env });
const sha = (path: string) => createHash('sha256').update(readFileSync(path)).digest('hex');
const filesOf = (folder: string) =>
  ['store', 'media', 'exports'].flatMap((part) =>
    !existsSync(join(folder, part))
      ? []
      : readdirSync(join(folder, part), { recursive: true, withFileTypes: true })
          .filter((e) => e.isFile() && !e.name.endsWith('.part'))
          .map((e) => join(e.parentPath, e.name).slice(folder.length + 1)),
  );

beforeAll(async () => {
  zaf = await startInstance('start', data, [], env);
  // Frames that were sent: they are Zafiro’s own.
  writeFrames(frames, 'hall', [1, 2]);
  const { upload } = await json<{ upload: string }>(`${zaf.address}/api/uploads`, { method: 'POST' });
  for (const n of ['0001', '0002']) {
    const bytes = readFileSync(join(frames, `hall.${n}.exr`));
    await json(`${zaf.address}/api/uploads/${upload}/hall.${n}.exr`, {
      method: 'PUT',
      headers: { 'x-zafiro-size': String(bytes.length) },
      body: bytes,
    });
  }
  const { folder } = await json<{ folder: string }>(`${zaf.address}/api/uploads/${upload}`);
  ({ shot } = await json<{ shot: number }>(`${zaf.address}/api/shots`, {
    method: 'POST',
    body: JSON.stringify({
      project: 'Orrery',
      shot: 'Hall',
      media: [{ pattern: `${folder}/hall.####.exr` }],
    }),
  }));
  finish = 1;
  await exportNow(zaf.address);
  await until('the export', async () => isOver((await runs(zaf.address))[0]));
});
afterAll(async () => {
  await zaf?.stop();
  await copy?.stop();
  for (const folder of [data, frames, join(second, '..'), join(file, '..')]) remove(folder);
});

test('made during edits and exports, it is all of one moment', async () => {
  let version = 1;
  let editing = true;
  const edits = (async () => {
    while (editing) {
      const body = saveOf(version, document(1 + (version % 7) / 10), `edit ${version}`);
      await json(`${zaf.address}/api/finishes/${finish}`, { method: 'PUT', body });
      version++;
    }
  })();
  await exportNow(zaf.address);
  await until('some edits', async () => version > 20);
  const before = version;
  const made = await keep(data, 'backup', file);
  editing = false;
  await edits;
  expect(made.err + made.out).toMatch(/rows, \d+ files/);
  expect(made.code).toBe(0);
  expect(statSync(file).mode & 0o077).toBe(0);
  await until('the second export', async () => (await runs(zaf.address)).every(isOver));

  const restored = await keep(second, 'restore', file);
  expect(restored.err + restored.out).toContain('As of');
  expect(restored.code).toBe(0);
  copy = await startInstance('start', second, [], env);
  const [a, b] = await Promise.all([data, second].map((d) => mysql.createConnection(databaseOf(d))));
  try {
    const rowsOf = async (db: mysql.Connection, sql: string) =>
      (await db.query<mysql.RowDataPacket[]>(sql))[0];
    // All that was saved before is in it, each row as it is here; of what was saved meanwhile a whole beginning.
    const versions = 'SELECT * FROM finish_version ORDER BY finish_id, version';
    const [first, then] = [await rowsOf(a, versions), await rowsOf(b, versions)];
    expect(then.length).toBeGreaterThanOrEqual(before);
    expect(then).toEqual(first.slice(0, then.length));
    const [{ version: named }] = await rowsOf(b, `SELECT version FROM finish WHERE id = ${finish}`);
    expect(named).toBe(then.length);
    for (const table of ['project', 'shot', 'recipe', 'recipe_version', 'upload', 'membership'])
      expect(await rowsOf(b, `SELECT * FROM ${table}`), table).toEqual(
        await rowsOf(a, `SELECT * FROM ${table}`),
      );
    // Paths lead into the new folder.
    const moved = (rows: mysql.RowDataPacket[]) => JSON.parse(JSON.stringify(rows).replaceAll(data, second));
    expect(await rowsOf(b, 'SELECT * FROM media')).toEqual(moved(await rowsOf(a, 'SELECT * FROM media')));
    expect(JSON.stringify(await rowsOf(b, 'SELECT media, folder FROM export_run'))).not.toContain(`${data}/`);
  } finally {
    await a.end();
    await b.end();
  }
  for (const path of filesOf(second).filter((p) => !p.startsWith('exports')))
    expect(sha(join(second, path)), path).toBe(sha(join(data, path)));
  // Both frames have the same content: one file, under three names.
  expect(filesOf(second).filter((p) => p.startsWith('store')).length).toBe(1);
  expect(statSync(join(second, filesOf(second).find((p) => p.startsWith('store'))!)).nlink).toBe(3);
  // What had begun goes on, and gives the same bytes.
  await until('the exports of the copy', async () => (await runs(copy!.address)).every(isOver));
  for (const path of filesOf(second).filter((p) => p.startsWith('exports')))
    expect(sha(join(second, path)), path).toBe(sha(join(data, path)));
  const opened = await json<SavedFinish>(`${copy.address}/api/finishes/${finish}`);
  expect(opened.document.strands[0].steps[0].type).toBe('bloom');
});

test('a check finds all of it right; what is missing is named, and mended where it can be', async () => {
  const sound = await keep(second, 'check');
  expect(sound.out).toContain('All is there and right.');
  expect(sound.code).toBe(0);
  const [finished] = filesOf(second).filter((p) => p.startsWith('exports'));
  const [stored] = filesOf(second).filter((p) => p.startsWith('store'));
  const whole = readFileSync(join(second, finished));
  truncateSync(join(second, finished), 100);
  appendFileSync(join(second, stored), 'x');
  const found = await keep(second, 'check');
  expect(found.code).toBe(1);
  expect(found.out).toContain(`The finished frame ${join(second, finished)} is not as it was written`);
  expect(found.out).toContain(`${join(second, stored)} is not what its name says`);
  truncateSync(join(second, stored), statSync(join(second, stored)).size - 1);
  const mended = await keep(second, 'check', '--mend');
  expect(mended.out).toContain('Mended: It is rendered again.');
  await until(
    'the frame',
    async () => existsSync(join(second, finished)) && readFileSync(join(second, finished)).equals(whole),
  );
  expect((await keep(second, 'check')).code).toBe(0);
  // A byte that is another one, in a file as large as it was, is seen by whoever reads all of it.
  const bent = Buffer.from(whole);
  bent[bent.length - 1] ^= 1;
  writeFileSync(join(second, finished), bent);
  expect((await keep(second, 'check')).code).toBe(0);
  expect((await keep(second, 'check', '--deep')).out).toContain(
    `The finished frame ${join(second, finished)} is not as it was written`,
  );
  writeFileSync(join(second, finished), whole);
});

test('what is no backup, or not all of one, is refused, and leaves nothing behind', async () => {
  const place = join(second, '..', 'third');
  const into = (source: string) => keep(place, 'restore', source);
  const expectRefused = async (source: string, words: string) => {
    const { code, err } = await into(source);
    expect(err).toContain(words);
    expect(code).toBe(1);
    expect([existsSync(place), existsSync(`${place}.restoring`)]).toEqual([false, false]);
  };
  await expectRefused(join(frames, 'none.tar'), 'There is no file');
  await expectRefused(join(frames, 'hall.0001.exr'), 'cannot be unpacked');
  const cut = join(frames, 'cut.tar');
  writeFileSync(cut, readFileSync(file).subarray(0, statSync(file).size >> 1));
  await expectRefused(cut, 'cut.tar');
  // A byte of a file is another one.
  const bent = join(frames, 'bent.tar');
  const bytes = readFileSync(file);
  const at = bytes.indexOf(
    readFileSync(join(data, filesOf(data).find((p) => p.startsWith('store'))!)).subarray(0, 64),
  );
  bytes[at + 600] ^= 1;
  writeFileSync(bent, bytes);
  await expectRefused(bent, 'is not as it was saved');
  // Nothing is written outside the folder.
  const evil = join(frames, 'evil.tar');
  writeFileSync(join(frames, 'inner'), 'x');
  await create({ file: evil, cwd: frames, prefix: '../../escaped', preservePaths: true }, ['inner']);
  await expectRefused(evil, 'evil.tar');
  // One that was forged: SQL that makes the client run a command, paths that leave the folder, and what its list does not name.
  const forged = async (change: (folder: string, list: { files: object[] }) => void) => {
    const inside = join(frames, 'forged');
    mkdirSync(inside, { recursive: true });
    await extract({ file, cwd: inside });
    const listed = JSON.parse(readFileSync(join(inside, 'zafiro-backup.json'), 'utf8'));
    change(inside, listed);
    writeFileSync(join(inside, 'zafiro-backup.json'), JSON.stringify(listed));
    const made = join(frames, 'forged.tar');
    await create({ file: made, cwd: inside }, readdirSync(inside));
    remove(inside);
    return made;
  };
  const sign = (path: string) => createHash('sha256').update(readFileSync(path)).digest('hex');
  const proof = join(frames, 'proof-of-a-command');
  const commanding = await forged((inside, { files }) => {
    const sql = join(inside, 'database.sql');
    writeFileSync(sql, `\\! touch ${proof}\nsystem touch ${proof}\n${readFileSync(sql, 'utf8')}`);
    Object.assign(files.find((f) => 'path' in f && f.path === 'database.sql')!, {
      sha256: sign(sql),
      bytes: statSync(sql).size,
    });
  });
  await into(commanding);
  expect(existsSync(proof)).toBe(false);
  remove(place);
  for (const entry of [
    { path: '../planted.png', bytes: 1, sha256: '0'.repeat(64) },
    { path: 'media/planted.png', bytes: 1, link: '../private/key' },
    { path: 'mariadb/planted', bytes: 1, link: 'database.sql' },
  ])
    await expectRefused(await forged((_, { files }) => files.push(entry)), 'is no backup of Zafiro');
  await expectRefused(
    await forged((inside) => writeFileSync(join(inside, 'run.json'), '{}')),
    'which its list does not name',
  );
  expect((await keep(second, 'restore', file)).err).toContain('Something runs on this data folder');
  await copy?.stop();
  copy = undefined;
  expect((await keep(second, 'restore', file)).err).toContain('is not empty');
  const names: string[] = [];
  await list({ file, onReadEntry: (e) => void names.push(e.path) });
  expect(names[0]).toBe('database.sql');
  expect(names.at(-1)).toBe('zafiro-backup.json');
  expect(names.filter((n) => /password|token|redis|logs/.test(n))).toEqual([]);
});

test('cleaning says what it would free, and frees that: old versions by the rule, deleted things', async () => {
  const a = await mysql.createConnection(databaseOf(data));
  try {
    const count = async () =>
      (await a.query<mysql.RowDataPacket[]>('SELECT COUNT(*) AS n FROM finish_version'))[0][0].n as number;
    const all = await count();
    await a.query(
      'UPDATE finish_version SET saved_at = NOW(3) - INTERVAL 40 DAY WHERE version BETWEEN 2 AND 12',
    );
    await a.query("UPDATE finish_version SET name = 'liked' WHERE version = 5");
    const told = await keep(data, 'clean', '--versions-older-than', '30');
    // Of eleven of one day the last stays, and one that has a name.
    expect(told.out).toContain('9 versions older than 30 days');
    expect(told.out).toContain('Nothing was removed');
    expect(await count()).toBe(all);
    const done = await keep(data, 'clean', '--versions-older-than', '30', '--yes');
    expect(done.code).toBe(0);
    expect(await count()).toBe(all - 9);
    const [left] = await a.query<mysql.RowDataPacket[]>(
      'SELECT version FROM finish_version WHERE version BETWEEN 2 AND 12 ORDER BY version',
    );
    expect(left.map((r) => r.version)).toEqual([5, 12]);
    // A finish still opens, and its document is the one that was saved last.
    expect((await json<SavedFinish>(`${zaf.address}/api/finishes/${finish}`)).version).toBe(all);
    await json(`${zaf.address}/api/shots/${shot}`, { method: 'DELETE' });
    const bin = await keep(data, 'clean', '--deleted');
    expect(bin.out).toMatch(/1 deleted things[^\n]*: [1-9]\S* MB|1 deleted things[^\n]*: 0\.[1-9]/);
    expect((await keep(data, 'clean', '--deleted', '--yes')).code).toBe(0);
    const [gone] = await a.query<mysql.RowDataPacket[]>('SELECT id FROM shot');
    expect(gone).toEqual([]);
    expect(filesOf(data).filter((p) => !p.startsWith('store'))).toEqual([]);
  } finally {
    await a.end();
  }
});

test('before an upgrade the rows are copied; an older program refuses a newer folder', async () => {
  const a = await mysql.createConnection(databaseOf(data));
  const [[last]] = await a.query<mysql.RowDataPacket[]>('SELECT MAX(name) AS name FROM migration');
  await a.query('DELETE FROM migration WHERE name = ?', [last.name]);
  await a.end();
  await zaf.stop();
  expect(existsSync(join(data, 'copies'))).toBe(false);
  zaf = await startInstance('start', data, [], env);
  const [made] = readdirSync(join(data, 'copies'));
  expect(made).toContain(`before-${(last.name as string).replace('.sql', '')}`);
  expect(statSync(join(data, 'copies', made)).mode & 0o077).toBe(0);
  const b = await mysql.createConnection(databaseOf(data));
  await b.query("INSERT INTO migration (name) VALUES ('9999_later.sql')");
  await b.end();
  await zaf.stop();
  const refused = await zafiro(['start', '--port', '4799'], { ZAFIRO_DATA: data, ...env });
  expect(refused.code).toBe(1);
  expect(refused.err).toContain('was used by a newer Zafiro (9999_later.sql)');
});

test('the doctor names what is missing, with its remedy', async () => {
  mkdirSync(join(frames, 'empty'));
  const well = await keep(join(frames, 'empty'), 'doctor');
  expect(well.out).toMatch(/Node\.js: \d+/);
  expect(well.out).toMatch(/MariaDB: 1\d\./);
  const bare = await zafiro(['doctor'], { ZAFIRO_DATA: join(frames, 'empty'), ...env });
  expect(bare.out).toContain('does not run on this data folder');
  rmSync(join(frames, 'empty'), { recursive: true });
});
