import { existsSync, mkdirSync, readdirSync, rmSync, symlinkSync, truncateSync } from 'node:fs';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { ShotDetail } from '../../api/shots';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
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
import { onPage } from './page';
import { giveFinish, importShot, size, writeFrame } from './small-shot';

/** A shot that plays: each frame carries its number, so that what stands on the canvas can be read off it. */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const count = 24;
const bits = 6;
const { attribute, button, find, press, run, saved, settled, text, waitFor } = onPage(() => browser);

/** The number of the frame in stripes: light for 1, dark for 0, the highest bit on the left. */
const numbered = (n: number) => (x: number) => {
  const on = (n >> (bits - 1 - Math.floor((x / size.width) * bits))) & 1;
  return [on ? 0.5 : 0.02, on ? 0.5 : 0.02, on ? 0.5 : 0.02] as const;
};

beforeAll(async () => {
  mkdirSync(frames, { recursive: true });
  for (let n = 1; n <= count; n++)
    writeFrame(join(frames, `hall.${String(n).padStart(4, '0')}.exr`), numbered(n));
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [join(frames, 'hall.####.exr')]);
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'bloom', 'bloom').apply(doc);
  doc = setValue(doc, 'bloom', 'threshold', 0.1).apply(doc);
  await giveFinish(zaf.address, shot, doc);
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await waitFor('[data-testid=viewer]');
  await settled();
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const allReady = () =>
  until('all frames ready', async () => (await attribute('[data-ready]', 'data-ready')) === `1-${count}`, 60);
const playing = () => text('[data-testid=playing]');

/** Milliseconds, the frame read off the canvas, the playhead's, and how bright a light stripe was, at each picture of the screen. */
type Sight = { at: number; read: number; playhead: number; light: number };
const watch = (millis: number) =>
  browser.driver.executeAsyncScript<Sight[]>(
    `const [millis, bits, ratio, done] = arguments;
     const canvas = document.querySelector('[data-testid=viewer]');
     const g = canvas.getContext('2d');
     const seen = [];
     const began = performance.now();
     const look = () => {
       const at = performance.now() - began;
       if (at > millis) return done(seen);
       const k = Math.min((canvas.width - 24) / ratio, canvas.height - 24);
       const left = (canvas.width - k * ratio) / 2;
       let [read, light] = [0, 0];
       for (let b = 0; b < bits; b++) {
         const [v] = g.getImageData(Math.round(left + ((b + 0.5) / bits) * k * ratio), canvas.height >> 1, 1, 1).data;
         read = read * 2 + (v > 128 ? 1 : 0);
         light = Math.max(light, v);
       }
       seen.push({ at, read, light, playhead: Number(document.querySelector('[data-testid=frame]').textContent) });
       requestAnimationFrame(look);
     };
     requestAnimationFrame(look);`,
    millis,
    bits,
    size.width / size.height,
  );

/** The playhead is drawn by React, a moment after the canvas. */
const isBeside = (read: number, playhead: number) =>
  [0, 1, count - 1].includes((read - playhead + count) % count);

/** How far each sight is from the frame that a clock of that rate would show, in frames, from the first sight on. */
function strays(sights: Sight[], rate: number): number {
  const [first] = sights;
  return Math.max(
    ...sights.map(({ at, read }) => {
      const due = first.read + ((at - first.at) / 1000) * rate;
      const off = (((read - due) % count) + count) % count;
      return Math.min(off, count - off);
    }),
  );
}

describe('play', () => {
  test('frames become ready while nobody does anything, and the ribbon shows their finished pictures', async () => {
    await allReady();
    expect(
      await run('return document.querySelectorAll("section[aria-label=Frames] li canvas").length'),
    ).toBeGreaterThan(8);
  });

  test('Space plays what is ready: the right frame at the right time', async () => {
    await press(' ');
    const sights = await watch(2500);
    expect(new Set(sights.map((s) => s.read)).size).toBe(count);
    for (const { read, playhead } of sights) expect(isBeside(read, playhead)).toBe(true);
    expect(strays(sights, 24)).toBeLessThan(3);
    expect(await playing()).toMatch(/^playing [\d.]+ of 24 fps, 24 of 24 ready/);
    await press(' ');
    await settled();
    // The playhead stays where play ended, and the picture is that frame's.
    const [still] = await watch(50);
    expect(still.read).toBe(still.playhead);
    expect(Number(await attribute('[data-testid=viewer]', 'data-frame'))).toBe(still.read);
  });

  test('an edit while it plays is on the screen without a stop, and what it leaves alone stays ready', async () => {
    await press(' ');
    const [before] = await watch(60);
    const field = await find('[data-value=amount]');
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '0.2', Key.ENTER);
    await saved();
    expect(await playing()).toMatch(/^playing/);
    await until('the edit on the screen', async () =>
      (await watch(300)).every((s) => s.light !== before.light),
    );
    await allReady();
    const sights = await watch(1500);
    for (const { read, playhead } of sights) expect(isBeside(read, playhead)).toBe(true);
    expect(Math.max(...sights.map((s) => s.light))).not.toBe(before.light);
    await run('document.activeElement?.blur()');
    await press(' ');
    await settled();
  });

  test('at a quarter of the rate, backwards, between in and out; both are there after a reload', async () => {
    await (await find('section[aria-label=Frames] [aria-label="Frame 5"]')).click();
    await press('i');
    await (await find('section[aria-label=Frames] [aria-label="Frame 12"]')).click();
    await press('o');
    await browser.driver.navigate().refresh();
    await waitFor('[data-testid=viewer]');
    await settled();
    await allReady();
    await (await waitFor('[aria-label="How it plays"]')).click();
    await run(
      `const list = [...document.querySelectorAll('label')].find((l) => l.textContent.startsWith('Speed')).querySelector('select');
       Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, '0.25');
       list.dispatchEvent(new Event('change', { bubbles: true }));`,
    );
    await (await button('Play backwards')).click();
    const sights = await watch(2500);
    const read = sights.map((s) => s.read);
    expect(Math.min(...read)).toBeGreaterThanOrEqual(5);
    expect(Math.max(...read)).toBeLessThanOrEqual(12);
    const order = read.filter((f, i) => f !== read[i - 1]);
    for (const [i, f] of order.slice(1).entries())
      expect(order[i] - f === 1 || (order[i] === 5 && f === 12)).toBe(true);
    // 2.5 s at 6 a second.
    expect(order.length).toBeGreaterThan(11);
    expect(order.length).toBeLessThan(18);
    await (await find('section[aria-label=Frames] [aria-label=Stop]')).click();
  });

  test('the space bar plays after a click on whatever button', async () => {
    for (const css of [
      'section[aria-label=Frames] [aria-label="Frame 6"]',
      '[aria-label="What is shown"] button',
      '[aria-label=Channels] button',
    ]) {
      await (await find(css)).click();
      await browser.driver.actions().sendKeys(' ').perform();
      await until('play', async () => (await playing()).startsWith('playing'));
      await browser.driver.actions().sendKeys(' ').perform();
      await until('rest', async () => (await playing()) === '');
    }
  });

  test('play that waits begins once all is ready, and says how far it is', async () => {
    const waits = 'input[type=checkbox]';
    await (await find('[aria-label="How it plays"]')).click();
    await (await find(`section[aria-label=Frames] ${waits}`)).click();
    await press(Key.ESCAPE);
    await (await find('[data-value=amount]')).sendKeys(Key.chord(Key.CONTROL, 'a'), '0.35', Key.ENTER);
    await press(' ');
    await until('words', async () => /^(getting ready, \d+ of|playing)/.test(await playing()), 10);
    await until('play', async () => (await playing()).startsWith('playing'));
    expect(await playing()).toMatch(/8 of 8 ready/);
    await press(' ');
    await (await find('[aria-label="How it plays"]')).click();
    await (await find(`section[aria-label=Frames] ${waits}`)).click();
    await press(Key.ESCAPE);
    await settled();
  });

  test('a comparison plays too', async () => {
    await press('c');
    await settled();
    await allReady();
    await press(' ');
    const sights = await watch(1200);
    expect(new Set(sights.map((s) => s.read)).size).toBeGreaterThan(4);
    await press(' ');
    await press('c');
    await settled();
  });

  test('marks and keys are gone to, and a step ends play', async () => {
    const frame = async () => Number(await text('[data-testid=frame]'));
    await (await find('section[aria-label=Frames] [aria-label="Frame 7"]')).click();
    await press('b');
    await (await find('section[aria-label=Frames] [aria-label="Frame 10"]')).click();
    await press('P');
    await until('the mark', async () => (await frame()) === 7);
    expect(await attribute('[data-mark]', 'data-mark')).toBe('7');
    await press(' ');
    await until('play', async () => (await playing()).startsWith('playing'));
    await press(Key.ARROW_RIGHT);
    await until('rest', async () => (await playing()) === '');
    await press(Key.HOME);
    await until('the in', async () => (await frame()) === 5);
    await press(Key.END);
    await until('the out', async () => (await frame()) === 12);
  });
});

test('passes that were unpacked are served from the disk, without a reader; what is torn or gone is unpacked again', async () => {
  const { media } = await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
  const fetched = async () => {
    const response = await fetch(`${zaf.address}/api/media/${media[0].id}/frames/3/pass?name=depth`);
    expect(response.status).toBe(200);
    return Buffer.from(await response.arrayBuffer());
  };
  const decoded = join(data, 'decoded');
  const kept = () =>
    (existsSync(decoded) ? readdirSync(decoded, { recursive: true, encoding: 'utf8' }) : []).filter((f) =>
      /\w{40}$/.test(f),
    );
  const readers = () => processesOf(data).filter((p) => /dist\/reader\.mjs/.test(p.command));
  const endReaders = async () => {
    for (const { pid } of readers()) process.kill(pid, 'SIGKILL');
    await until('no reader', async () => readers().length === 0);
  };
  const plain = await fetched();
  expect(plain.length).toBe(size.width * size.height * 4);
  const before = kept().length;
  expect(before).toBeGreaterThan(0);
  await endReaders();
  expect((await fetched()).equals(plain)).toBe(true);
  expect(readers()).toEqual([]);
  for (const file of kept()) truncateSync(join(decoded, file), 100);
  expect((await fetched()).equals(plain)).toBe(true);
  // What was torn is kept again only after it was answered, maybe just now.
  await until('the folder gone', async () => {
    try {
      rmSync(decoded, { recursive: true });
      return true;
    } catch {
      return false;
    }
  });
  expect((await fetched()).equals(plain)).toBe(true);
  await until('kept again', async () => kept().length > 0);
});

test('a shot of 500 frames: what is kept ready stays within its bound, and only the cells that are seen are drawn', async () => {
  const long = join(frames, 'long');
  mkdirSync(long);
  for (let n = 1; n <= 500; n++)
    symlinkSync(join(frames, 'hall.0011.exr'), join(long, `long.${String(n).padStart(4, '0')}.exr`));
  const id = await importShot(zaf.address, 'long', [join(long, 'long.####.exr')]);
  const megabytes = 8;
  await browser.driver.get(`${zaf.address}/shots/${id}?ready=${megabytes}`);
  await waitFor('[data-testid=viewer]');
  await settled();
  const bytes = () => run<number>(`return performance.memory.usedJSHeapSize`);
  const readyCount = () =>
    run<number>(
      `return [...document.querySelectorAll('[data-ready]')].map((e) => e.dataset.ready.split('-').map(Number)).reduce((sum, [a, b]) => sum + b - a + 1, 0)`,
    );
  const fits = Math.floor((megabytes * 2 ** 20) / (size.width * size.height * 4));
  let most = 0;
  const before = await bytes();
  for (let at = 1; at < 500; at += 20) {
    await run('document.activeElement?.blur()');
    const keys = browser.driver.actions();
    for (let k = 0; k < 20; k++) keys.sendKeys(Key.ARROW_RIGHT);
    await keys.perform();
    most = Math.max(most, await readyCount());
    expect(
      await run('return document.querySelectorAll("section[aria-label=Frames] li").length'),
    ).toBeLessThan(60);
  }
  await until('the last frame', async () => (await text('[data-testid=frame]')) === '0500');
  await until('frames around it', async () => (await readyCount()) > fits / 2);
  most = Math.max(most, await readyCount());
  expect(most).toBeLessThanOrEqual(fits);
  expect((await bytes()) - before).toBeLessThan(150 * 2 ** 20);
  // The playhead is in sight.
  expect(await attribute('section[aria-label=Frames] [aria-current=true]', 'aria-label')).toBe('Frame 500');
});
