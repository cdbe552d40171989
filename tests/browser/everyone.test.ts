import { readFileSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { addStep, addStrand, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { type Instance, remove, root, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, writeFrames } from './small-shot';

/**
 * For everyone: axe-core (Deque; the rules of WCAG 2.2 A and AA, and its best practices) finds nothing on any screen, menu or dialog; at twice the size
 * nothing is lost; and what is said of a slider is its value.
 */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const axe = readFileSync(`${root}/node_modules/axe-core/axe.min.js`, 'utf8');
const page = onPage(() => browser);
const { button, find, press, run, settled, text, waitFor } = page;

beforeAll(async () => {
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

type Violation = { id: string; impact: string; nodes: string[] };
/** What axe-core finds on the page as it is. */
async function violations(): Promise<Violation[]> {
  // What fades in has its colours a moment later.
  await browser.driver.sleep(500);
  await run(axe);
  return browser.driver.executeAsyncScript(`
    const done = arguments[arguments.length - 1];
    axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) => done(violations.map((v) => ({
      id: v.id, impact: v.impact, nodes: v.nodes.map((n) => n.html.slice(0, 200)),
    }))));`);
}
const clean = async (what: string) => expect(await violations(), what).toEqual([]);
const go = (path: string) => browser.driver.get(`${zaf.address}${path}`);
const leave = () => browser.driver.actions().sendKeys(Key.ESCAPE).perform();
const chord = async (key: string, modifier: string) => {
  await run('document.activeElement?.blur()');
  await browser.driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform();
};
const clickText = (css: string, words: string) =>
  run(
    `[...document.querySelectorAll(arguments[0])].find((b) => b.textContent.includes(arguments[1])).click()`,
    css,
    words,
  );

test('empty screens', async () => {
  for (const path of ['/', '/import', '/queue', '/recipes', '/sheet', '/machines', '/handbook', '/nowhere']) {
    await go(path);
    await waitFor('main');
    await clean(path);
  }
});

test('the shelf, its menus and its dialogs', async () => {
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'bloom', 'bloom').apply(doc);
  doc = addStep('main', 1, 'light-rays', 'rays').apply(doc);
  doc = addStep('main', 2, 'curves', 'curves').apply(doc);
  doc = addStrand(doc, { type: 'shapes', shapes: [] }, 'matte', 'Shapes').apply(doc);
  doc = addStrand(doc, { type: 'pass', media: 'hall', pass: 'depth' }, 'data', 'Depth').apply(doc);
  doc = setValue(doc, 'bloom', 'amount', 2, 1).apply(doc);
  await giveFinish(zaf.address, shot, doc);
  await go('/');
  await waitFor('[data-shot]');
  await clean('shelf');
  await run(`document.querySelector('[data-shot] summary').click()`);
  await clean('menu of a shot');
  for (const words of ['Finishes', 'Rename', 'Move', 'Delete']) {
    await clickText('[data-shot] details button', words);
    await waitFor('dialog[open]');
    await clean(`${words} of a shot`);
    await leave();
  }
  await (await button('New project')).click();
  await clean('new project');
  await leave();
});

test('the shot: each kind of sheet, its palettes and its dialogs', async () => {
  await go(`/shots/${shot}`);
  await settled();
  await clean('shot');
  for (const id of ['rays', 'curves']) {
    await run(`document.querySelector('[data-step="${id}"]').click()`);
    await clean(`sheet of ${id}`);
  }
  for (const name of ['Shapes', 'Depth', 'Frame']) {
    await chord(Key.ARROW_RIGHT, Key.SHIFT);
    await clean(`sheet of a strand, ${name}`);
  }
  for (const [what, open] of [
    ['keys', () => press('?')],
    ['palette of steps', () => press('a')],
    ['palette of strands', () => chord('a', Key.SHIFT)],
    ['search', () => press('/')],
    ['links', async () => (await find('[aria-label="Links of this"]')).click()],
    ['history', async () => (await find('[aria-label=History]')).click()],
    ['panels', async () => (await find('summary[aria-label=Panels]')).click()],
    ['finishes', async () => (await find('summary[aria-label^="Finish "]')).click()],
    ['how it is looked at', async () => run(`document.querySelector('#viewer summary')?.click()`)],
    ['how it plays', async () => (await find('summary[aria-label="How it plays"]')).click()],
    ['export', async () => (await button('Export…')).click()],
  ] as const) {
    await open();
    await clean(what);
    await leave();
  }
});

test('the time drawer, scopes, a comparison and references', async () => {
  await go(`/shots/${shot}`);
  await settled();
  await press('t');
  for (const look of ['Lanes', 'Curves', 'Table', 'Guides']) {
    await clickText('[aria-label="Look of the drawer"] button', look);
    await clean(look);
  }
  await press('t');
  await press('s');
  await press('c');
  await press('q');
  await waitFor('[data-testid=references]');
  await clean('scopes, comparison, references');
  await go(`/shots/${shot}/passes`);
  await waitFor('[data-pass]');
  await clean('passes');
  for (const path of ['/recipes', '/sheet', '/queue', '/handbook/steps/bloom']) {
    await go(path);
    await waitFor('main');
    await clean(path);
  }
});

test('a slider says its value, past its own end too', async () => {
  await go(`/shots/${shot}`);
  await settled();
  await run(`document.querySelector('[data-step=bloom]').click()`);
  const said = () =>
    run<string>(
      `return document.querySelector('input[type=range][aria-label=Amount]').getAttribute('aria-valuetext')`,
    );
  await until('its value', async () => Number(await said()) === 2);
});

test('from the keyboard it is a few keys to the threshold, and a few to each area', async () => {
  await go(`/shots/${shot}`);
  await settled();
  await press(Key.ENTER);
  await until('the threshold', () =>
    run<boolean>(`return document.activeElement?.dataset.value === 'threshold'`),
  );
});

test('at twice its size nothing is cut off that cannot be reached', async () => {
  const tools = browser.driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> };
  // A window of 1280 by 800 at 200 % has room for half of that.
  await tools.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: 640,
    height: 400,
    deviceScaleFactor: 2,
    mobile: false,
  });
  for (const path of ['/', `/shots/${shot}`, '/recipes', '/queue', '/handbook', '/import']) {
    await go(path);
    await waitFor('main');
    expect(
      await run<number>(`return document.documentElement.scrollWidth - document.documentElement.clientWidth`),
      path,
    ).toBeLessThanOrEqual(0);
  }
  await tools.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: 1280,
    height: 800,
    deviceScaleFactor: 1,
    mobile: false,
  });
});

test('the handbook is searched, and every sheet leads to its page', async () => {
  await go('/handbook');
  await (await waitFor('[aria-label="Search the handbook"]')).sendKeys('halo camera');
  await until('found', async () => (await text('[aria-label=Found]')).includes('Bloom'));
  await (await find('[aria-label=Found] a')).click();
  await until('a page', async () => (await text('article h1')) !== 'Handbook');
  await go(`/shots/${shot}`);
  await settled();
  await run(`document.querySelector('[data-step=bloom]').click()`);
  const link = await waitFor('[aria-label="Bloom in the handbook"]');
  await go(new URL((await link.getAttribute('href')) ?? '').pathname);
  await until('its page', async () => (await text('article h1')) === 'Bloom');
  await until('its pictures', () =>
    run<boolean>(
      `const all = [...document.querySelectorAll('article img')]; return all.length === 2 && all.every((i) => i.naturalWidth > 200)`,
    ),
  );
});
