import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { newFinish } from '../../core/finish/edits';
import { type Instance, remove, root, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, writeFrames } from './small-shot';

/**
 * What each screen shows where there is nothing to show: nothing is there yet, it is on its way, or it could not be had; each with a way on, which is
 * tried. A picture of each is left in dist/states.
 */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const pictures = join(root, 'dist/states');
const page = onPage(() => browser);
const { button, press, run, settled, text, waitFor } = page;

beforeAll(async () => {
  mkdirSync(pictures, { recursive: true });
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  browser = await openBrowser();
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const go = (path: string) => browser.driver.get(`${zaf.address}${path}`);
type DevTools = {
  sendDevToolsCommand(command: string, params: object): Promise<void>;
  sendAndGetDevToolsCommand(command: string, params: object): Promise<{ identifier: string }>;
};
const tools = () => browser.driver as unknown as DevTools;

/** While `work` goes on, requests to such addresses fail. */
async function blocked(address: string, work: () => Promise<void>) {
  const block = (urls: string[]) => tools().sendDevToolsCommand('Network.setBlockedURLs', { urls });
  await tools().sendDevToolsCommand('Network.enable', {});
  await block([`*${address}*`]);
  await work().finally(() => block([]));
}

/** While `work` goes on, requests to such addresses of a page that is opened in it wait; then they go on. */
async function held(address: string, work: () => Promise<void>) {
  const source = `window.held = [];
    const ask = window.fetch;
    window.fetch = (to, ...more) => window.held && String(to).includes(${JSON.stringify(address)})
      ? new Promise((go) => window.held.push(go)).then(() => ask(to, ...more)) : ask(to, ...more);`;
  await tools().sendDevToolsCommand('Page.enable', {});
  const script = await tools().sendAndGetDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source });
  await work().finally(async () => {
    await tools().sendDevToolsCommand('Page.removeScriptToEvaluateOnNewDocument', script);
    await run('const waiting = window.held; window.held = undefined; for (const go of waiting) go();');
  });
}

/** Waits for a state, keeps its picture, and checks that it can be read: in sight, whole, and said to screen readers. */
async function see(is: 'empty' | 'loading' | 'failed', name: string, words: string) {
  const css = `[data-state="${is}"]`;
  await until(`${name}: ${words}`, async () => (await text(css)).includes(words));
  await browser.shot(join(pictures, `${name}-${is}.png`));
  const found = await run<{ inside: boolean; role: string | null; ways: number }>(
    `const section = document.querySelector(arguments[0]); const r = section.getBoundingClientRect();
     return { inside: r.left >= 0 && r.right <= innerWidth && r.top >= 0 && r.bottom <= innerHeight,
       role: section.getAttribute('role'), ways: section.querySelectorAll('a, button').length };`,
    css,
  );
  expect(found.inside, `${name} is in sight`).toBe(true);
  expect(found.role).toBe({ empty: null, loading: 'status', failed: 'alert' }[is]);
  if (is === 'failed') expect(found.ways, `${name} has a way on`).toBeGreaterThan(0);
}

test('nothing is there yet', async () => {
  for (const [path, name, words] of [
    ['/', 'shelf', 'No shots yet'],
    ['/queue', 'exports', 'Nothing is being exported'],
    ['/sheet', 'contact-sheet', 'No shots yet'],
    ['/nowhere', 'address', 'Nothing is here'],
    ['/shots/4711', 'gone-shot', 'Nothing is here'],
  ]) {
    await go(path);
    await see('empty', name, words);
  }
});

test('what is searched for is not there, and one click shows all again', async () => {
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  await giveFinish(
    zaf.address,
    shot,
    newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' }),
  );
  await go('/');
  await waitFor('[data-shot]');
  await browser.driver.findElement(By.css('input[type=search]')).sendKeys('a moth in the hall');
  await see('empty', 'shelf-search', 'Nothing has that name');
  await (await button('Show all')).click();
  await waitFor('[data-shot]');
  await go('/recipes');
  await waitFor('ul[aria-label=Recipes] li');
  await browser.driver.findElement(By.css('[aria-label="Search recipes"]')).sendKeys('a moth in the hall');
  await see('empty', 'recipes-search', 'No recipe has that name');
  await (await button('Show all')).click();
  await waitFor('ul[aria-label=Recipes] li');
});

test('what is on its way says so, and then is there', async () => {
  for (const [path, address, name, words, then] of [
    ['/recipes', '/api/recipes', 'recipes', 'Opening the library', 'ul[aria-label=Recipes] li'],
    ['/queue', '/api/queue', 'exports', 'Exports are being read', '[data-state=empty]'],
    ['/machines', '/api/machines', 'machines', 'Machines are being read', 'main li'],
    ['/sheet', '/api/', 'contact-sheet', 'Opening the shots', 'ul[aria-label=Shots] li'],
    [`/shots/${shot}`, '/api/finishes', 'shot', 'Opening', '[data-testid=viewer]'],
  ]) {
    await held(address, async () => {
      await go(path);
      await see('loading', name, words);
    });
    await waitFor(then);
  }
});

test('what could not be had says why, and is there once it can', async () => {
  for (const [path, address, name, words, then] of [
    ['/recipes', '/api/recipes', 'recipes', 'The recipes could not be read', 'ul[aria-label=Recipes] li'],
    ['/queue', '/api/queue', 'exports', 'The server did not answer', '[data-state=empty]'],
    ['/machines', '/api/machines', 'machines', 'The server did not answer', 'main li'],
    [`/shots/${shot}`, '/api/finishes', 'shot', 'could not be opened', '[data-testid=viewer]'],
    [`/shots/${shot}/passes`, '/contents', 'passes', 'The passes could not be read', 'canvas, img'],
  ]) {
    await blocked(address, async () => {
      await go(path);
      await see('failed', name, words);
    });
    await (await button('Try again')).click();
    await waitFor(then);
    await until(
      `${name} is there`,
      async () => (await run<number>(`return document.querySelectorAll('[data-state=failed]').length`)) === 0,
    );
  }
});

test('the history: on its way, not to be had, and there', async () => {
  await go(`/shots/${shot}`);
  await settled();
  await blocked('/versions', async () => {
    await (await button('History')).click();
    await see('failed', 'history', 'The history could not be read');
  });
  await (await button('Try again')).click();
  await waitFor('aside[aria-label=History] ol > li input, [aria-label=History] ol > li');
});

test('nothing is selected, until something is', async () => {
  await go(`/shots/${shot}`);
  await settled();
  await see('empty', 'sheet', 'Nothing is selected');
  await press('a');
  await waitFor('dialog[open]');
  await browser.driver.actions().sendKeys('Bloom', Key.ENTER).perform();
  await until('the sheet of Bloom', async () =>
    (await text('aside[aria-label="Step sheet"]')).includes('Threshold'),
  );
});
