import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep, newFinish } from '../../core/finish/edits';
import {
  type Instance,
  json,
  processesOf,
  remove,
  startInstance,
  temporaryFolder,
  until,
} from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage, saveOf } from './page';
import { importShot, writeFrames } from './small-shot';

/** Faults as somebody at the page meets them: what does it say, and does it go on by itself? */
let zaf: Instance;
let browser: Browser;
let shot: number;
const disk = temporaryFolder();
const frames = temporaryFolder();
const data = join(disk, 'data');
const ballast = join(disk, 'ballast');
/** A small disk of its own, so that it can be filled: for that one must be allowed to mount it. */
const isSmall = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=480m', 'tmpfs', disk]).status === 0;

const { attribute, button, find, run, saved, settled, text, waitFor } = onPage(() => browser);

const host = (command: string, ...args: string[]) => {
  const { status, stderr } = spawnSync(command, args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command}: ${stderr}`);
};
const megabytesFree = () => {
  const { bavail, bsize } = statfsSync(disk);
  return (bavail * bsize) / 2 ** 20;
};
/** Fills the disk but for so many megabytes. */
function fill(left: number) {
  for (let tries = 1; ; tries++) {
    rmSync(ballast, { force: true });
    try {
      return host('fallocate', '-l', `${Math.floor(megabytesFree() - left)}M`, ballast);
    } catch (error) {
      // An export may have written between the question and the filling.
      if (tries === 10) throw error;
    }
  }
}

const bloomed = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' }),
);
const finishAddress = async () => {
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
  return `${zaf.address}/api/finishes/${finishes[0].id}`;
};
const amount = async () =>
  (await json<SavedFinish>(await finishAddress())).document.strands[0].steps[0].values.amount;
async function type(id: string, words: string) {
  const field = await find(`[data-value=${id}]`);
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
}
const runs = () => json<ExportRun[]>(`${zaf.address}/api/exports?shot=${shot}`);
const killed = (command: RegExp) => {
  const found = processesOf(data).find((p) => command.test(p.command))!;
  process.kill(found.pid, 'SIGKILL');
};

beforeAll(async () => {
  mkdirSync(data);
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  const numbers = Array.from({ length: 60 }, (_, i) => i + 1);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', numbers)]);
  const { version } = await json<SavedFinish>(await finishAddress());
  await json(await finishAddress(), { method: 'PUT', body: saveOf(version, bloomed) });
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await waitFor('[data-testid=viewer]');
  await settled();
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  spawnSync('umount', [disk]);
  remove(disk);
  remove(frames);
});

/** Begins an export of all frames in the panel, and waits for the first of them. */
async function beginExport() {
  const before = (await runs()).length;
  await (await button('Export')).click();
  await (await button('Start export')).click();
  await until('the export', async () => (await runs()).length > before);
  await until('a frame', async () => (await runs())[0].frames.some((f) => f.state === 'done'));
  expect((await runs())[0].frames.some((f) => f.state === 'waiting')).toBe(true);
}
const closePanel = async () => (await button('Close')).click();

test.skipIf(!isSmall).each([
  { left: 20, of: 'a disk that is nearly full' },
  { left: 0, of: 'a disk without a free byte' },
])('saves and exports wait for $of, say so, and go on once there is room', async ({ left }) => {
  await beginExport();
  fill(left);
  const words = 'aside[aria-label=Exports] [role=status]';
  await until('the words', async () => (await text(words)).startsWith('The disk is full or read-only.'));
  await (await button('Start export')).click();
  await until('a refusal', async () => /full.*start the export/.test(await text('aside [role=alert]')));
  await closePanel();
  await type('amount', left === 0 ? '0.75' : '0.25');
  await until('not saved', async () => (await text('[data-save]')).includes('The disk is full'));
  // Looking goes on meanwhile.
  await run(`document.querySelector('[aria-label="Frame 7"]').click()`);
  await settled();
  expect((await runs())[0].frames.some((f) => f.state === 'failed')).toBe(false);
  rmSync(ballast);
  await saved();
  expect(await amount()).toBe(left === 0 ? 0.75 : 0.25);
  await until('the export', async () => (await runs())[0].frames.every((f) => f.state === 'done'));
  await (await button('Export')).click();
  await until('no more words', async () => (await text(words)) === '');
  await closePanel();
});

test('edits wait while the database is away, and are saved once it is back', async () => {
  killed(/mariadbd /);
  await type('amount', '1.5');
  await until('said', async () => /does not answer|not saved|again/i.test(await text('[data-save]')));
  await saved();
  expect(await amount()).toBe(1.5);
});

test('exports go on when whoever renders them dies', async () => {
  await beginExport();
  killed(/dist\/exports\.mjs/);
  await until('the export', async () => (await runs())[0].frames.every((f) => f.state === 'done'));
  await until('seen', async () => (await attribute('[data-export]', 'data-over')) === 'true');
  expect(await attribute('[data-export]', 'data-done')).toBe('60');
  await closePanel();
});

test('a picture that is being looked at comes though the reader dies', async () => {
  await run(`document.querySelector('[aria-label="Frame 20"]').click()`);
  for (const { pid, command } of processesOf(data))
    if (/dist\/reader\.mjs/.test(command)) process.kill(pid, 'SIGKILL');
  await run(`document.querySelector('[aria-label="Frame 25"]').click()`);
  await settled();
  expect(await run(`return document.querySelector('[role=alert]')?.textContent ?? ''`)).toBe('');
});

test('a shot is deleted after a question, and only then', async () => {
  await importShot(zaf.address, 'spare', [join(frames, 'hall.0001.exr')]);
  await browser.driver.get(zaf.address);
  await waitFor('a[href^="/shots/"]');
  const ask = async () => {
    await (await waitFor('[aria-label^="More for spare"]')).click();
    await run(
      `[...document.querySelectorAll('[data-shot] details[open] button')].find((b) => b.textContent.startsWith('Delete')).click()`,
    );
  };
  await ask();
  await (await button('Keep it')).click();
  await ask();
  const dialog = await waitFor('dialog[aria-label="Delete spare"][open]');
  await until('its words', async () => (await dialog.getText()).includes('stay where they are'));
  await dialog.findElement({ css: '.btn-error' }).click();
  await until(
    'one shot',
    async () => (await run(`return document.querySelectorAll('[data-shot]').length`)) === 1,
  );
  expect(await text('main')).not.toContain('spare');
});
