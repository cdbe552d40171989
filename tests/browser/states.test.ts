import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
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
type DevTools = { sendDevToolsCommand(command: string, params: object): Promise<void> };
const tell = (command: string, params: object) =>
  (browser.driver as unknown as DevTools).sendDevToolsCommand(command, params);

/** While `work` goes on, requests to addresses like this one get no answer, or wait for as long as it takes. */
async function without(how: 'blocked' | 'held', address: string, work: () => Promise<void>) {
  await tell('Network.enable', {});
  if (how === 'blocked') {
    await tell('Network.setBlockedURLs', { urls: [`*${address}*`] });
    await work();
    await tell('Network.setBlockedURLs', { urls: [] });
    return;
  }
  await tell('Page.enable', {});
  const source = `if (!window.held) {
    window.held = []; const ask = window.fetch;
    window.fetch = (to, ...more) => String(to).includes(${JSON.stringify(address)}) && window.held
      ? new Promise((done) => window.held.push(done)).then(() => ask(to, ...more)) : ask(to, ...more);
  }`;
  const { identifier } = (await (
    browser.driver as unknown as {
      sendAndGetDevToolsCommand(command: string, params: object): Promise<{ identifier: string }>;
    }
  ).sendAndGetDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source })) ?? { identifier: '' };
  await work();
  await run('const held = window.held; window.held = undefined; for (const go of held) go();');
  await tell('Page.removeScriptToEvaluateOnNewDocument', { identifier });
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
    ['/recipes', 'recipes', 'No recipes yet'],
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
  await see('empty', 'shelf-search', 'Nothing is named so');
  await (await button('Show all')).click();
  await waitFor('[data-shot]');
});

test('what is on its way says so, and then is there', async () => {
  for (const [path, held, name, words, then] of [
    ['/recipes', '/api/recipes', 'recipes', 'Opening the library', '[data-state=empty]'],
    ['/queue', '/api/queue', 'exports', 'Exports are being read', '[data-state=empty]'],
    ['/machines', '/api/machines', 'machines', 'Machines are being read', 'main li'],
    ['/sheet', '/api/', 'contact-sheet', 'Opening the shots', 'ul[aria-label=Shots] li'],
    [`/shots/${shot}`, '/api/finishes', 'shot', 'Opening', '[data-testid=viewer]'],
  ])
    await without('held', held, async () => {
      await go(path);
      await see('loading', name, words);
      await run(
        'const held = window.held; window.held = []; const ask = held.splice(0); for (const go of ask) go();',
      );
      await run('window.held = undefined');
      await waitFor(then);
      await run('window.held = []');
    });
});

test('what could not be had says why, and is there once it can', async () => {
  for (const [path, blocked, name, words, then] of [
    ['/recipes', '/api/recipes', 'recipes', 'The recipes could not be read', '[data-state=empty]'],
    ['/queue', '/api/queue', 'exports', 'The server did not answer', '[data-state=empty]'],
    ['/machines', '/api/machines', 'machines', 'The server did not answer', 'main li'],
    [`/shots/${shot}`, '/api/finishes', 'shot', 'could not be opened', '[data-testid=viewer]'],
    [`/shots/${shot}/passes`, '/contents', 'passes', 'The passes could not be read', 'canvas, img'],
  ]) {
    await without('blocked', blocked, async () => {
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
  await without('blocked', '/versions', async () => {
    await (await button('History')).click();
    await see('failed', 'history', 'The history could not be read');
  });
  await (await button('Try again')).click();
  await waitFor('aside[aria-label=History] ol > li input, [aria-label=History] ol > li');
});

test('nothing is selected', async () => {
  await go(`/shots/${shot}`);
  await settled();
  // What was selected is removed by somebody else, or by undo.
  await press('a');
  await waitFor('dialog[open], [role=dialog], [role=listbox]');
  await browser.driver.actions().sendKeys('Bloom', '\n').perform();
  await settled();
  await page.undo();
  await settled();
  await browser.shot(join(pictures, 'after-undo.png'));
});
