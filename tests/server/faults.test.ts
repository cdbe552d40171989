import { mkdirSync, readdirSync, rmSync, statfsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import mysql from 'mysql2/promise';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep } from '../../core/finish/edits';
import { type Finish, findStep } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { startDemo } from './demo';
import {
  databaseOf,
  freePort,
  type Instance,
  json,
  processesOf,
  remove,
  temporaryFolder,
  until,
  zafiro,
} from './instance';

/** Faults of the machine and of its neighbours: what is said, what goes on, and that nothing is lost. */
let zaf: Instance;
const data = temporaryFolder();
const start = (env: Record<string, string> = {}) =>
  startDemo(2, data, { ZAFIRO_PATIENCE_SECONDS: '4', ...env });

const shot = () => json<ShotDetail>(`${zaf.address}/api/shots/1`);
const load = async () => json<SavedFinish>(`${zaf.address}/api/finishes/${(await shot()).finishes[0].id}`);
const send = (body: string, finish: number) =>
  fetch(`${zaf.address}/api/finishes/${finish}`, { method: 'PUT', body });
const savable = (before: SavedFinish, threshold: number) =>
  JSON.stringify({
    from: before.version,
    label: 'test',
    save: crypto.randomUUID(),
    document: setValue(before.document, 'bloom', 'threshold', threshold).apply(before.document),
  });
const thresholdOf = ({ document }: SavedFinish) => findStep(document, 'bloom')!.step.values.threshold;
const processOf = (command: RegExp) => processesOf(data).find((p) => command.test(p.command));

/** A finish whose frames take seconds: long enough to end what renders them, twice. */
const slowed = (document: Finish): Finish => {
  let doc = document;
  for (let i = 0; i < 40; i++) doc = addStep(doc.main, 0, 'light-rays', `slow-${i}`).apply(doc);
  return doc;
};
async function exportFrames(frames: string, as = (document: Finish) => document): Promise<number> {
  const document = as((await load()).document);
  const body = JSON.stringify({ shot: 1, document, frames, format: 'exr', name: 'hall' });
  return (await json<{ run: number }>(`${zaf.address}/api/exports`, { method: 'POST', body })).run;
}
const runOf = async (id: number) =>
  (await json<ExportRun[]>(`${zaf.address}/api/exports?shot=1`)).find((r) => r.id === id)!;
const over = (id: number) =>
  until('the export', async () => {
    const run = await runOf(id);
    return run.frames.every((f) => f.state !== 'waiting' && f.state !== 'rendering') && run;
  });

beforeAll(async () => {
  zaf = await start();
  // Other tests may be rendering too.
  await until('two frames', async () => (await shot()).media[0].frames.length === 2, 150);
});
afterAll(async () => {
  await zaf.stop();
  remove(data);
});

describe('the database', () => {
  test('is reached through its socket alone, with the rights that the application needs', async () => {
    const c = await mysql.createConnection(databaseOf(data));
    const one = async (sql: string) => Object.values((await c.query<mysql.RowDataPacket[]>(sql))[0][0])[0];
    expect(await one('SELECT @@skip_networking')).toBe(1);
    expect(await one('SELECT @@local_infile')).toBe(0);
    expect(await one("SELECT LOAD_FILE('/etc/passwd')")).toBeNull();
    await expect(c.query("SELECT 1 INTO OUTFILE '/tmp/zafiro-outfile'")).rejects.toThrow(/denied/);
    await expect(c.query('SELECT user FROM mysql.user')).rejects.toThrow(/denied/);
    await c.end();
  });

  test('keeps its files to whoever started it', () => {
    expect(statSync(data).mode & 0o77).toBe(0);
    const files = readdirSync(join(data, 'mariadb'), { recursive: true, withFileTypes: true });
    const open = files.filter((f) => f.isFile() && (statSync(join(f.parentPath, f.name)).mode & 0o77) !== 0);
    expect(open.map((f) => f.name)).toEqual([]);
  });

  test('that is killed is started again: meanwhile a save is asked to wait, then goes through', async () => {
    const before = await load();
    process.kill(processOf(/mariadbd /)!.pid, 'SIGKILL');
    const body = savable(before, 3.25);
    const refused = await send(body, before.id);
    expect(refused.status).toBe(503);
    expect(await refused.json()).toMatchObject({
      error: { code: 'unavailable', remedy: expect.stringMatching(/started again/) },
    });
    await until('the database', async () => (await send(body, before.id)).ok, 60);
    expect(thresholdOf(await load())).toBe(3.25);
  });
});

test('a server that hangs is ended and started again', async () => {
  const hung = processOf(/next-server|next\/dist\/bin\/next start/)!;
  process.kill(hung.pid, 'SIGSTOP');
  await until(
    'an answer',
    async () =>
      fetch(`${zaf.address}/api/health`, { signal: AbortSignal.timeout(2000) }).then(
        (r) => r.ok,
        () => false,
      ),
    150,
  );
  expect(processesOf(data).some((p) => p.pid === hung.pid)).toBe(false);
});

/** More of it than any disk has free; a file system without a fixed number of files says that it has none. */
const lacks: [string, string, number][] = [
  ['room', 'ZAFIRO_LEAST_FREE_MEGABYTES', 2 ** 30],
  ['files left', 'ZAFIRO_LEAST_FREE_FILES', 2 ** 50],
];
test.each(lacks.filter(([, name]) => name !== 'ZAFIRO_LEAST_FREE_FILES' || statfsSync(data).files > 0))(
  'a disk without %s refuses saves in words; looking goes on, and saves once there is some',
  async (_, name, least) => {
    await zaf.stop();
    zaf = await start({ [name]: String(least) });
    const before = await load();
    const threshold = least === 2 ** 30 ? 4.5 : 4.75;
    const body = savable(before, threshold);
    const refused = await send(body, before.id);
    expect(refused.status).toBe(507);
    expect(await refused.json()).toMatchObject({
      error: { code: 'disk-full', message: 'The disk is full.', remedy: expect.stringMatching(/by itself/) },
    });
    expect((await shot()).media[0].frames).toHaveLength(2);
    expect((await fetch(`${zaf.address}/shots/1`)).status).toBe(200);
    await zaf.stop();
    zaf = await start();
    expect((await send(body, before.id)).status).toBe(200);
    expect(thresholdOf(await load())).toBe(threshold);
  },
);

describe('exports', () => {
  test('quick kills of their process fail no frame', async () => {
    const id = await exportFrames('1-2');
    for (let i = 0; i < 5; i++) {
      const victim = await until('the export process', async () => processOf(/dist\/exports\.mjs/));
      await until('work', async () => (await runOf(id)).frames.some((f) => f.state !== 'waiting'));
      if ((await runOf(id)).frames.every((f) => f.state === 'done')) break;
      process.kill(victim.pid, 'SIGKILL');
      await sleep(300);
    }
    expect((await over(id)).frames.map((f) => f.state)).toEqual(['done', 'done']);
  });

  const renderers = () => processesOf(data).filter((p) => /dist\/render-process\.mjs/.test(p.command));
  const isRendering = async (run: number) => (await runOf(run)).frames.some((f) => f.state === 'rendering');

  test('a frame that ends its process takes no other with it, and is tried again', async () => {
    const id = await exportFrames('1-2');
    await until('work', () => isRendering(id));
    const [{ pid }] = await until('a process', async () => renderers().length > 0 && renderers());
    process.kill(pid, 'SIGKILL');
    expect((await over(id)).frames.map((f) => f.state)).toEqual(['done', 'done']);
  });

  test('a frame that ends its process twice is given up, and says so', async () => {
    const id = await exportFrames('1', slowed);
    // As a frame would that is too much for any process; one that had not begun with it is not counted.
    await until('the end', async () => {
      if (await isRendering(id)) for (const { pid } of renderers()) process.kill(pid, 'SIGKILL');
      return (await runOf(id)).frames[0].state === 'failed';
    });
    expect((await runOf(id)).frames[0].note).toBe(
      'Frame 1: Rendering it ended its process. It was tried 2 times.',
    );
  });
});

describe('requests', () => {
  test('of fifty readers at once are all answered', async () => {
    const read = async () => {
      const states: number[] = [];
      for (let i = 0; i < 4; i++) {
        const page = await fetch(`${zaf.address}/shots/1`);
        await page.arrayBuffer();
        states.push(page.status);
      }
      return states;
    };
    const states = (await Promise.all(Array.from({ length: 50 }, read))).flat();
    expect(states.filter((s) => s !== 200)).toEqual([]);
  });

  test('of more than 10 MB are taken, of more than the limit refused with a way out', async () => {
    const before = await load();
    const large = savable(before, 5.5) + ' '.repeat(11 * 2 ** 20);
    expect((await send(large, before.id)).status).toBe(200);
    expect(thresholdOf(await load())).toBe(5.5);
    const huge = await send(large + ' '.repeat(54 * 2 ** 20), before.id);
    expect(huge.status).toBe(422);
    expect(await huge.json()).toMatchObject({ error: { message: expect.stringMatching(/more than 64 MB/) } });
  });

  test('pages run their own scripts alone, inside no other frame', async () => {
    const page = await fetch(`${zaf.address}/shots/1`);
    const policy = page.headers.get('content-security-policy')!;
    const nonce = /'nonce-([^']+)'/.exec(policy)![1];
    expect(policy).toMatch(/frame-ancestors 'none'/);
    expect(page.headers.get('referrer-policy')).toBe('no-referrer');
    const scripts = (await page.text()).match(/<script[^>]*>/g)!;
    expect(scripts.length).toBeGreaterThan(0);
    expect(scripts.filter((s) => !s.includes(nonce))).toEqual([]);
    const again = await fetch(`${zaf.address}/shots/1`);
    expect(again.headers.get('content-security-policy')).not.toContain(nonce);
  });

  test('pictures whose numbers lie far apart become no endless shot', async () => {
    const folder = join(data, 'demo', 'photographs');
    mkdirSync(folder);
    for (const n of ['0000000001', '0764000000'])
      await sharp({ create: { width: 8, height: 8, channels: 3, background: '#336699' } })
        .png()
        .toFile(join(folder, `moth_${n}.png`));
    const add = (pattern: string) =>
      fetch(`${zaf.address}/api/shots`, {
        method: 'POST',
        body: JSON.stringify({ project: 'Far', shot: pattern.slice(-8), media: [{ pattern }] }),
      });
    const refused = await add(join(folder, 'moth_##########.png'));
    expect(refused.status).toBe(422);
    expect((await refused.json()).error.message).toMatch(/lie far apart.*Import each as a still/);
    expect((await add(join(folder, 'moth_0764000000.png'))).status).toBe(200);
    const climbing = await add(`${folder}/../photographs/moth_0000000001.png`);
    expect((await climbing.json()).error.message).toMatch(/goes up by “\.\.”/);
  });
});

test('shots imported at once come into one project', async () => {
  const pattern = join(data, 'demo/photographs/moth_0000000001.png');
  const added = await Promise.all(
    Array.from({ length: 12 }, (_, i) =>
      fetch(`${zaf.address}/api/shots`, {
        method: 'POST',
        body: JSON.stringify({ project: 'At once', shot: `Moth ${i}`, media: [{ pattern }] }),
      }),
    ),
  );
  expect(added.map((r) => r.status)).toEqual(new Array(12).fill(200));
  const c = await mysql.createConnection(databaseOf(data));
  const [[{ count }]] = await c.query<mysql.RowDataPacket[]>(
    "SELECT COUNT(*) AS count FROM project WHERE name = 'At once'",
  );
  await c.end();
  expect(count).toBe(1);
});

test('a download says which finished frames have vanished', async () => {
  const id = await exportFrames('1-2');
  await over(id);
  const c = await mysql.createConnection(databaseOf(data));
  const [[{ folder }]] = await c.query<mysql.RowDataPacket[]>('SELECT folder FROM export_run WHERE id = ?', [
    id,
  ]);
  await c.end();
  rmSync(join(folder, 'hall.0001.exr'));
  const zip = await fetch(`${zaf.address}/api/exports/${id}/download`);
  expect(zip.headers.get('content-type')).toBe('application/zip');
  // Stored and not packed, so that its text can be read.
  const text = Buffer.from(await zip.arrayBuffer()).toString('latin1');
  expect(text).toContain('frames-not-there.txt');
  expect(text).toMatch(/not there any more:\nhall\.0001\.exr\n/);
});

test('a data folder of a newer program is left alone, in words', async () => {
  const c = await mysql.createConnection(databaseOf(data));
  await c.query("INSERT INTO migration (name) VALUES ('9999_later.sql')");
  await zaf.stop().finally(() => c.destroy());
  const { code, err } = await zafiro(['start', '--port', String(await freePort())], { ZAFIRO_DATA: data });
  expect(code).not.toBe(0);
  expect(err).toMatch(/used by a newer Zafiro \(9999_later\.sql\)/);
  expect(processesOf(data)).toEqual([]);
});
