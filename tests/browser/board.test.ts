import { join } from 'node:path';
import { By, Key, Origin, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import type { Finish } from '../../core/finish/finish';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/** A finish built from nothing on the board, with mouse and keyboard alone, and undone again. */
let zaf: Instance;
let browser: Browser;
let finishId: number;
let first: Finish;
const data = temporaryFolder();
const { attribute, button, choose, find, pixels, run, saved, settled, text, waitFor } = onPage(() => browser);

const keys = async (...pressed: string[]) => {
  await run('document.activeElement?.blur()');
  await browser.driver
    .actions()
    .sendKeys(...pressed)
    .perform();
};
const typed = async (label: string, words: string) => {
  const field = await waitFor(`[aria-label="${label}"]`);
  await field.sendKeys(words, Key.ENTER);
};
/** Drags with the real mouse, in small steps as a hand does. */
async function drag(from: WebElement, to: WebElement) {
  const actions = browser.driver.actions({ async: true });
  await actions.move({ origin: from }).press().perform();
  await browser.driver.actions().move({ origin: Origin.POINTER, x: 8, y: 8, duration: 60 }).perform();
  await browser.driver.actions().move({ origin: to, duration: 200 }).perform();
  await browser.driver.actions().move({ origin: to, x: 1, y: 1, duration: 60 }).release().perform();
}
const document = async () => {
  await saved();
  return (await json<SavedFinish>(`${zaf.address}/api/finishes/${finishId}`)).document;
};
const steps = async () => (await document()).strands[0].steps.map((s) => s.id);

beforeAll(async () => {
  zaf = await startDemo(1, data);
  await until('the demo frame', async () => {
    const shot = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
    return shot.media[0].frames[0]?.state === 'ready';
  });
  const pattern = join(data, 'demo/orrery-hall/orrery_hall.####.exr');
  const body = JSON.stringify({ project: 'Orrery Hall', shot: 'Shot 020', media: [{ pattern }] });
  const { shot } = await json<{ shot: number }>(`${zaf.address}/api/shots`, { method: 'POST', body });
  finishId = (await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`)).finishes[0].id;
  first = (await json<SavedFinish>(`${zaf.address}/api/finishes/${finishId}`)).document;
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await settled();
});

afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

test('a step is added by keyboard, a strand too, and its light is linked by dragging', async () => {
  await keys(Key.INSERT);
  await typed('Search steps', 'halo');
  await waitFor('[data-step=bloom]');
  const before = await pixels();
  await run('document.activeElement?.blur()');
  await browser.driver.actions().keyDown(Key.SHIFT).sendKeys(Key.INSERT).keyUp(Key.SHIFT).perform();
  await typed('Search heads', 'emission');
  await waitFor('[aria-label="Strand emission"]');
  await drag(await find('[title^="Link from emission"]'), await find('[data-step=bloom]'));
  await until('the link', async () => (await document()).strands[0].steps[0].slots.light !== undefined);
  expect((await document()).strands[0].steps[0].slots.light).toEqual({ strand: 'strand', after: 'head' });
  await settled();
  expect((await pixels()).mean).not.toBe(before.mean);
});

test('a matte goes into where, read by its luminance', async () => {
  await (await find('[data-step=bloom]')).click();
  await waitFor('[data-slot=mask]');
  await choose('[data-slot=mask]', 'fill');
  await until('the matte', async () => (await document()).strands[0].steps[0].slots.mask?.as === 'luminance');
  expect((await document()).strands.map((s) => s.name)).toEqual(['Frame', 'emission', 'fill']);
});

test('a strand is split off, and a link that would run into itself is refused with the reason', async () => {
  // While one builds, the board has the middle: all of it is seen.
  await keys('g');
  await (await find('[aria-label="More for this step"]')).click();
  await (await button('Split here')).click();
  await waitFor('[aria-label="Strand Frame split"]');
  const before = await document();
  expect(before.strands.at(-1)!.head).toEqual({ type: 'tap', strand: 'main', after: 'bloom' });
  await drag(await find('[title^="Link from Frame split"]'), await find('[data-step=bloom]'));
  await until('the reason', async () => (await text('[data-sonner-toaster]')).includes('would feed itself'));
  expect(await document()).toEqual(before);
});

test('a step is moved by dragging it along its strand; advice says that the order is odd, and puts it right', async () => {
  await (await find('[data-step=bloom]')).click();
  await keys(Key.INSERT);
  await typed('Search steps', 'backing');
  await waitFor('[data-step=backing]');
  expect(await steps()).toEqual(['bloom', 'backing']);
  await drag(await find('[data-step=backing]'), await find('[aria-label="Add a step after Frame"]'));
  await until('the move', async () => (await steps())[0] === 'backing');
  expect(await steps()).toEqual(['backing', 'bloom']);
  await (await waitFor('[data-testid=advice]')).click();
  const finding = await waitFor('[data-advice="odd-order/bloom/backing"]');
  // The list fades in: its words can be read a moment later.
  await until('its words', async () => (await finding.getText()).includes('Bloom stands after Backing'));
  await (await finding.findElement(By.xpath(".//button[contains(., 'Move Bloom')]"))).click();
  await until('the order', async () => (await steps())[0] === 'bloom');
  await keys('g');
});

test('everything can still be undone by name after the page was loaded again', async () => {
  await saved();
  await browser.driver.navigate().refresh();
  await settled();
  const undo = await button('Undo: move Bloom');
  await undo.click();
  await until('the move undone', async () => (await steps())[0] === 'backing');
  await (await button('Redo: move Bloom')).click();
  await until('the move again', async () => (await steps())[0] === 'bloom');
});

test('a linked copy follows its original; a name and a note stay with a step', async () => {
  await (await find('[data-step=bloom]')).click();
  await (await find('[aria-label="More for this step"]')).click();
  await (await button('Linked copy')).click();
  await waitFor('[data-step=bloom-2]');
  await (await find('[data-step=bloom-2]')).click();
  const amount = await waitFor('[data-value=amount]');
  await amount.click();
  await amount.sendKeys(Key.chord(Key.CONTROL, 'a'), '1.25', Key.ENTER);
  await until('both', async () => (await document()).strands[0].steps[0].values.amount === 1.25);
  const name = await find('[aria-label="Name of the step"]');
  await name.click();
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Second halo', Key.ENTER);
  await (await find('[aria-label=Note]')).sendKeys('ask about this one', Key.TAB);
  await until('the note', async () => (await document()).strands[0].steps[1].note === 'ask about this one');
  expect((await document()).strands[0].steps[1]).toMatchObject({ follows: 'bloom', name: 'Second halo' });
});

test('two pictures are compared: a wipe that is dragged, side by side, the difference, a flip', async () => {
  await settled();
  const alone = await pixels();
  await keys('c');
  const line = await waitFor('[data-testid=wipe]');
  const halves = await until('the wipe', async () => {
    const now = await pixels();
    return now.mean !== alone.mean && now;
  });
  // Left of the line the finished picture; what changed lies to the right of it, where the input is.
  const quarter = (row: number[], q: number) =>
    row.slice(Math.floor((row.length * q) / 4), Math.floor((row.length * (q + 1)) / 4));
  expect(quarter(halves.row, 0)).toEqual(quarter(alone.row, 0));
  const { x } = await run<{ x: number }>(
    `return { x: Number(document.querySelector('[data-testid=wipe]').getAttribute('x1')) }`,
  );
  await browser.driver
    .actions()
    .move({ origin: line, y: 120 })
    .press()
    .move({ origin: Origin.POINTER, x: -150, duration: 120 })
    .release()
    .perform();
  await until('the line moved', async () => Number(await attribute('[data-testid=wipe]', 'x1')) < x - 100);
  await keys('x');
  await until('the other alone', async () => (await pixels()).mean !== halves.mean);
  await keys('x');
  const mode = await find('[aria-label="Comparison"]');
  await mode.sendKeys('Difference');
  await until('the difference', async () => (await pixels()).mean < Math.min(alone.mean, halves.mean));
  await keys('c');
  await until('one picture', async () => (await pixels()).mean === alone.mean);
  await settled();
});

test('a click tells the journey of a pixel through every step', async () => {
  const canvas = await find('[data-testid=viewer]');
  await browser.driver.actions().move({ origin: canvas }).click().perform();
  await waitFor('[data-stop=bloom]');
  const stops = await run<string[]>(
    `return [...document.querySelectorAll('[data-stop]')].map((r) => r.dataset.stop)`,
  );
  expect(stops).toEqual(['main-head', 'strand-head', 'strand-2-head', 'bloom', 'bloom-2', 'backing']);
  await (await button('Close the journey')).click();
});

test('undo of everything gives the first document back', async () => {
  for (let i = 0; i < 60; i++) {
    const disabled = await run<boolean>(
      `const b = document.querySelector('[aria-label^="Undo"], [aria-label="Nothing to undo"]'); if (!b.disabled) b.click(); return b.disabled`,
    );
    if (disabled) break;
  }
  await saved();
  await until(
    'the first document',
    async () => JSON.stringify(await document()) === JSON.stringify(first),
    20,
  );
});

test('every version is kept by name: one is named, compared with, and taken back', async () => {
  await (await button('History')).click();
  const entries = await until('the versions', async () => {
    const found = await run<{ version: string; label: string }[]>(
      `return [...document.querySelectorAll('[data-version]')].map((e) => ({ version: e.dataset.version, label: e.textContent }))`,
    );
    return found.length > 10 && found;
  });
  const linked = entries.find((e) => e.label.includes('Make a linked copy of Bloom'))!;
  const name = await find(`[aria-label="Name of version ${linked.version}"]`);
  await name.sendKeys('With two halos', Key.ENTER);
  await (await button(`Restore version ${linked.version}`)).click();
  await until('taken back', async () => (await steps()).includes('bloom-2'));
  await (await button(`Compare with version ${linked.version}`)).click();
  const comparedWith = () => find('[aria-label="Compare with"]').getAttribute('value');
  await waitFor('[aria-label="Compare with"]');
  await until('compared', async () => (await comparedWith()) === `version:${linked.version}`);
  expect(await comparedWith()).toBe(`version:${linked.version}`);
});

test('the name of the object under the cursor is shown, and the matte of a step tints the picture', async () => {
  // The history lies over the shot and keeps its keys to itself.
  await (await find('[data-holds-keys] [aria-label="Close"]')).click();
  await keys('c');
  const canvas = await find('[data-testid=viewer]');
  await browser.driver.actions().move({ origin: canvas, y: 168 }).perform();
  await until('the object', async () => (await text('[data-testid=object]')) === 'pedestal');
  await (await find('[data-step=bloom]')).click();
  await settled();
  const plain = await pixels();
  await (await find('[aria-label="View options"]')).click();
  const shown = '[aria-label="Matte display"]';
  await choose(shown, 'As a tint');
  await until('the tint', async () => (await pixels()).mean !== plain.mean);
  await choose(shown, 'Not shown');
  await until('the plain picture', async () => (await pixels()).mean === plain.mean);
});

test('what is pinned stays to compare with, as it was', async () => {
  await keys(Key.ESCAPE, 'c');
  await (await button('Pin the shown picture')).click();
  expect(await attribute('[aria-label="Compare with"] option[value=still]', 'value')).toBe('still');
  const mode = await find('[aria-label="Comparison"]');
  await mode.sendKeys('Difference');
  await until('no difference', async () => (await pixels()).mean < 25);
  const same = await pixels();
  await (await find('[data-step=bloom]')).click();
  await keys('y');
  await until('a difference', async () => (await pixels()).mean > same.mean);
});
