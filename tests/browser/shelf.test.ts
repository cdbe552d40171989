import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Shelf } from '../../api/shelf';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { importShot, writeFrames } from './small-shot';

/** The shelf by hand: posters of finished pictures, and all that is done with projects, shots and finishes. */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();
const frames = temporaryFolder();
const { attribute, button, find, run, settled, text, waitFor } = onPage(() => browser);

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  const pattern = writeFrames(frames, 'hall', [1, 2]);
  for (const name of ['Shot 010', 'Shot 020']) await importShot(zaf.address, name, [pattern]);
  browser = await openBrowser();
  await browser.driver.get(zaf.address);
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const shelf = () => json<Shelf>(`${zaf.address}/api/shelf`);
const names = () =>
  run<string[][]>(
    `return [...document.querySelectorAll('[data-project]')].map((p) => [p.querySelector('h2').textContent,
      ...[...p.querySelectorAll('[data-shot] a .font-medium')].map((s) => s.textContent)]);`,
  );
/** Opens the menu of a shot and chooses in it. */
const chosen = async (shot: string, words: string) => {
  await (await waitFor(`[aria-label^="More for ${shot}"]`)).click();
  await run(
    `[...document.querySelectorAll('details[open] button')].find((b) => b.textContent.startsWith(arguments[0])).click()`,
    words,
  );
};
const typed = async (words: string) => {
  const field = await waitFor('dialog[open] input');
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
  await until('closed', async () => !(await run(`return document.querySelector('dialog[open]')`)));
};

test('each shot gets a poster of its finished picture, made once and kept', async () => {
  await until('both posters', () =>
    run<boolean>(`return document.querySelectorAll('[data-shot] img[data-poster]').length === 2`),
  );
  const found = (await shelf()).projects[0].shots;
  expect(found.map((s) => s.finishes[0].poster)).toEqual([1, 1]);
  await browser.driver.navigate().refresh();
  await waitFor('[data-shot] img[data-poster]');
  expect(await text('[data-testid=free]')).toMatch(/free of/);
});

test('what was opened last stands on top, and one goes on with it', async () => {
  expect(await names()).toEqual([['Tests', 'Shot 010', 'Shot 020']]);
  await (await find('[data-shot="2"] a')).click();
  await settled();
  await browser.driver.get(zaf.address);
  await until('on top', async () => (await names())[0].join() === 'Tests,Shot 020,Shot 010');
  await (await find('[data-testid=go-on]')).click();
  await until('there', async () => (await browser.driver.getCurrentUrl()).includes('/shots/2?finish='));
  await browser.driver.get(zaf.address);
});

test('a shot is renamed, duplicated and moved into a project made for it', async () => {
  await chosen('Shot 010', 'Rename');
  await typed('Opening of the dome');
  await until('renamed', async () => (await names()).flat().includes('Opening of the dome'));
  await chosen('Opening of the dome', 'Duplicate');
  await until('a copy', async () => (await names()).flat().includes('Opening of the dome, copy'));
  await (await button('New project')).click();
  await typed('Night pieces');
  await until('a project', async () => (await names()).some(([name]) => name === 'Night pieces'));
  await chosen('Opening of the dome, copy', 'Move');
  await (await waitFor('dialog[open] .btn-primary')).click();
  await until('moved', async () =>
    (await names()).some((p) => p.join() === 'Night pieces,Opening of the dome, copy'),
  );
});

test('a name that is taken is refused where it is typed', async () => {
  await (await button('New project')).click();
  const field = await waitFor('dialog[open] input');
  await field.sendKeys('Night pieces', Key.ENTER);
  await until('refused', async () =>
    (await text('dialog[open]')).includes('There is a project Night pieces already'),
  );
  await field.sendKeys(Key.ESCAPE);
});

test('shots are found by their words, and what is archived stands apart', async () => {
  const search = await find('[aria-label="Search the shelf"]');
  await search.sendKeys('dome copy');
  await until('one', async () => (await names()).flat().join() === 'Night pieces,Opening of the dome, copy');
  await search.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE);
  await chosen('Shot 020', 'Archive');
  await until('apart', async () => !(await names()).flat().includes('Shot 020'));
  await (await find('input.toggle')).click();
  await until('shown', async () => (await names()).flat().includes('Shot 020'));
  await chosen('Shot 020', 'Take out');
  await until('back', async () => (await shelf()).projects.flatMap((p) => p.shots).every((s) => !s.archived));
});

test('finishes of a shot are copied, renamed, compared and deleted', async () => {
  await chosen('Shot 020', 'Finishes');
  await (await waitFor('[aria-label="Copy First finish"]')).click();
  await waitFor('[aria-label="Name of First finish, copy"]');
  const name = await find('[aria-label="Name of First finish, copy"]');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Colder', Key.ENTER);
  await waitFor('[aria-label="Name of Colder"]');
  await (await find('[aria-label="Compare Colder with another finish"]')).click();
  await until('compared', async () => (await attribute('[aria-label="Comparison"]', 'aria-label')) !== null);
  const compared = await run<string>(`return document.querySelector('[aria-label="Compare with"]').value`);
  expect(compared).toMatch(/^finish:/);
  await browser.driver.get(zaf.address);
  await chosen('Shot 020', 'Finishes');
  await (await waitFor('[aria-label="Delete Colder"]')).click();
  await until(
    'gone',
    async () => !(await run(`return document.querySelector('[aria-label="Name of Colder"]')`)),
  );
  await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
});

test('what goes with a shot is said; what is deleted comes back by undo, or from the list', async () => {
  await chosen('Opening of the dome of', 'Delete');
  await until('told', async () =>
    (await text('[data-testid=belongings]')).includes('1 finish with 1 version'),
  );
  expect(await text('[data-testid=belongings]')).toContain('Frames of hall stay where they are');
  await (await find('dialog[open] .btn-error')).click();
  await until('gone', async () => !(await names()).flat().includes('Opening of the dome'));
  await (await waitFor('[data-sonner-toast] [data-action]')).click();
  await until('undone', async () => (await names()).flat().includes('Opening of the dome'));
  await (await button('Deleted (')).click();
  await (await waitFor('[aria-label="Restore Colder"]')).click();
  await until('restored', async () =>
    (await shelf()).projects.flatMap((p) => p.shots).some((s) => s.finishes.some((f) => f.name === 'Colder')),
  );
});
