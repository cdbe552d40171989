import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { Machine } from '../../api/machines';
import type { QueuedRun } from '../../api/queue';
import { buildOf } from '../../engine/node/build-id';
import { importShot } from '../browser/small-shot';
import { litFinish, type Machine as Running, startMachine, writeSparks } from '../load/farm';
import {
  freePort,
  type Instance,
  json,
  remove,
  root,
  startInstance,
  temporaryFolder,
  until,
  zafiro,
} from './instance';
import { openNet } from './namespaces';

/** One server and three machines that render for it, each in a network of its own where this machine allows that. */
const data = temporaryFolder();
const frames = temporaryFolder();
const count = 18;
const net = openNet(3);
const host = net?.server ?? '127.0.0.1';
let zaf: Instance;
let shot: number;
let port: number;
let token: string;

type Node = Running & { work: string };
const nodes: Node[] = [];
/** Starts machine `i`. */
function enter(i: number, ...more: string[]): Node {
  const work = temporaryFolder();
  const args = ['--name', `machine ${i}`, '--frames', '1', ...more];
  const node = { ...startMachine({ server: `http://${host}:${port}`, token, work }, args, net?.on(i)), work };
  nodes.push(node);
  return node;
}
async function end({ process: child, work }: Node) {
  if (child.exitCode === null && child.signalCode === null) {
    const ended = new Promise((done) => child.once('exit', done));
    process.kill(-child.pid!, 'SIGTERM');
    await ended;
  }
  remove(work);
}

const finish = litFinish();

beforeAll(async () => {
  for (let frame = 1; frame <= count; frame++) writeSparks(frames, frame);
  port = await freePort();
  // The server renders nothing itself.
  zaf = await startInstance('start', data, ['--nodes', `${host}:${port}`], {
    ZAFIRO_MEDIA_ROOTS: frames,
    ZAFIRO_LOCAL_FRAMES: '0',
  });
  shot = await importShot(zaf.address, 'hall', [join(frames, 'hall.####.exr')]);
  token = readFileSync(join(data, 'node-token'), 'utf8');
});
afterAll(async () => {
  for (const node of nodes) await end(node).catch(() => {});
  await zaf?.stop();
  net?.close();
  for (const folder of [data, frames]) remove(folder);
});

const ask = async (list: string, name = 'hall') =>
  (
    await json<{ run: number }>(`${zaf.address}/api/exports`, {
      method: 'POST',
      body: JSON.stringify({
        shot,
        document: finish,
        frames: list,
        format: 'exr',
        name,
        carriesFinish: false,
      }),
    })
  ).run;
const run = async (id: number) =>
  (await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`)).find((r) => r.id === id)!;
const over = (id: number) =>
  until(`export ${id}`, async () => {
    const found = await run(id);
    return found.frames.every((f) => f.state !== 'waiting' && f.state !== 'rendering') && found;
  });
const machines = async () =>
  (await json<{ machines: Machine[] }>(`${zaf.address}/api/machines`)).machines.filter((m) => !m.isServer);
const post = (address: string, body: unknown = undefined) =>
  json(`${zaf.address}${address}`, { method: 'POST', ...(body ? { body: JSON.stringify(body) } : {}) });

test('a machine with another token is let in nowhere, one of another build takes nothing; both are told why', async () => {
  const at = `http://${host}:${port}/api/node`;
  const hello = (build: string, secret: string) =>
    fetch(at, {
      method: 'POST',
      headers: { authorization: `Bearer ${secret}`, 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'stranger', cores: 2, megabytes: 1000, places: 1, build }),
    });
  const refused = await hello('0.1.0 abc', 'wrong');
  expect([refused.status, (await refused.json()).error.code]).toEqual([403, 'forbidden']);
  const other = await hello('0.0.9 abcdef', token);
  expect([other.status, (await other.json()).error.message]).toEqual([
    409,
    expect.stringMatching(/^This machine has Zafiro 0\.0\.9 abcdef, the server 0\.1\.0 [0-9a-f]{12}\.$/),
  ]);
  expect(await machines()).toEqual([]);
  // Where machines reach the server there is nothing else.
  for (const path of ['/', '/api/shots/1', '/api/machines', '/api/exports?shot=1', '/queue', '/api/uploads'])
    expect((await fetch(`http://${host}:${port}${path}`, { headers: { host: 'localhost' } })).status).toBe(
      403,
    );
  expect((await fetch(`http://${host}:${port}/api/uploads`, { method: 'POST' })).status).toBe(403);
  // And a wrong token is told on the command line.
  const { code, err } = await zafiro(['node', '--server', `http://${host}:${port}`, '--token', 'wrong']);
  expect(code).toBe(1);
  expect(err).toMatch(
    /This token is not one of the server’s, or has run out\. Copy one from the page of machines/,
  );
});

let first: number;

test('a machine that lies places nothing, and reads nothing but what its frames are made of', async () => {
  writeFileSync(join(frames, 'private.txt'), 'nobody else’s');
  const id = await ask('1', 'lied');
  const say = (path: string, init: RequestInit = {}) =>
    fetch(`http://${host}:${port}/api/node${path}`, {
      ...init,
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json', ...init.headers },
    });
  const self = { name: 'liar', cores: 1, megabytes: 1000, places: 1, build: buildOf(join(root, 'dist')) };
  const { node } = await (await say('', { method: 'POST', body: JSON.stringify(self) })).json();
  const { jobs } = await (await say(`/${node}/take`, { method: 'POST', body: '{"most":1}' })).json();
  expect(jobs).toHaveLength(1);
  const at = `/${node}/frames/${id}/1/${jobs[0].attempt}`;
  // What was never there is not right already.
  const kept = await say(`${at}?key=made-up&millis=1&bytes=0&kept=yes`, { method: 'PUT' });
  expect([kept.status, (await kept.json()).error.message]).toEqual([
    422,
    expect.stringContaining('not there yet'),
  ]);
  // Bytes that no reader takes are no frame, with whatever digest.
  const bytes = Buffer.from('no picture at all');
  const digest = createHash('sha256').update(bytes).digest('hex');
  const sent = await say(`${at}?key=made-up&millis=1&bytes=${bytes.length}&digest=${digest}`, {
    method: 'PUT',
    body: bytes,
  });
  expect(sent.status).toBe(422);
  expect((await run(id)).frames[0].state).toBe('rendering');
  // A large file may be announced; it is the bytes that are missed.
  const large = await say(`${at}?key=k&millis=1&bytes=2000000000&digest=${digest}`, {
    method: 'PUT',
    body: bytes,
  });
  expect((await large.json()).error.message).toMatch(/arrived with 17 of 2000000000 bytes/);
  const [{ media, frame }] = jobs[0].files;
  const file = (beside: string) => say(`${at}/file?media=${media}&at=${frame}${beside}`);
  expect((await file('')).status).toBe(200);
  for (const name of ['private.txt', 'hall.0002.exr', '..%2Fprivate.txt'])
    expect((await file(`&beside=${name}`)).status, name).toBe(422);
  await say(`/${node}/leave`, { method: 'POST' });
  await post(`/api/exports/${id}/cancel`);
});

test('three machines render one export: from a shared folder, through a path map, and over the network; one is cut off in the middle of a frame', async () => {
  const shared = join(temporaryFolder(), 'under-another-name');
  symlinkSync(frames, shared);
  enter(0);
  enter(1, '--map', `${frames}=${shared}`);
  // It sees nothing of the server's folders.
  const far = enter(2, '--map', `${frames}=/nowhere`);
  await until('three machines', async () => (await machines()).length === 3);
  first = await ask(`1-${count}`);
  // In the middle of a frame.
  await until('a frame on the last machine', async () =>
    (await machines()).some((m) => m.name === 'machine 2' && m.framesDone >= 1 && m.holds.length > 0),
  );
  const copies = join(far.work, readdirSync(far.work)[0], 'media');
  expect(readdirSync(copies, { recursive: true }).some((n) => String(n).endsWith('.exr'))).toBe(true);
  const held = (await machines()).find((m) => m.name === 'machine 2')!.holds;
  if (net) net.cut(2, true);
  else process.kill(-far.process.pid!, 'SIGSTOP');
  await until('its frames elsewhere', async () => {
    const { frames: all } = await run(first);
    return held.every(({ frame }) => {
      const f = all.find((a) => a.frame === frame)!;
      return f.state === 'done' && (f.machine !== 'machine 2' || f.tries === 1);
    });
  });
  if (net) net.cut(2, false);
  else process.kill(-far.process.pid!, 'SIGCONT');
  const done = await over(first);
  expect(done.frames.map((f) => f.state)).toEqual(new Array(count).fill('done'));
  const who = new Set(done.frames.map((f) => f.machine));
  expect([...who].sort()).toEqual(['machine 0', 'machine 1', 'machine 2']);

  // The same files as of one machine alone, and nothing beside them but the record.
  const alone = temporaryFolder();
  writeFileSync(join(alone, 'finish.json'), JSON.stringify(finish));
  const { code, err } = await zafiro([
    'run',
    join(alone, 'finish.json'),
    ...['--media', `hall=${frames}/hall.####.exr`, '--out', join(alone, 'hall.####.exr'), '--without-finish'],
  ]);
  expect([code, err]).toEqual([0, '']);
  const folder = join(data, 'exports', String(first));
  const names = readdirSync(folder).sort();
  expect(names).toHaveLength(count + 1);
  expect(names.at(-1)).toBe('hall.frames.jsonl');
  for (const name of names.slice(0, -1))
    expect(readFileSync(join(folder, name)).equals(readFileSync(join(alone, name)))).toBe(true);
  remove(alone);
  remove(shared);
});

test('a machine that was cut off goes on, one that is drained takes nothing, one that is removed ends', async () => {
  const named = async (name: string) => (await machines()).find((m) => m.name === name)!;
  await until('machine 2', async () => (await named('machine 2')).isHere);
  const one = await named('machine 1');
  await post(`/api/machines/${one.id}/drain`, { draining: true });
  const before = one.framesDone;
  const second = await ask('1-6', 'again');
  expect((await over(second)).frames.every((f) => f.state === 'done' && f.machine !== 'machine 1')).toBe(
    true,
  );
  expect((await named('machine 1')).framesDone).toBe(before);
  await post(`/api/machines/${one.id}/drain`, { draining: false });
  const third = await ask('1-9', 'third');
  const after = await over(third);
  expect(after.frames.map((f) => f.machine)).toContain('machine 1');

  await post(`/api/machines/${one.id}/remove`);
  const removed = nodes[1].process;
  expect(removed.exitCode ?? (await new Promise((ended) => removed.once('exit', ended)))).toBe(0);
  expect(nodes[1].said()).toMatch(/The server has removed this machine/);
  expect((await machines()).map((m) => m.name)).not.toContain('machine 1');
});

test('a machine that is ended by kill -9 loses its frame to another at once or soon', async () => {
  const id = await ask('1-8', 'killed');
  await until('a frame on machine 2', async () =>
    (await machines()).some((m) => m.name === 'machine 2' && m.holds.some((h) => h.run === id)),
  );
  process.kill(-nodes[2].process.pid!, 'SIGKILL');
  const done = await over(id);
  expect(done.frames.every((f) => f.state === 'done')).toBe(true);
  expect(done.frames.some((f) => f.tries > 1 && f.machine === 'machine 0')).toBe(true);
});

test('what is wrong with a frame is said with its machine, and rendered once it is mended', async () => {
  const path = join(frames, 'hall.0002.exr');
  copyFileSync(path, `${path}.whole`);
  writeFileSync(path, readFileSync(path).subarray(0, 5000));
  const id = await ask('1-3', 'broken');
  const failed = await over(id);
  expect(failed.frames.map((f) => f.state)).toEqual(['done', 'failed', 'done']);
  expect(failed.frames[1].note).toMatch(/^Frame 2: .*hall\.0002\.exr/);
  const { runs } = await json<{ runs: QueuedRun[] }>(`${zaf.address}/api/queue`);
  expect(runs.find((r) => r.id === id)).toMatchObject({
    shotName: 'hall',
    counts: { done: 2, failed: 1 },
    notable: [{ frame: 2, state: 'failed', machine: 'machine 0' }],
  });
  copyFileSync(`${path}.whole`, path);
  await until('frame 2', async () => (await run(id)).frames[1].state === 'done');
});

test('no file is left aside, and machines leave when they end', async () => {
  await end(nodes[0]);
  await until('an empty list', async () => (await machines()).filter((m) => m.isHere).length === 0);
  await sleep(100);
  const left = readdirSync(join(data, 'exports'), { recursive: true }).map(String);
  expect(left.filter((n) => n.endsWith('.part'))).toEqual([]);
  expect(existsSync(join(data, 'exports', String(first)))).toBe(true);
});
