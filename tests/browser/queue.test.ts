import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { QueuedRun } from '../../api/queue';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { readExr } from '../../core/formats/exr/read';
import { halvesToFloats } from '../../core/formats/half';
import { nodeZlib } from '../../engine/node/zlib';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { dull, giveFinish, importShot, size, writeFrame } from './small-shot';

/** Exports by hand: one that goes on as frames come, the queue of all shots, and the machines that render. */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const folder = join(frames, 'hall');
const outside = join(frames, 'out');
const { attribute, button, choose, find, run, text, waitFor } = onPage(() => browser);

const fileOf = (frame: number) => join(folder, `hall.${String(frame).padStart(4, '0')}.exr`);
const lit = (light: number) => (x: number, y: number) =>
  dull(x, y).map((v) => v * light) as unknown as readonly [number, number, number];

beforeAll(async () => {
  mkdirSync(folder, { recursive: true });
  for (const frame of [1, 2]) writeFrame(fileOf(frame));
  // The last is there, so that the shot has eight.
  writeFrame(fileOf(8));
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  mkdirSync(outside);
  process.env.ZAFIRO_EXPORT_ROOTS = `${outside}:${folder}`;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [join(folder, 'hall.####.exr')]);
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'gain', 'gain').apply(doc);
  await giveFinish(zaf.address, shot, setValue(doc, 'gain', 'stops', 1).apply(doc));
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  delete process.env.ZAFIRO_EXPORT_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const runs = () => json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`);
const queued = async () => (await json<{ runs: QueuedRun[] }>(`${zaf.address}/api/queue`)).runs;
const states = async (id: number) =>
  (await runs())
    .find((r) => r.id === id)!
    .frames.map((f) => f.state[0])
    .join('');
const middle = (path: string) => {
  const { samples } = readExr(readFileSync(path), nodeZlib);
  return halvesToFloats(samples.get('G') as Uint16Array)[size.width * 120 + 200];
};
let standing: number;
const outOf = (frame: number) =>
  join(data, 'exports', String(standing), `standing.${String(frame).padStart(4, '0')}.exr`);

async function startExport(name: string, framesText: string, stands: boolean): Promise<number> {
  const known = (await runs()).map((r) => r.id);
  const type = async (field: string, words: string) => {
    const input = await waitFor(`[aria-label=Exports] input[name=${field}]`);
    await input.click();
    await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
    await input.sendKeys(words);
  };
  await type('name', name);
  await type('frames', framesText);
  const box = await find('[aria-label=Exports] input[name=standing]');
  if ((await box.isSelected()) !== stands) await box.click();
  await (await button('Start export')).click();
  return until('the export', async () => (await runs()).find((r) => !known.includes(r.id))?.id);
}

test('an export goes on as frames come: what is there is finished, the rest when its files are whole', async () => {
  await (await button('Export…')).click();
  standing = await startExport('standing', '1-8', true);
  await until('the frames that are there', async () => (await states(standing)) === 'ddeeeeed');
  const words = `[data-export="${standing}"]`;
  await until('its words', async () => (await text(words)).includes('3 of 8 frames done, 5 not here yet'));
  // Half of a file: nothing is rendered of it.
  writeFrame(fileOf(3));
  const whole = readFileSync(fileOf(3));
  writeFileSync(fileOf(3), whole.subarray(0, whole.length / 2));
  // Another comes under another name.
  writeFrame(join(folder, 'coming'));
  renameSync(join(folder, 'coming'), fileOf(4));
  await until('frame 4', async () => (await states(standing)) === 'ddedeeed');
  writeFileSync(fileOf(3), whole);
  await until('frame 3', async () => (await states(standing)) === 'ddddeeed');
  expect(existsSync(outOf(3))).toBe(true);
});

test('a frame that is written anew is finished anew, and no other', async () => {
  const before = middle(outOf(2));
  const stamps = [1, 3, 4].map((f) => statSync(outOf(f)).mtimeMs);
  writeFrame(fileOf(2), lit(3));
  await until('frame 2 anew', async () => Math.abs(middle(outOf(2)) / before - 3) < 0.01);
  expect([1, 3, 4].map((f) => statSync(outOf(f)).mtimeMs)).toEqual(stamps);
});

test('it goes on after the server was ended by kill -9, with what came meanwhile', async () => {
  await zaf.killAll();
  writeFrame(fileOf(5));
  zaf = await startInstance('start', data);
  await until('frame 5', async () => (await states(standing)) === 'dddddeed');
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
});

test('the queue shows exports of all shots; one is paused, goes on, and is moved before others by drag and by key', async () => {
  await (await button('Export…')).click();
  const first = await startExport('first', '1-5', false);
  await until('its end', async () => (await states(first)) === 'ddddd');
  await until('the page says so', async () =>
    (await text('[data-sonner-toaster]')).includes('first.####.exr: 5 frames done.'),
  );
  await browser.driver.get(`${zaf.address}/queue`);
  const row = (id: number) => `[data-export="${id}"]`;
  await waitFor(row(standing));
  expect(await text(row(standing))).toContain(
    '5 of 8 frames done, 2 not here yet'.replace('5 of 8', '6 of 8'),
  );
  expect(await text('main')).toContain('In turn');
  expect(await text(row(first))).toContain('5 of 5 frames done');

  // Paused: a frame that comes waits.
  await (await find(`${row(standing)} [aria-label^="Pause"]`)).click();
  await until('paused', async () => (await text(row(standing))).includes('paused'));
  writeFrame(fileOf(6));
  await until('it waits', async () => (await states(standing)) === 'dddddwed');
  await (await find(`${row(standing)} [aria-label="Go on"]`)).click();
  await until('frame 6', async () => (await states(standing)) === 'ddddd' + 'ded');

  // By drag.
  const grip = await find(`${row(standing)} [aria-label^="Move"]`);
  const actions = browser.driver.actions();
  await actions.move({ origin: grip }).press().move({ origin: grip, y: -8 }).perform();
  const target = await waitFor('[data-urgency=first] ul');
  await browser.driver.actions().move({ origin: target }).move({ origin: target, y: 2 }).release().perform();
  const urgency = async () => (await queued()).find((r) => r.id === standing)!.urgency;
  await until('it is first', async () => (await urgency()) === 'first');
  await until('its group', async () => (await text('[data-urgency=first]')).includes('standing'));
  // And by its list.
  await choose(`${row(standing)} select`, 'Last');
  await until('it is last', async () => (await urgency()) === 'last');
});

test('a frame that failed says why, where and how often, and is tried again by hand', async () => {
  writeFileSync(fileOf(7), 'no picture at all');
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await (await button('Export…')).click();
  const id = await startExport('broken', '6-7', false);
  await until('it fails', async () => (await states(id)) === 'df');
  await browser.driver.get(`${zaf.address}/queue`);
  const row = `[data-export="${id}"]`;
  await waitFor(row);
  expect(await text(row)).toContain('1 of 2 frames done, 1 failed');
  await (await find(`${row} [aria-expanded]`)).click();
  expect(await text(row)).toMatch(/Frame 7: .*hall\.0007\.exr.*Tried once, last on /);
  await (await find(`${row} [aria-label="Try the frame again"]`)).click();
  await until('tried again', async () => (await runs()).find((r) => r.id === id)!.frames[1].tries === 2);
  await until('it failed again', async () => (await states(id)) === 'df');
  // It is mended: then it goes on by itself, the standing one too, and the page says when an export ends.
  writeFrame(fileOf(7));
  await until(
    'both are done',
    async () => (await states(id)) === 'dd' && (await states(standing)) === 'dddddddd',
  );
  await until('the page shows it', async () => (await text(row)).includes('2 of 2 frames done'));
  await (await find(`[data-export="${standing}"] [aria-label^="Cancel"]`)).click();
  await until('it has ended', async () => (await text('main')).includes('Ended'));
});

test('the page of machines shows this server, has it rest, and how another joins', async () => {
  await (await find('a[href="/machines"]')).click();
  await until('the page', async () => (await text('h1')) === 'Machines');
  const card = '[data-machine]';
  await waitFor(card);
  expect(await text(card)).toMatch(/this server.*waits for frames.*\d+ frames done, 0\.\d\d s each/);
  const token = readFileSync(join(data, 'node-token'), 'utf8');
  expect(await text('main code')).toBe(`./zafiro node --server ${zaf.address} --token ${token}`);
  await (await button('Take no more frames')).click();
  await until('it rests', async () => (await text(card)).includes('rests'));
  const body = JSON.stringify({
    shot,
    document: newFinish('finish', 'Bare', { type: 'pass', media: 'hall', pass: '' }),
    frames: '1-2',
    format: 'exr',
    name: 'resting',
  });
  const { run: id } = await json<{ run: number }>(`${zaf.address}/api/exports`, { method: 'POST', body });
  await new Promise((r) => setTimeout(r, 2500));
  expect(await states(id)).toBe('ww');
  await (await button('Take frames again')).click();
  await until('they are done', async () => (await states(id)) === 'dd');
  await (await button('Make another token')).click();
  await until('another token', async () => !(await text('main code')).includes(token));
  expect(await attribute('a[aria-current=page]', 'href')).toBe('/machines');
  expect(await run<number>('return document.documentElement.scrollWidth - innerWidth')).toBeLessThanOrEqual(
    0,
  );
});

test('a movie is made of the view, with its caption; it is downloaded in place of frames', async () => {
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await (await button('Export…')).click();
  await waitFor('[aria-label=Exports] select[name=format]');
  await choose('[aria-label=Exports] select[name=format]', 'Movie — MP4');
  await choose('[aria-label=Exports] select[name=screen]', 'Hable');
  await (await find('[aria-label=Exports] input[name=caption]')).click();
  // As a preset, which is there again after a reload.
  await (await button('Save as a preset')).click();
  await (await waitFor('[aria-label="Name of the preset"]')).sendKeys('Dailies with words', Key.ENTER);
  await until('the preset', async () =>
    (await text('[aria-labelledby=preset-label]')).includes('Dailies with words'),
  );
  await browser.driver.navigate().refresh();
  await (await button('Export…')).click();
  await until('the preset', async () =>
    (await text('[aria-labelledby=preset-label]')).includes('Dailies with words'),
  );
  await choose('[aria-labelledby=preset-label]', 'Dailies with words');
  expect(await run('return document.querySelector("[aria-label=Exports] input[name=caption]").checked')).toBe(
    true,
  );
  expect(await find('[aria-label=Exports]').getText()).not.toContain('Go on as frames come');
  const known = (await runs()).map((r) => r.id);
  await (await button('Start export')).click();
  const id = await until('the export', async () => (await runs()).find((r) => !known.includes(r.id))?.id);
  await until('the movie', async () => (await runs()).find((r) => r.id === id)!.movie?.state === 'done');
  const row = `[data-export="${id}"]`;
  await until('its words', async () => /MP4: 0\.\d MB/.test(await text(row)));
  const response = await fetch(`${zaf.address}/api/exports/${id}/download`);
  expect(response.headers.get('content-type')).toBe('video/mp4');
  const movie = join(data, 'movie.mp4');
  writeFileSync(movie, Buffer.from(await response.arrayBuffer()));
  const args = ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', movie];
  const { streams } = JSON.parse(spawnSync('ffprobe', args, { encoding: 'utf8' }).stdout);
  expect([streams[0].width, streams[0].height, Number(streams[0].nb_read_frames)]).toEqual([320, 180, 8]);
  // The caption: a dark strip with light letters in the lower left corner, other numbers on other frames.
  const corner = (frame: number) =>
    spawnSync(
      'ffmpeg',
      ['-v', 'error', '-i', movie].concat(
        ...['-vf', `select=eq(n\\,${frame}),crop=150:11:0:169`],
        ...['-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'gray', 'pipe:1'],
      ),
    ).stdout;
  const [first, fourth] = [corner(0), corner(3)];
  expect(Math.max(...first)).toBeGreaterThan(180);
  expect(Math.min(...first)).toBeLessThan(70);
  expect(first.filter((v, i) => Math.abs(v - fourth[i]) > 60).length).toBeGreaterThan(3);
});

test('frames go into a folder by a pattern; what is there is told, and written over only when that is wanted', async () => {
  const known = (await runs()).map((r) => r.id);
  const next = () => until('the export', async () => (await runs()).find((r) => !known.includes(r.id)));
  await choose('[aria-label=Exports] select[name=format]', 'EXR — half');
  const fill = async (name: string, words: string) => {
    const input = await waitFor(`[aria-label=Exports] input[name=${name}]`);
    await input.click();
    await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform();
    await input.sendKeys(words);
  };
  await fill('frames', '1-3');
  await fill('into', `${outside}/{project}/{shot}`);
  await fill('name', '{finish}_v{version}');
  const folderOut = join(outside, 'tests', 'hall');
  await until('where it goes', async () =>
    (await text('[aria-label=Exports] form')).includes(`${folderOut}/first_finish_v2.####.exr`),
  );
  await (await button('Start export')).click();
  const first = await next();
  known.push(first.id);
  await until('its end', async () => (await states(first.id)) === 'ddd');
  expect(readdirSync(folderOut).sort()).toEqual(
    [1, 2, 3].map((f) => `first_finish_v2.000${f}.exr`).concat('first_finish_v2.frames.jsonl'),
  );
  // Once more: it is told, and refused, and then only what lacks is rendered.
  await fill('frames', '1-4');
  await until('what is there', async () =>
    (await text('[aria-label=Exports] form')).includes('3 of 4 frames are there'),
  );
  await (await button('Start export')).click();
  await until('it is refused', async () =>
    (await text('[aria-label=Exports] [role=alert]')).includes('3 of 4 frames are there already'),
  );
  const stamps = [1, 2, 3].map((f) => statSync(join(folderOut, `first_finish_v2.000${f}.exr`)).mtimeMs);
  await (await button('Write over them')).click();
  const second = await next();
  await until('its end', async () => (await states(second.id)) === 'dddd');
  expect([1, 2, 3].map((f) => statSync(join(folderOut, `first_finish_v2.000${f}.exr`)).mtimeMs)).toEqual(
    stamps,
  );
  // A folder that is not allowed, and the frames of the shot themselves.
  await fill('into', '/etc');
  await until('it is told', async () =>
    (await text('[aria-label=Exports] form')).includes(
      '/etc lies outside the folders that exports may be written into',
    ),
  );
  const body = {
    shot,
    document: newFinish('finish', 'Bare', { type: 'pass', media: 'hall', pass: '' }),
    frames: '1-2',
    format: 'exr',
    name: 'hall',
    into: folder,
  };
  const over = await fetch(`${zaf.address}/api/exports`, {
    method: 'POST',
    body: JSON.stringify({ ...body, overwrites: true }),
  });
  expect([over.status, (await over.json()).error.message]).toEqual([
    422,
    'That would write over frames of hall.',
  ]);
});

test('an address that is to be told is typed, refused inside this network, kept after a reload, and taken away', async () => {
  await browser.driver.get(`${zaf.address}/queue`);
  const open = async () => (await waitFor('main details summary')).click();
  const toasts = () => text('[data-sonner-toaster]');
  await open();
  const type = async (words: string) => {
    const input = await waitFor('[aria-label="Address to notify"]');
    await input.click();
    await browser.driver
      .actions()
      .keyDown(Key.CONTROL)
      .sendKeys('a')
      .keyUp(Key.CONTROL)
      .sendKeys(Key.BACK_SPACE)
      .perform();
    await input.sendKeys(words, Key.ENTER);
  };
  await type('https://localhost/told');
  await until('it is refused', async () => (await toasts()).includes('localhost lies inside this network.'));
  // A public address, as a number: no name has to be known here.
  await type('https://93.184.216.34/told');
  await until('it is kept', async () =>
    (await toasts()).includes('From now on Zafiro sends a message there when an export ends.'),
  );
  await until('its secret', async () => /Secret of the signature: \S{32}/.test(await text('main details')));
  await browser.driver.navigate().refresh();
  await open();
  await until('it is there', async () =>
    run<boolean>(
      `return document.querySelector('[aria-label="Address to notify"]').value === 'https://93.184.216.34/told'`,
    ),
  );
  await type('');
  await until('nobody is told', async () => (await toasts()).includes('Notifications are off.'));
});
