import {
  existsSync,
  mkdirSync,
  readdirSync,
  renameSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { databaseOf, type Instance, json, remove, startInstance, temporaryFolder, until } from './instance';

/** Files that leave the folders that may be read, shots that are too long, shots that are deleted, and what stays of them. */
let zaf: Instance;
const [data, frames, outside] = [temporaryFolder(), temporaryFolder(), temporaryFolder()];
const env = { ZAFIRO_MEDIA_ROOTS: frames };

const picture = (path: string, background = '#336699') =>
  sharp({ create: { width: 16, height: 9, channels: 3, background } })
    .png()
    .toFile(path);

async function add(shot: string, pattern: string): Promise<number> {
  const body = JSON.stringify({ project: 'Paths', shot, media: [{ pattern }] });
  return (await json<{ shot: number }>(`${zaf.address}/api/shots`, { method: 'POST', body })).shot;
}
const detail = (shot: number) => json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
const databaseHere = () => mysql.createConnection(databaseOf(data));

beforeAll(async () => {
  zaf = await startInstance('start', data, [], env);
});
afterAll(async () => {
  await zaf.stop();
  for (const folder of [data, frames, outside]) remove(folder);
});

test('a link among numbered frames that leads out of the folders is neither read nor exported', async () => {
  await picture(join(frames, 'moth.0001.png'));
  await picture(join(outside, 'secret.png'));
  symlinkSync(join(outside, 'secret.png'), join(frames, 'moth.0002.png'));
  // Within the folders a link is as good as a file.
  symlinkSync(join(frames, 'moth.0001.png'), join(frames, 'moth.0003.png'));
  const shot = await add('Links', join(frames, 'moth.####.png'));
  const found = await until('three frames', async () => {
    const { media } = await detail(shot);
    return media[0].frames.length === 3 && media[0];
  });
  expect(found.frames.map((f) => f.state)).toEqual(['ready', 'failed', 'ready']);
  const words = /^Frame 2: .*moth\.0002\.png leads to .*secret\.png, which lies outside the folders/;
  expect(found.frames[1].problem).toMatch(words);
  for (const what of ['pass?pass=&scale=1', 'metadata', 'contents']) {
    const answer = await fetch(`${zaf.address}/api/media/${found.id}/frames/2/${what}`);
    expect(answer.ok).toBe(false);
    expect(await answer.text()).not.toContain('RIFF');
  }
  const { document } = await json<SavedFinish>(
    `${zaf.address}/api/finishes/${(await detail(shot)).finishes[0].id}`,
  );
  const body = JSON.stringify({ shot, document, frames: '1-3', format: 'png16', name: 'moth' });
  await json(`${zaf.address}/api/exports`, { method: 'POST', body });
  const [run] = await until('the export', async () => {
    const runs = await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`);
    return runs[0].frames.every((f) => !/waiting|rendering/.test(f.state)) && runs;
  });
  expect(run.frames.map((f) => f.state)).toEqual(['done', 'failed', 'done']);
  expect(run.frames[1].note).toMatch(words);
});

test('a shot whose render goes on grows with it, and so does its standing export; a file that goes is noticed and comes back', async () => {
  const file = (n: number) => join(frames, `slow.000${n}.png`);
  for (const n of [2, 3]) await picture(file(n));
  const shot = await add('Growing', join(frames, 'slow.####.png'));
  const { document } = await json<SavedFinish>(
    `${zaf.address}/api/finishes/${(await detail(shot)).finishes[0].id}`,
  );
  const body = { shot, document, frames: '2-3', format: 'png16', name: 'slow', standing: true };
  await json(`${zaf.address}/api/exports`, { method: 'POST', body: JSON.stringify(body) });
  // Another file of the folder is far away from its numbers: it is no part of the shot.
  await picture(join(frames, 'slow.900000.png'));
  for (const n of [4, 5, 1]) await picture(file(n));
  const states = async () => {
    const { media, first, last } = await detail(shot);
    return { first, last, frames: media[0].frames };
  };
  await until('five frames', async () => (await states()).frames.length === 5);
  const grown = await states();
  expect([grown.first, grown.last]).toEqual([1, 5]);
  const run = await until('its export', async () => {
    const [found] = await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`);
    return found.frames.length === 4 && found.frames.every((f) => f.state === 'done') && found;
  });
  expect(run.frames.map((f) => f.frame)).toEqual([2, 3, 4, 5]);

  const kept = `${file(4)}.away`;
  renameSync(file(4), kept);
  const gone = await until('what is gone', async () => {
    const found = (await states()).frames.find((f) => f.frame === 4);
    return found?.state === 'failed' && found;
  });
  expect(gone.problem).toMatch(/slow\.0004\.png is gone\. Put the file back, or render it again\./);
  renameSync(kept, file(4));
  await until(
    'what is back',
    async () => (await states()).frames.find((f) => f.frame === 4)?.state === 'ready',
  );
});

test('an export may be called in any language; one that is over can be removed, with its frames in the store', async () => {
  await picture(join(frames, 'lune.0001.png'));
  const shot = await add('L’été', join(frames, 'lune.####.png'));
  const { document } = await json<SavedFinish>(
    `${zaf.address}/api/finishes/${(await detail(shot)).finishes[0].id}`,
  );
  const ask = (name: string, more: object = {}) =>
    fetch(`${zaf.address}/api/exports`, {
      method: 'POST',
      body: JSON.stringify({ shot, document, frames: '1', format: 'png8', name, ...more }),
    });
  for (const name of ['../up', '.hidden', 'a/b', '   ', '-x'])
    expect((await ask(name)).status, name).toBe(422);
  const { run } = (await (await ask('été de la lune')).json()) as { run: number };
  const runs = () => json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`);
  await until('done', async () => (await runs())[0].frames[0].state === 'done');
  expect((await runs())[0].fileName).toBe('été de la lune.####.png');
  const file = await fetch(`${zaf.address}/api/exports/${run}/download`);
  expect(file.ok).toBe(true);
  expect(decodeURIComponent(file.headers.get('content-disposition')!)).toContain('été de la lune.0001.png');
  expect(readdirSync(join(data, 'exports', String(run)))).toContain('été de la lune.0001.png');
  // One that stands is not over.
  const standing = (await (await ask('later', { standing: true, frames: '1-2' })).json()) as { run: number };
  const remove = (id: number) => fetch(`${zaf.address}/api/exports/${id}`, { method: 'DELETE' });
  expect((await remove(standing.run)).status).toBe(422);
  expect((await remove(run)).ok).toBe(true);
  expect((await runs()).map((r) => r.id)).toEqual([standing.run]);
  expect((await remove(run)).status).toBe(404);
  // A movie is called as its file.
  const movie = { codec: 'h264', rate: 24, height: 0, quality: 'good' };
  expect((await ask('film', { movie })).ok).toBe(true);
  expect((await runs())[0].fileName).toBe('film.mp4');
});

test('a shot without end that an older Zafiro stored is shown, and can be deleted', async () => {
  for (const n of ['0000000001', '1764000000']) await picture(join(frames, `IMG_${n}.png`));
  const shot = await add('Endless', join(frames, 'IMG_0000000001.png'));
  const c = await databaseHere();
  await c.query('UPDATE shot SET last_frame = 1764000000 WHERE id = ?', [shot]);
  await c.query('UPDATE media SET pattern = ?, last_frame = 1764000000 WHERE shot_id = ?', [
    join(frames, 'IMG_##########.png'),
    shot,
  ]);
  await c.end();
  expect((await fetch(`${zaf.address}/shots/${shot}`)).status).toBe(200);
  expect((await detail(shot)).last).toBe(1764000000);
  const projects = await fetch(zaf.address);
  expect(await projects.text()).toContain('Endless');
  const gone = await fetch(`${zaf.address}/api/shots/${shot}`, { method: 'DELETE' });
  expect(await gone.json()).toEqual({ ok: true });
  expect((await fetch(`${zaf.address}/api/shots/${shot}`)).status).toBe(404);
  expect((await fetch(`${zaf.address}/api/shots/${shot}`, { method: 'DELETE' })).status).toBe(404);
});

test('what a deleted shot leaves in the data folder is tidied away, and nothing else', async () => {
  const old = new Date(Date.now() - 3 * 24 * 3_600_000);
  const age = (path: string) => utimesSync(path, old, old);
  const c = await databaseHere();
  const [[run]] = await c.query<mysql.RowDataPacket[]>('SELECT id, shot_id FROM export_run LIMIT 1');
  await c.end();
  const kept = await add('Kept', join(frames, 'moth.0001.png'));
  const exported = join(data, 'exports', String(run.id));
  const half = join(data, 'exports', 'half');
  mkdirSync(half);
  writeFileSync(join(exported, 'moth.0009.png.7.part'), 'half');
  const thumbnails = () => readdirSync(join(data, 'thumbnails'), { recursive: true }).map(String);
  const before = thumbnails();
  expect(before.some((name) => name.endsWith('.webp'))).toBe(true);
  // Uploaded frames are Zafiro's own, and go with their shot.
  const { upload } = await json<{ upload: string }>(`${zaf.address}/api/uploads`, { method: 'POST' });
  const bytes = await sharp({ create: { width: 4, height: 4, channels: 3, background: 'red' } })
    .png()
    .toBuffer();
  const sent = await fetch(`${zaf.address}/api/uploads/${upload}/lost.0001.png`, {
    method: 'PUT',
    headers: { 'x-zafiro-size': String(bytes.length) },
    body: bytes,
  });
  expect(sent.ok).toBe(true);
  const uploaded = join(data, 'media', upload);
  const ours = await add('Uploaded', join(uploaded, 'lost.0001.png'));
  // One that nobody deleted stays, whatever the database knows of it.
  const unknown = join(data, 'exports', '4711');
  mkdirSync(unknown);
  // Put aside first: all of it is still there, and goes for good when that is asked for.
  for (const id of [run.shot_id, ours]) {
    await json(`${zaf.address}/api/shots/${id}`, { method: 'DELETE' });
    expect(existsSync(exported)).toBe(true);
    await json(`${zaf.address}/api/shots/${id}?forever=1`, { method: 'DELETE' });
  }
  await zaf.stop();
  for (const name of readdirSync(data, { recursive: true }).map(String))
    if (/^(exports|thumbnails|media|store)\//.test(name)) age(join(data, name));
  zaf = await startInstance('start', data, [], env);
  await until('the export gone', async () => !existsSync(exported));
  await until('the upload gone', async () => !existsSync(uploaded));
  expect(existsSync(unknown)).toBe(true);
  // Of the same content as the deleted shot's first frame: it is still wanted.
  expect(thumbnails().filter((name) => name.endsWith('.webp'))).toHaveLength(1);
  expect(existsSync(join(frames, 'moth.0001.png'))).toBe(true);
  expect((await detail(kept)).media[0].frames[0].state).toBe('ready');
});
