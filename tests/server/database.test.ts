import { existsSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { keeper } from '../../server/access/who';
import { rows } from '../../server/base/connect';
import { migrate } from '../../server/base/migrate';
import { insertShot } from '../../server/shots/add-shot';
import { copyFinish, loadFinish, saveFinish } from '../../server/shots/finishes';
import { readShelf } from '../../server/shots/shelf';
import { shotDetail } from '../../server/shots/shots';
import { remove, root, temporaryFolder } from './instance';
import { ownDatabase } from './own-database';

/** The server's data layer against a real MariaDB of its own. */
let own: Awaited<ReturnType<typeof ownDatabase>>;
const folder = temporaryFolder();
const finish = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('lamps', 'Lamps', { type: 'pass', media: 'orrery_hall', pass: '' }),
);
let shot: number;
let finishId: number;
const save = (id: number, from: number, document: Finish, label: string, token = crypto.randomUUID()) =>
  saveFinish(id, { from, document, label, save: token });

/** What the database of somebody else keeps meanwhile, by its name. */
const ofAnother = join(tmpdir(), `#sql-temptable-${process.pid}-of-another.MAI`);

beforeAll(async () => {
  writeFileSync(ofAnother, '');
  own = await ownDatabase(folder);
  shot = await insertShot({
    project: 'Orrery Hall',
    shot: 'Shot 010',
    media: [{ name: 'orrery_hall', pattern: '/frames/orrery_hall.####.exr', first: 1, last: 24 }],
    first: 1,
    last: 24,
    rate: 24,
    width: 960,
    height: 540,
    finish,
  });
  finishId = (await shotDetail(shot))!.finishes[0].id;
});

afterAll(async () => {
  await own.close();
  remove(folder);
  rmSync(ofAnother, { force: true });
});

test('migrations are applied once', async () => {
  expect(await migrate(`${root}/server/base/migrations`)).toEqual([]);
  expect((await rows('SELECT name FROM migration')).length).toBeGreaterThanOrEqual(2);
});

test('a commit is on disk before it is acknowledged', async () => {
  const [setting] = await rows<{ v: number }>('SELECT @@innodb_flush_log_at_trx_commit AS v');
  expect(setting.v).toBe(1);
});

test('projects list their shots, with none of the frames here yet', async () => {
  const [project] = (await readShelf(keeper)).projects;
  expect(project.name).toBe('Orrery Hall');
  expect(project.shots[0]).toMatchObject({ name: 'Shot 010', arrived: 0, expected: 24, frame: null });
});

test('a finish is copied beside itself, under its own name, and both go their ways', async () => {
  const copy = await copyFinish(finishId, 'Lamps, dimmer');
  const there = (await shotDetail(shot))!.finishes;
  expect(there.find((f) => f.id === copy)).toEqual({ id: copy, name: 'Lamps, dimmer' });
  const before = await loadFinish(finishId);
  const copied = await loadFinish(copy);
  expect(copied.document).toEqual({ ...before.document, name: 'Lamps, dimmer' });
  const dimmed = setValue(copied.document, 'bloom', 'amount', 0.1).apply(copied.document);
  await save(copy, copied.version, dimmed, 'set Amount');
  expect(await loadFinish(finishId)).toEqual(before);
  await expect(copyFinish(9999, 'Nothing')).rejects.toThrow(/not there any more/);
});

test('temporary tables lie in the data folder, and those of another database are left alone', async () => {
  expect(existsSync(ofAnother)).toBe(true);
  const [{ place }] = await rows<{ place: string }>('SELECT @@tmpdir AS place');
  expect(place.startsWith(folder)).toBe(true);
});

describe('saving a finish', () => {
  test('gives versions in a row and keeps every one', async () => {
    const before = await loadFinish(finishId);
    const edited = setValue(before.document, 'bloom', 'threshold', 3).apply(before.document);
    expect(await save(finishId, before.version, edited, 'set Threshold')).toBe(before.version + 1);
    const after = await loadFinish(finishId);
    expect(after.document).toEqual(edited);
    const kept = await rows('SELECT version FROM finish_version WHERE finish_id = ?', [finishId]);
    expect(kept.length).toBe(after.version);
  });

  test('from an old version is a conflict and writes nothing', async () => {
    const before = await loadFinish(finishId);
    const mine = setValue(before.document, 'bloom', 'amount', 2).apply(before.document);
    await expect(save(finishId, before.version - 1, mine, 'late')).rejects.toMatchObject({
      code: 'conflict',
      newest: before.version,
    });
    expect(await loadFinish(finishId)).toEqual(before);
  });

  test('of many at once from the same version lets exactly one through', async () => {
    const { version, document } = await loadFinish(finishId);
    const saves = await Promise.all(
      Array.from({ length: 6 }, (_, i) =>
        save(finishId, version, setValue(document, 'bloom', 'amount', i).apply(document), `save ${i}`).catch(
          (error) => error.code,
        ),
      ),
    );
    expect(saves.filter((s) => s !== 'conflict')).toEqual([version + 1]);
    expect(saves.filter((s) => s === 'conflict')).toHaveLength(5);
  });
});
