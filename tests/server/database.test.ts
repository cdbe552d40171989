import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { closeDatabase, database, rows } from '../../server/db/connect';
import { migrate } from '../../server/db/migrate';
import { claimFrame, renewLease, reportDeath, reportFrame } from '../../server/exports/queue';
import { cancelExport, createExport, exportsWith } from '../../server/exports/runs';
import { stop } from '../../server/launch/child';
import { type MariaDb, startMariaDb } from '../../server/launch/mariadb';
import { insertShot } from '../../server/media/add-shot';
import { copyFinish, loadFinish, saveFinish } from '../../server/shots/finishes';
import { listProjects, shotDetail } from '../../server/shots/shots';
import { remove, root, temporaryFolder } from './instance';

/** The server's data layer against a real MariaDB of its own. */
let maria: MariaDb;
const folder = temporaryFolder();
const finish = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('lamps', 'Lamps', { type: 'pass', media: 'orrery_hall', pass: '' }),
);
let shot: number;
let finishId: number;
const save = (id: number, from: number, document: Finish, label: string, token = crypto.randomUUID()) =>
  saveFinish(id, { from, document, label, save: token });

beforeAll(async () => {
  process.env.ZAFIRO_DATA = folder;
  maria = await startMariaDb(`${folder}/mariadb`);
  process.env.ZAFIRO_DATABASE_URL = maria.url;
  await migrate(`${root}/server/db/migrations`);
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
  await closeDatabase();
  await stop(maria.child, 60);
  remove(folder);
});

test('migrations are applied once', async () => {
  expect(await migrate(`${root}/server/db/migrations`)).toEqual([]);
  expect((await rows('SELECT name FROM migration')).length).toBeGreaterThanOrEqual(2);
});

test('a commit is on disk before it is acknowledged', async () => {
  const [setting] = await rows<{ v: number }>('SELECT @@innodb_flush_log_at_trx_commit AS v');
  expect(setting.v).toBe(1);
});

test('projects list their shots, with none of the frames here yet', async () => {
  const [project] = await listProjects();
  expect(project.name).toBe('Orrery Hall');
  expect(project.shots[0]).toMatchObject({ name: 'Shot 010', arrived: 0, expected: 24, poster: null });
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

describe('the export queue', () => {
  const findExport = async (run: number) => (await exportsWith(new Map([[run, new Set()]])))[0];
  const claimAll = async (count: number) =>
    (await Promise.all(Array.from({ length: count }, () => claimFrame()))).filter((c) => c !== undefined);

  test('hands every frame to one taker, however many ask at once', async () => {
    const run = await createExport(shot, finish, [1, 2, 3, 4, 5], { format: 'exr' }, 'hall');
    const taken = await claimAll(8);
    expect(taken.map((c) => c.frame).sort()).toEqual([1, 2, 3, 4, 5]);
    expect(taken.find((c) => c.frame === 1)!.job.out).toMatch(/hall\.0001\.exr$/);
    for (const claim of taken) await reportFrame(claim, { state: 'done', millis: 5, bytes: 10 });
    const done = await findExport(run);
    expect(done.frames.every((f) => f.state === 'done' && f.bytes === 10)).toBe(true);
  });

  test('gives a frame out again when its lease ran out, and listens to the new holder only', async () => {
    const run = await createExport(shot, finish, [7], { format: 'png16' }, 'hall');
    const [dead] = await claimAll(1);
    await database().query(
      'UPDATE export_frame SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE run_id = ?',
      [run],
    );
    const [next] = await claimAll(1);
    expect(next).toMatchObject({ run, frame: 7, attempt: 2 });
    await reportFrame(dead, { state: 'done', bytes: 1 });
    expect((await findExport(run)).frames[0].state).toBe('rendering');
    expect(await renewLease(dead)).toBe(false);
    expect(await renewLease(next)).toBe(true);
    await reportFrame(next, { state: 'failed', note: 'Frame 7: is not there.' });
    expect((await findExport(run)).frames[0]).toMatchObject({
      state: 'failed',
      note: 'Frame 7: is not there.',
    });
  });

  test('blames no frame for the death of whoever held it, and gives up what ended its own process twice', async () => {
    const run = await createExport(shot, finish, [8, 9], { format: 'exr' }, 'hall');
    const died = () =>
      database().query('UPDATE export_frame SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE run_id = ?', [
        run,
      ]);
    const bothInOrder = async () => (await claimAll(2)).sort((a, b) => a.frame - b.frame);
    await claimAll(2);
    // However often whoever holds them dies, no frame is to blame.
    for (let i = 0; i < 6; i++) {
      await died();
      expect(await bothInOrder()).toMatchObject([{ frame: 8 }, { frame: 9 }]);
    }
    await died();
    const [eight, nine] = await bothInOrder();
    await reportDeath(eight, 'Frame 8: Rendering it ended its process.');
    await reportFrame(nine, { state: 'waiting' });
    // What ended its process waits for the others.
    const [second] = await claimAll(1);
    expect(second).toMatchObject({ frame: 9 });
    await reportFrame(second, { state: 'done' });
    const [again] = await claimAll(1);
    expect(again).toMatchObject({ frame: 8 });
    await reportDeath(again, 'Frame 8: Rendering it ended its process.');
    const { frames } = await findExport(run);
    expect(frames.map((f) => f.state)).toEqual(['failed', 'done']);
    expect(frames[0].note).toBe('Frame 8: Rendering it ended its process. It was tried 2 times.');
  });

  test('hands out a frame whose document nobody can open: who renders it says so, and others go on', async () => {
    const run = await createExport(shot, finish, [3], { format: 'exr' }, 'hall');
    await database().query('UPDATE export_run SET document = \'{"version": 1}\' WHERE id = ?', [run]);
    const [claim] = await claimAll(1);
    expect(claim).toMatchObject({ run, frame: 3 });
    await reportFrame(claim, { state: 'failed' });
  });

  test('cancelled: what waits is cancelled at once, what is rendered loses its lease', async () => {
    const run = await createExport(shot, finish, [1, 2], { format: 'exr' }, 'hall');
    const [held] = await claimAll(1);
    await cancelExport(run);
    expect(await renewLease(held)).toBe(false);
    await reportFrame(held, { state: 'cancelled' });
    expect((await findExport(run)).frames.map((f) => f.state)).toEqual(['cancelled', 'cancelled']);
    expect(await claimFrame()).toBeUndefined();
  });
});
