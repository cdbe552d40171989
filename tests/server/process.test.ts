import { readFileSync, writeFileSync } from 'node:fs';
import { get } from 'node:http';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { setValue } from '../../core/finish/value-edits';
import { readExr } from '../../core/formats/exr/read';
import { passPicture } from '../../core/formats/pass-picture';
import { pickCentres, shrink } from '../../core/kernels/sample';
import { readPass } from '../../engine/node/media-file';
import { nodeZlib } from '../../engine/node/zlib';
import { dump } from '../reference/oiio';
import { workspace } from '../runtime';
import {
  databaseOf,
  type Instance,
  json,
  processesOf,
  remove,
  startInstance,
  temporaryFolder,
  until,
  zafiro,
} from './instance';

/** The whole of Zafiro as its users start it, with two frames of the demo. */
let zaf: Instance;
const data = temporaryFolder();
const start = () => startInstance('demo', data, ['--frames', '2']);

const shot = () => json<ShotDetail>(`${zaf.address}/api/shots/1`);
const put = (finish: SavedFinish, document: unknown) =>
  json<{ version: number }>(`${zaf.address}/api/finishes/${finish.id}`, {
    method: 'PUT',
    body: JSON.stringify({ from: finish.version, label: 'test', save: crypto.randomUUID(), document }),
  });
const load = async () => json<SavedFinish>(`${zaf.address}/api/finishes/${(await shot()).finishes[0].id}`);
const ready = (s: ShotDetail) => s.media[0].frames.filter((f) => f.state === 'ready').length;

async function exportFrames(frames: string, format: 'exr' | 'png16'): Promise<number> {
  const { document } = await load();
  const body = JSON.stringify({ shot: 1, document, frames, format, name: 'hall' });
  return (await json<{ run: number }>(`${zaf.address}/api/exports`, { method: 'POST', body })).run;
}
const runs = () => json<ExportRun[]>(`${zaf.address}/api/exports?shot=1`);
const over = (id: number) =>
  until('the export', async () => {
    const run = (await runs()).find((r) => r.id === id)!;
    return run.frames.every((f) => f.state !== 'waiting' && f.state !== 'rendering') && run;
  });

beforeAll(async () => {
  zaf = await start();
  await until('two frames', async () => ready(await shot()) === 2);
});

afterAll(async () => {
  await zaf.stop();
  remove(data);
});

describe('starting', () => {
  test('a second instance on the same data is refused and learns where the first is', async () => {
    const { code, err } = await zafiro(['demo'], { ZAFIRO_DATA: data });
    expect(code).toBe(1);
    expect(err).toContain(`already runs on this data folder: ${zaf.address}`);
  });

  test('a taken port is named, with another to try', async () => {
    const other = temporaryFolder();
    const taken = createServer();
    await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done));
    const { port } = taken.address() as { port: number };
    const { code, err } = await zafiro(['start', '--port', String(port)], { ZAFIRO_DATA: other });
    taken.close();
    remove(other);
    expect(code).toBe(1);
    expect(err).toContain(`Port ${port} is taken by another program. Choose another`);
  });

  test('other names and pages of other sites are refused', async () => {
    const status = (headers: Record<string, string>) =>
      new Promise<number | undefined>((done, fail) => {
        const options = { host: '127.0.0.1', port: zaf.port, path: '/api/shots/1', headers };
        get(options, (response) => {
          response.resume();
          done(response.statusCode);
        }).on('error', fail);
      });
    expect(await status({})).toBe(200);
    expect(await status({ host: `localhost:${zaf.port}` })).toBe(200);
    expect(await status({ host: 'frames.example' })).toBe(403);
    expect(await status({ origin: 'http://frames.example' })).toBe(403);
  });

  test('pages are isolated, so that workers may share memory', async () => {
    const { headers } = await fetch(zaf.address);
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  });
});

test('nothing asks the database again and again while nothing happens', async () => {
  const connection = await mysql.createConnection(databaseOf(data));
  const asked = async () => {
    const [rows] = await connection.query<mysql.RowDataPacket[]>("SHOW GLOBAL STATUS LIKE 'Com_select'");
    return Number(rows[0].Value);
  };
  await sleep(2000);
  const before = await asked();
  await sleep(8000);
  // Two threads that render look for leases that ran out now and then, and all media are looked at twice a minute.
  expect((await asked()) - before).toBeLessThan(40);
  await connection.end();
});

test('bad requests are answered with a sentence', async () => {
  const answer = async (path: string, body?: unknown) => {
    const init =
      body === undefined
        ? {}
        : { method: path.includes('finishes') ? 'PUT' : 'POST', body: JSON.stringify(body) };
    const response = await fetch(`${zaf.address}/api/${path}`, init);
    const { error } = (await response.json()) as { error?: { message: string } };
    return { status: response.status, error: error?.message };
  };
  expect(await answer('shots/999')).toMatchObject({ status: 404 });
  const { id, version, document } = await load();
  const wrong = structuredClone(document) as unknown as { strands: { steps: { values: object }[] }[] };
  wrong.strands[0].steps[0].values = { threshold: -4 };
  const refused = await answer(`finishes/${id}`, {
    from: version,
    label: 'x',
    save: crypto.randomUUID(),
    document: wrong,
  });
  expect(refused).toMatchObject({ status: 422 });
  expect(refused.error).toMatch(/Threshold of Bloom lies between 0 and 65504 \(strand main, step bloom\)/);
  const { error } = await answer('exports', { shot: 1, document, frames: '5-2', format: 'exr', name: 'x' });
  expect(error).toMatch(/runs backwards/);
  const missing = await answer('shots', {
    project: 'P',
    shot: 'S',
    media: [{ pattern: join(data, 'demo/nowhere/x.####.exr') }],
  });
  expect(missing.error).toMatch(/nowhere is not there/);
});

test('a pass is sent as the samples the file has', async () => {
  const { media } = await shot();
  const response = await fetch(`${zaf.address}/api/media/${media[0].id}/frames/1/pass?name=depth`);
  const info = JSON.parse(decodeURIComponent(response.headers.get('x-zafiro-pass')!));
  expect(info.pass).toMatchObject({ channels: ['depth.Z'], types: ['float'], kind: 'depth' });
  const file = readFileSync(join(data, 'demo/orrery-hall/orrery_hall.0001.exr'));
  const inFile = readExr(file, nodeZlib, ['depth.Z']).samples.get('depth.Z') as Float32Array;
  expect(Buffer.from(await response.arrayBuffer()).equals(Buffer.from(inFile.buffer))).toBe(true);
});

test('a draft of a pass has the bits that making it smaller here gives', async () => {
  const { media } = await shot();
  const file = join(data, 'demo/orrery-hall/orrery_hall.0001.exr');
  for (const [name, shrunk] of [
    ['emission', shrink],
    ['depth', pickCentres],
  ] as const) {
    const response = await fetch(
      `${zaf.address}/api/media/${media[0].id}/frames/1/pass?name=${name}&scale=0.25`,
    );
    const here = shrunk(workspace, passPicture(workspace, await readPass(file, name)), 0.25);
    const info = JSON.parse(decodeURIComponent(response.headers.get('x-zafiro-pass')!));
    expect(info).toEqual({ type: 'draft', width: here.width, height: here.height });
    const bytes = Buffer.from(here.data.buffer, here.data.byteOffset, here.data.byteLength);
    expect(Buffer.from(await response.arrayBuffer()).equals(bytes)).toBe(true);
    workspace.clear();
  }
  expect((await fetch(`${zaf.address}/api/media/${media[0].id}/frames/1/pass?name=&scale=3`)).status).toBe(
    422,
  );
});

describe('exports', () => {
  test('EXR equals what ./zafiro run writes, bit for bit, as an independent reader sees it', async () => {
    const id = await exportFrames('1-2', 'exr');
    const run = await over(id);
    expect(run.frames.map((f) => f.state)).toEqual(['done', 'done']);
    const zip = await fetch(`${zaf.address}/api/exports/${id}/download`);
    expect(zip.headers.get('content-type')).toBe('application/zip');
    const one = new Uint8Array(
      await (await fetch(`${zaf.address}/api/exports/${id}/download?frame=2`)).arrayBuffer(),
    );
    const fromServer = join(data, 'server.exr');
    writeFileSync(fromServer, one);

    const finishFile = join(data, 'finish.json');
    writeFileSync(finishFile, JSON.stringify((await load()).document));
    const cli = await zafiro([
      'run',
      finishFile,
      '--media',
      `orrery_hall=${join(data, 'demo/orrery-hall/orrery_hall.####.exr')}`,
      '--frames',
      '2',
      '--out',
      join(data, 'cli.####.exr'),
    ]);
    expect(cli).toMatchObject({ code: 0, err: '' });
    const [a, b] = [dump(fromServer), dump(join(data, 'cli.0002.exr'))];
    expect(a.types).toEqual({ R: 'half', G: 'half', B: 'half', A: 'half' });
    for (const [channel, samples] of a.samples) {
      expect(Buffer.from(samples.buffer).equals(Buffer.from(b.samples.get(channel)!.buffer))).toBe(true);
    }
    expect(Buffer.from(one).equals(readFileSync(join(data, 'cli.0002.exr')))).toBe(true);
    expect(a.attributes).toMatchObject({ software: 'Zafiro', imageCounter: 2 });
  });

  test('a frame that is not there fails with its number, and the others go on', async () => {
    const run = await over(await exportFrames('2-3', 'png16'));
    expect(run.frames.map((f) => f.state)).toEqual(['done', 'failed']);
    expect(run.frames[1].note).toMatch(/^Frame 3: .*orrery_hall\.0003\.exr is not there\. Render it/);
  });

  test('go on after kill -9 of the export process', async () => {
    const id = await exportFrames('1-2', 'exr');
    await until('a frame being rendered', async () =>
      (await runs())[0].frames.some((f) => f.state === 'rendering'),
    );
    const victim = processesOf(data).find((p) => /dist\/exports\.mjs/.test(p.command))!;
    process.kill(victim.pid, 'SIGKILL');
    const run = await over(id);
    expect(run.frames.map((f) => f.state)).toEqual(['done', 'done']);
  });
});

test('what was called saved is there after kill -9 of every process', async () => {
  const before = await load();
  const edited = setValue(before.document, 'bloom', 'threshold', 4.25).apply(before.document);
  const { version } = await put(before, edited);
  await zaf.killAll();
  expect(processesOf(data)).toEqual([]);
  zaf = await start();
  const after = await load();
  expect(after.version).toBe(version);
  expect(after.document).toEqual(edited);
});

test('kill -9 of the launcher alone leaves nothing running, and the data as they were', async () => {
  const before = await load();
  const launcher = processesOf(data).find((p) => /dist\/serve\.mjs/.test(p.command))!;
  process.kill(launcher.pid, 'SIGKILL');
  await until('the end of all processes', async () => processesOf(data).length === 0, 30);
  zaf = await start();
  expect(await load()).toEqual(before);
});

test('TERM stops every process, the database cleanly', async () => {
  const { code } = await zaf.stop();
  expect(code).toBe(0);
  await sleep(200);
  expect(processesOf(data)).toEqual([]);
  expect(readFileSync(join(data, 'mariadb/mariadb.log'), 'utf8').trim().split('\n').pop()).toMatch(
    /Shutdown complete/,
  );
  zaf = await start();
});
