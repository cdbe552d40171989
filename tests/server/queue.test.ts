import { existsSync, readFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { addStep, newFinish } from '../../core/finish/edits';
import { database, rows } from '../../server/base/connect';
import { changing } from '../../server/changes/note';
import { filesArrived } from '../../server/exports/arrivals';
import {
  feedOrder,
  mendOrder,
  renewLeases,
  reportDeath,
  reportFrame,
  takeBackLost,
  takeFrame,
} from '../../server/exports/queue';
import {
  cancelExport,
  createExport,
  exportsWith,
  pauseExport,
  retryExport,
  setUrgency,
} from '../../server/exports/runs';
import { listMachines } from '../../server/nodes/machines';
import { insertShot } from '../../server/shots/add-shot';
import { openQueue } from './export-queue';
import { remove, temporaryFolder } from './instance';
import { ownDatabase } from './own-database';

/** The queue of exports: rows in MariaDB, which are the truth, and their order in Redis. */
let own: Awaited<ReturnType<typeof ownDatabase>>;
let queue: Awaited<ReturnType<typeof openQueue>>;
const folder = temporaryFolder();
const finish = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('lamps', 'Lamps', { type: 'pass', media: 'orrery_hall', pass: '' }),
);
let shot: number;

beforeAll(async () => {
  own = await ownDatabase(folder);
  queue = await openQueue(folder);
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
});
afterAll(async () => {
  await queue.close();
  await own.close();
  remove(folder);
});

const findExport = async (run: number) => (await exportsWith(new Map([[run, new Set()]])))[0];
const states = async (run: number) => (await findExport(run)).frames.map((f) => f.state);
const claimAll = async (count: number, by = queue.node) => {
  await feedOrder(queue.order);
  return (await Promise.all(Array.from({ length: count }, () => takeFrame(queue.order, by)))).filter(
    (c) => c !== undefined,
  );
};
const leasesEnd = (run: number) =>
  database().query('UPDATE export_frame SET lease_until = NOW(3) - INTERVAL 1 SECOND WHERE run_id = ?', [
    run,
  ]);
const ask = (frames: number[]) => createExport(shot, finish, frames, { format: 'exr' }, 'hall');
const some = (count: number) => Array.from({ length: count }, (_, i) => i + 1);

test('every frame goes to one taker, however many ask at once, and its file is put in its place', async () => {
  const run = await ask([1, 2, 3, 4, 5]);
  const taken = await claimAll(8);
  expect(taken.map((c) => c.frame).sort()).toEqual([1, 2, 3, 4, 5]);
  const first = taken.find((c) => c.frame === 1)!;
  expect(first.out).toMatch(/hall\.0001\.exr$/);
  expect(first.job.out).toBe(`${first.out}.1.part`);
  for (const claim of taken) expect(await queue.finish(claim)).toBe(true);
  const done = await findExport(run);
  expect(done.frames.every((f) => f.state === 'done' && f.bytes === 10 && f.machine === 'first')).toBe(true);
  expect(existsSync(first.job.out)).toBe(false);
  expect([...readFileSync(first.out)]).toEqual(new Array(10).fill(1));
  expect(readFileSync(first.out.replace('0001.exr', 'frames.jsonl'), 'utf8')).toContain('"key":"key 1"');
});

test('a frame whose lease ran out goes to another, and the one that had it is not listened to', async () => {
  const run = await ask([7]);
  const [dead] = await claimAll(1);
  await leasesEnd(run);
  expect(await takeBackLost()).toBe(1);
  const [next] = await claimAll(1);
  expect(next).toMatchObject({ run, frame: 7, attempt: 2 });
  expect(await queue.finish(dead, 99)).toBe(false);
  expect(existsSync(dead.job.out)).toBe(false);
  expect(await states(run)).toEqual(['rendering']);
  expect(await renewLeases([dead, next], queue.node)).toEqual([dead]);
  await reportFrame(next, { state: 'failed', note: 'Frame 7: is not there.' });
  expect((await findExport(run)).frames[0]).toMatchObject({
    state: 'failed',
    note: 'Frame 7: is not there.',
    tries: 2,
  });
  await retryExport(run);
  const [again] = await claimAll(1);
  expect(await queue.finish(again)).toBe(true);
  expect(await states(run)).toEqual(['done']);
});

test('after a clock was set back, a lease from the time to come is none, and a machine from there is gone', async () => {
  const run = await ask([17]);
  const [dead] = await claimAll(1);
  await database().query('UPDATE export_frame SET lease_until = NOW(3) + INTERVAL 1 DAY WHERE run_id = ?', [
    run,
  ]);
  await database().query('UPDATE render_node SET seen_at = NOW(3) + INTERVAL 1 DAY WHERE id = ?', [
    queue.node,
  ]);
  expect((await listMachines()).find((m) => m.id === queue.node)?.isHere).toBe(false);
  expect(await takeBackLost()).toBe(1);
  const [next] = await claimAll(1);
  expect(next).toMatchObject({ run, frame: 17, attempt: 2 });
  expect(await queue.finish(dead, 99)).toBe(false);
  expect(await queue.finish(next)).toBe(true);
  expect(await states(run)).toEqual(['done']);
});

test('a frame that was lost with its machine again and again is given up by name', async () => {
  const run = await ask([8]);
  for (let i = 0; i < 10; i++) {
    expect(await claimAll(1)).toHaveLength(1);
    await leasesEnd(run);
    await takeBackLost();
  }
  expect((await findExport(run)).frames[0]).toMatchObject({
    state: 'failed',
    note: expect.stringMatching(
      /^Frame 8: it was lost 10 times with the machine .* last first\. .* try again\.$/,
    ),
  });
});

test('what ended its process is tried elsewhere if anybody else is there, then given up', async () => {
  const run = await ask([8, 9]);
  const [eight, nine] = (await claimAll(2)).sort((a, b) => a.frame - b.frame);
  await reportDeath(eight, 'Frame 8: Rendering it ended its process.');
  expect(await queue.finish(nine)).toBe(true);
  const other = await queue.machine('second');
  // The machine that it ended does not get it while there is another.
  expect(await claimAll(3)).toEqual([]);
  const [again] = await claimAll(1, other);
  expect(again).toMatchObject({ run, frame: 8, attempt: 2 });
  await reportDeath(again, 'Frame 8: Rendering it ended its process.');
  const { frames } = await findExport(run);
  expect(frames.map((f) => f.state)).toEqual(['failed', 'done']);
  expect(frames[0]).toMatchObject({
    note: 'Frame 8: Rendering it ended its process. It was tried 2 times.',
    machine: 'second',
  });
  // Nobody else is there any more: then it is tried where it was.
  await database().query('UPDATE render_node SET removed = TRUE WHERE id = ?', [other]);
  await retryExport(run);
  const [here] = await claimAll(1);
  await reportDeath(here, 'It ended.');
  const [once] = await claimAll(1);
  expect(once).toMatchObject({ frame: 8 });
  await queue.finish(once);
});

test('a document that nobody can open is handed out: who renders it says so, and others go on', async () => {
  const run = await ask([3]);
  await database().query('UPDATE export_run SET document = \'{"version": 1}\' WHERE id = ?', [run]);
  const [claim] = await claimAll(1);
  expect(claim).toMatchObject({ run, frame: 3 });
  await reportFrame(claim, { state: 'failed' });
});

test('cancelled: what waits is cancelled at once, what is rendered loses its lease', async () => {
  const run = await ask([1, 2]);
  const [held] = await claimAll(1);
  await cancelExport(run);
  expect(await renewLeases([held], queue.node)).toEqual([held]);
  await reportFrame(held, { state: 'cancelled' });
  expect(await states(run)).toEqual(['cancelled', 'cancelled']);
  expect(await claimAll(2)).toEqual([]);
});

test('paused: what is rendered is rendered to its end, what waits waits until the run goes on', async () => {
  const run = await ask([1, 2, 3]);
  const [held] = await claimAll(1);
  await pauseExport(run, true);
  expect(await claimAll(2)).toEqual([]);
  expect(await renewLeases([held], queue.node)).toEqual([]);
  expect(await queue.finish(held)).toBe(true);
  expect(await findExport(run)).toMatchObject({ paused: true });
  await pauseExport(run, false);
  const rest = await claimAll(3);
  expect(rest.map((c) => c.frame).sort()).toEqual([2, 3]);
  for (const claim of rest) await queue.finish(claim);
});

test('an export that stands waits for its files, also when it was stopped and goes on', async () => {
  const run = await createExport(shot, finish, [1, 2], { format: 'exr' }, 'hall', { standing: true });
  expect(await states(run)).toEqual(['expected', 'expected']);
  expect(await claimAll(2)).toEqual([]);
  const [{ id }] = await rows<{ id: number }>("SELECT id FROM media WHERE name = 'orrery_hall'");
  const arrives = (frame: number) =>
    changing(async (c, note, tell) => {
      await c.query(
        `REPLACE INTO media_frame (media_id, frame, state, content, bytes, modified_ms) VALUES (?, ?, 'ready', 'a', 1, 1)`,
        [id, frame],
      );
      await filesArrived(c, note, tell, shot, { media: 'orrery_hall', frame });
    });
  await arrives(2);
  expect(await states(run)).toEqual(['expected', 'waiting']);
  const [claim] = await claimAll(2);
  expect(claim).toMatchObject({ run, frame: 2 });
  // Its file is written anew while it is rendered: it is rendered once more.
  await arrives(2);
  expect(await queue.finish(claim)).toBe(true);
  expect(await states(run)).toEqual(['expected', 'waiting']);
  await queue.finish((await queue.claim())!);
  expect(await states(run)).toEqual(['expected', 'done']);
  await cancelExport(run);
  expect(await states(run)).toEqual(['cancelled', 'done']);
  await arrives(1);
  expect(await states(run)).toEqual(['cancelled', 'done']);
  await retryExport(run);
  expect(await states(run)).toEqual(['waiting', 'done']);
  await queue.finish((await queue.claim())!);
  await cancelExport(run);
});

/** Takes and finishes frames, one after the other, and gives whose they were. */
async function inTurn(count: number, names: Record<number, string>): Promise<string> {
  let order = '';
  for (let i = 0; i < count; i++) {
    const claim = (await queue.claim())!;
    order += names[claim.run];
    await queue.finish(claim);
  }
  return order;
}

test('runs of one urgency take turns, a later one at once; urgent ones go first, others last', async () => {
  const a = await ask(some(6));
  const names: Record<number, string> = { [a]: 'a' };
  expect(await inTurn(2, names)).toBe('aa');
  const b = await ask(some(4));
  names[b] = 'b';
  // Turn about, whichever of them is first.
  const turns = await inTurn(4, names);
  expect([turns.match(/a/g)!.length, turns.match(/b/g)!.length].sort()).toEqual([2, 2]);
  const last = await ask(some(2));
  names[last] = 'l';
  await setUrgency(last, 'last');
  const urgent = await ask(some(2));
  names[urgent] = 'u';
  await setUrgency(urgent, 'first');
  expect(await inTurn(8, names)).toMatch(/^uu[ab]{4}ll$/);
  expect(await queue.claim()).toBeUndefined();
});

test('frames keep their order within a run, also of hundreds', async () => {
  const run = await ask(some(300));
  const taken: number[] = [];
  for (let i = 0; i < 300; i++) {
    const claim = (await queue.claim())!;
    expect(claim.run).toBe(run);
    taken.push(claim.frame);
    await reportFrame(claim, { state: 'cancelled' });
  }
  expect(taken).toEqual(some(300));
});

test('Redis ended by kill -9 comes back with what it held', async () => {
  const run = await ask(some(5));
  await queue.finish((await queue.claim())!);
  // Longer than it may wait until its file is on disk.
  await sleep(1500);
  await queue.killRedis();
  expect(await queue.order.count()).toBe(4);
  for (const claim of await claimAll(5)) await queue.finish(claim);
  expect(await states(run)).toEqual(new Array(5).fill('done'));
});

test('Redis that has lost everything is filled from the rows', async () => {
  const run = await ask(some(5));
  await queue.finish((await queue.claim())!);
  await queue.killRedis(async () => remove(`${folder}/redis/appendonlydir`));
  expect(await queue.order.count()).toBe(0);
  expect(await claimAll(5)).toEqual([]);
  expect(await mendOrder(queue.order)).toBe(true);
  for (const claim of await claimAll(5)) await queue.finish(claim);
  expect(await states(run)).toEqual(new Array(5).fill('done'));
  expect(await mendOrder(queue.order)).toBe(false);
});

test('a frame whose taker died between the order and its row is found again', async () => {
  const run = await ask([1]);
  await feedOrder(queue.order);
  // The taker never comes back.
  void queue.order.next(() => new Promise(() => {})).catch(() => {});
  await sleep(200);
  expect(await queue.claim()).toBeUndefined();
  await queue.order.watchStalled();
  let found: Awaited<ReturnType<typeof queue.claim>>;
  for (let i = 0; i < 150 && !found; i++) {
    await sleep(100);
    found = await queue.claim();
  }
  expect(found).toMatchObject({ run, frame: 1 });
  await queue.finish(found!);
});

test('nothing is left: no row waits, nothing is in the order, no file lies aside', async () => {
  expect(await queue.order.count()).toBe(0);
  expect(await rows("SELECT 1 FROM export_frame WHERE state IN ('waiting', 'rendering')")).toEqual([]);
});
