import { spawnSync } from 'node:child_process';
import {
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  renameSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { Shelf } from '../../api/shelf';
import { newFinish } from '../../core/finish/edits';
import { importShot, writeFrames } from '../browser/small-shot';
import {
  databaseOf,
  type Instance,
  json,
  processesOf,
  remove,
  startInstance,
  temporaryFolder,
  until,
} from './instance';

/** A server in another time zone and at another address, with a disk that does not answer, and files of Redis that nobody can read. */
let data = temporaryFolder();
const frames = temporaryFolder();
const out = temporaryFolder();
const env = { TZ: 'America/New_York', ZAFIRO_MEDIA_ROOTS: frames, ZAFIRO_EXPORT_ROOTS: out };
const host = '127.0.0.2';
let zaf: Instance;
let shot: number;
const start = async () => {
  const begun = await startInstance('start', data, ['--host', host], env);
  return { ...begun, address: `http://${host}:${begun.port}` };
};

beforeAll(async () => {
  writeFrames(frames, 'hall', [1, 2]);
  zaf = await start();
  shot = await importShot(zaf.address, 'hall', [join(frames, 'hall.####.exr')]);
});
afterAll(async () => {
  await zaf?.stop();
  for (const folder of [data, frames, out]) remove(folder);
});

const document = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
const write = (into: string | undefined, name: string, list = '1') =>
  json<{ run: number }>(`${zaf.address}/api/exports`, {
    method: 'POST',
    body: JSON.stringify({ shot, document, frames: list, format: 'exr', name, into }),
  }).then((r) => r.run);
const runOf = async (id: number) =>
  (await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`)).find((r) => r.id === id)!;
const done = (id: number) =>
  until(`export ${id}`, async () => {
    const run = await runOf(id);
    return run.frames.every((f) => f.state === 'done') && run;
  });
const isNow = (moment: string) => Math.abs(Date.parse(moment) - Date.now()) < 120_000;
const addedAt = async () => (await json<Shelf>(`${zaf.address}/api/shelf`)).projects[0].addedAt;

test('moments are those of UTC, wherever the machine stands', async () => {
  expect(isNow(await addedAt())).toBe(true);
  const run = await runOf(await write(join(out, 'times'), 'hall'));
  expect(isNow(run.createdAt)).toBe(true);
  await done(run.id);
});

test('whoever asks for another protocol is answered, and holds nothing open', async () => {
  const answers = await Promise.all(
    Array.from(
      { length: 50 },
      () =>
        new Promise<string>((ended, failed) => {
          let said = '';
          const socket = connect(zaf.port, host, () =>
            socket.write(
              `GET /api/shelf HTTP/1.1\r\nHost: ${host}:${zaf.port}\r\nConnection: Upgrade\r\nUpgrade: websocket\r\n` +
                'Sec-WebSocket-Key: AAAAAAAAAAAAAAAAAAAAAA==\r\nSec-WebSocket-Version: 13\r\n\r\n',
            ),
          );
          socket.on('data', (bytes) => (said += bytes));
          socket.on('close', () => ended(said));
          socket.on('error', failed);
        }),
    ),
  );
  for (const said of answers) expect(said).toMatch(/^HTTP\/1\.1 400 /);
});

test('what is delivered may be read by whom the umask lets read it; what is kept, by nobody else', async () => {
  const folder = join(out, 'show', 'hall');
  await done(await write(folder, 'hall'));
  const umask = process.umask();
  for (const name of readdirSync(folder))
    expect(statSync(join(folder, name)).mode & 0o777, name).toBe(0o666 & ~umask);
  for (const path of [folder, join(out, 'show')])
    expect(statSync(path).mode & 0o055, path).toBe(0o055 & ~umask);
  expect(statSync(data).mode & 0o077).toBe(0);
});

test('a disk that does not answer holds up its own frame and costs no lease', async () => {
  const folder = join(out, 'hangs');
  mkdirSync(folder);
  // Whoever opens it waits for the other side, as for a share that is away.
  expect(spawnSync('mkfifo', [join(folder, 'hall.frames.jsonl')]).status).toBe(0);
  const run = await write(folder, 'hall');
  await until('it is being rendered', async () => (await runOf(run)).frames[0].state === 'rendering');
  // Longer than a lease.
  await sleep(9000);
  expect((await runOf(run)).frames[0]).toMatchObject({ state: 'rendering', tries: 1 });
  // The other frames go on.
  await done(await write(join(out, 'beside'), 'hall'));
  const share = openSync(join(folder, 'hall.frames.jsonl'), 'r+');
  expect((await done(run)).frames[0].tries).toBe(1);
  expect(share).toBeGreaterThan(0);
});

test('rows of a version that wrote the time of its host are corrected once; files of Redis that nobody can read are set aside', async () => {
  const before = await addedAt();
  const db = await mysql.createConnection({ uri: databaseOf(data), timezone: 'Z' });
  await db.query("UPDATE project SET created_at = CONVERT_TZ(created_at, '+00:00', 'SYSTEM')");
  await db.query("DELETE FROM seeded WHERE name = 'moments in UTC'");
  await db.end();
  expect(isNow(await addedAt())).toBe(false);
  const run = await write(join(out, 'last'), 'hall', '1-2');
  await zaf.stop();
  const files = readdirSync(join(data, 'redis'), { recursive: true, encoding: 'utf8' });
  for (const name of files.filter((f) => /\.(aof|rdb|manifest)$/.test(f)))
    writeFileSync(join(data, 'redis', name), 'no file of Redis\n'.repeat(50));
  zaf = await start();
  expect(await addedAt()).toBe(before);
  expect(readdirSync(data).filter((name) => name.startsWith('redis-garbled-'))).toHaveLength(1);
  await done(run);
  await zaf.stop();
  zaf = await start();
  // Not corrected twice.
  expect(await addedAt()).toBe(before);
  expect(readFileSync(join(out, 'last', 'hall.0002.exr')).length).toBeGreaterThan(0);
});

test('a data folder that was moved keeps its own media and exports', async () => {
  const run = await write(undefined, 'stored');
  await done(run);
  await zaf.stop();
  const moved = `${data}-moved`;
  renameSync(data, moved);
  data = moved;
  zaf = await start();
  const response = await fetch(`${zaf.address}/api/exports/${run}/download`);
  expect([response.status, response.headers.get('content-type')]).toEqual([200, 'image/x-exr']);
  await done(await write(undefined, 'again'));
});

test('a zip that nobody reads to its end lets go of its files', async () => {
  const run = await write(undefined, 'zipped', '1-2');
  await done(run);
  const folder = join(data, 'exports', String(run));
  for (const frame of [1, 2]) writeFileSync(join(folder, `zipped.000${frame}.exr`), Buffer.alloc(60_000_000));
  const open = () =>
    processesOf(data).flatMap(({ pid }) => {
      try {
        return readdirSync(`/proc/${pid}/fd`).filter((fd) =>
          readlinkSync(`/proc/${pid}/fd/${fd}`).startsWith(folder),
        );
      } catch {
        // It ended, or closed one meanwhile.
        return [];
      }
    });
  const leave = new AbortController();
  const response = await fetch(`${zaf.address}/api/exports/${run}/download`, { signal: leave.signal });
  expect(response.headers.get('content-type')).toBe('application/zip');
  await response.body!.getReader().read();
  await until('a file of it is open', async () => open().length > 0);
  leave.abort();
  await until('none is', async () => open().length === 0);
  const whole = await fetch(`${zaf.address}/api/exports/${run}/download`);
  expect((await whole.arrayBuffer()).byteLength).toBeGreaterThan(120_000_000);
});
