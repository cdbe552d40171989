import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import { newFinish } from '../../core/finish/edits';
import type { Parts } from '../../server/http/health';
import { saveOf } from '../browser/page';
import { writeFrames } from '../browser/small-shot';
import { type Instance, json, processesOf, remove, startInstance, temporaryFolder, until } from './instance';

/** What stands beside the server fails while it works: Redis, a disk that turns read-only. What is wrong is said, nothing is lost, and it goes on by itself. */
const data = temporaryFolder();
const frames = temporaryFolder();
let zaf: Instance;
let shot: number;

beforeAll(async () => {
  zaf = await startInstance('start', data, [], { ZAFIRO_MEDIA_ROOTS: frames, ZAFIRO_LOG_MEGABYTES: '0.1' });
  ({ shot } = await json<{ shot: number }>(`${zaf.address}/api/shots`, {
    method: 'POST',
    body: JSON.stringify({
      project: 'Orrery',
      shot: 'Hall',
      media: [{ pattern: writeFrames(frames, 'hall', [1, 2, 3, 4]) }],
    }),
  }));
});
afterAll(async () => {
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const document = () => newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
const parts = async () => (await json<{ parts: Parts }>(`${zaf.address}/api/health`)).parts;
const exported = () =>
  json<{ run: number }>(`${zaf.address}/api/exports`, {
    method: 'POST',
    body: JSON.stringify({ shot, document: document(), frames: '1-4', format: 'exr', name: 'hall' }),
  });
const runOf = async (id: number) =>
  (await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`)).find((r) => r.id === id)!;
const done = (id: number) =>
  until('the export', async () => (await runOf(id)).frames.every((f) => f.state === 'done'));

test('all parts are well, and whether it lives is answered without them', async () => {
  await until('the exports', async () => (await parts()).exports === 'ok');
  expect(await parts()).toEqual({ database: 'ok', redis: 'ok', exports: 'ok', disk: 'ok' });
  expect(await json(`${zaf.address}/api/health?only=live`)).toEqual({ ok: true });
});

test('Redis goes and comes back: saves go on, what was exported meanwhile is made', async () => {
  const redis = () => processesOf(data).find((p) => /redis-server/.test(p.command));
  process.kill(redis()!.pid, 'SIGSTOP');
  expect((await parts()).redis).toBe('away');
  const { version } = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
  await json(`${zaf.address}/api/finishes/1`, {
    method: 'PUT',
    body: saveOf(version, document(), 'while away'),
  });
  const { run } = await exported();
  const stopped = redis()!.pid;
  process.kill(stopped, 'SIGKILL');
  await until('another one', async () => redis() !== undefined && redis()!.pid !== stopped);
  await done(run);
  await until('it is well', async () => (await parts()).redis === 'ok');
  expect((await json<SavedFinish>(`${zaf.address}/api/finishes/1`)).version).toBe(version + 1);
});

test('exports end: it is said, and they are started again', async () => {
  const exports_ = () => processesOf(data).find((p) => /dist\/exports\.mjs/.test(p.command));
  const { pid } = exports_()!;
  process.kill(pid, 'SIGKILL');
  const { run } = await exported();
  await done(run);
  expect(exports_()!.pid).not.toBe(pid);
});

test('a disk that turns read-only: exports wait, and go on by themselves once it is not', async (context) => {
  const folder = join(data, 'exports');
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'ro,size=16m', 'tmpfs', folder]);
  // Where this machine lets nobody mount.
  if (mounted.status !== 0) return context.skip();
  let run: number;
  try {
    const begun = await fetch(`${zaf.address}/api/exports`, {
      method: 'POST',
      body: JSON.stringify({ shot, document: document(), frames: '1-4', format: 'exr', name: 'hall' }),
    });
    expect([200, 507]).toContain(begun.status);
    if (begun.status === 507) expect(await begun.text()).toContain('read-only');
    run = begun.ok ? (await begun.json()).run : 0;
    // What does not touch that disk goes on.
    const { version } = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
    await json(`${zaf.address}/api/finishes/1`, {
      method: 'PUT',
      body: saveOf(version, document(), 'beside'),
    });
    await new Promise((rest) => setTimeout(rest, 3000));
    if (run) expect((await runOf(run)).frames.map((f) => f.state)).not.toContain('failed');
  } finally {
    expect(spawnSync('umount', ['-l', folder]).status).toBe(0);
  }
  await done(run || (await exported()).run);
});

test('logs are turned over, and keep what was said last', async () => {
  const logs = join(data, 'logs');
  // A line is some 150 bytes: more than 0.1 MB of them.
  for (let i = 0; i < 12; i++)
    await Promise.all(
      Array.from({ length: 80 }, () => fetch(`${zaf.address}/api/health?only=live`).then((r) => r.text())),
    );
  await until(
    'an older log',
    async () => readdirSync(logs).some((name) => /next\.log.*\.gz$|next\.log\.\d|\d+.*next\.log/.test(name)),
    30,
  );
  await fetch(`${zaf.address}/api/health?only=live`, { headers: { 'x-request-id': 'the-last-one' } });
  await until(
    'the last line',
    async () => readFileSync(join(logs, 'next.log'), 'utf8').includes('"id":"the-last-one"'),
    20,
  );
});
