import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { dump } from '../reference/oiio';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until, zafiro } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage, saveOf } from './page';

/** The real interface in headless Chromium, on two frames of the demo, nothing imported by hand. */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();
const download = join(data, 'downloaded.exr');

const { attribute, button, find, pixels, run, saved, settled, undo, waitFor } = onPage(() => browser);

beforeAll(async () => {
  zaf = await startDemo(2, data);
  browser = await openBrowser();
});

afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

const saveState = () => attribute('[data-save]', 'data-save');
const value = (id: string) => find(`[data-value=${id}]`);
async function type(id: string, text: string) {
  const field = await value(id);
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
}

test('the projects show a poster of the demo shot, which opens', async () => {
  await browser.driver.get(zaf.address);
  await waitFor('a[href^="/shots/1?"] img');
  expect(await find('main').getText()).toContain('Orrery Hall');
  await (await find('a[href^="/shots/1?"]')).click();
  await waitFor('[data-testid=viewer]');
  await settled();
  expect((await pixels()).mean).toBeGreaterThan(10);
  expect(await run('return crossOriginIsolated')).toBe(true);
});

test('threshold and amount change the picture, are saved, and are there after a reload', async () => {
  const before = await pixels();
  await type('threshold', '0.9');
  await type('amount', '1.7');
  await saved();
  await settled();
  const after = await pixels();
  expect(after.mean).toBeGreaterThan(before.mean + 2);

  await browser.driver.navigate().refresh();
  await waitFor('[data-value=threshold]');
  expect(await (await value('threshold')).getAttribute('value')).toBe('0.90');
  expect(await (await value('amount')).getAttribute('value')).toBe('1.70');
  await settled();
  expect((await pixels()).row).toEqual(after.row);
});

test('undo and redo go by name, change the picture back, and are saved too', async () => {
  const lit = await pixels();
  await type('amount', '0');
  await settled();
  const off = await pixels();
  expect(off.mean).toBeLessThan(lit.mean);
  await (await button('Undo: set Amount of Bloom')).click();
  await settled();
  expect((await pixels()).row).toEqual(lit.row);
  await (await button('Redo: set Amount of Bloom')).click();
  await settled();
  expect((await pixels()).row).toEqual(off.row);
  await (await button('Undo: set Amount of Bloom')).click();
  await saved();
});

test('with and without flips by key; channels and exposure change only the looking', async () => {
  await settled();
  const lit = await pixels();
  const body = await find('body');
  await run('document.activeElement.blur()');
  await body.sendKeys('w');
  await until('the picture without', async () => (await pixels()).mean < lit.mean);
  await body.sendKeys('w');
  await until('the picture with', async () => (await pixels()).mean === lit.mean);
  await (await button('Luminance')).click();
  await settled();
  const { row } = await pixels();
  expect(row.every((v, i) => i % 4 === 3 || v === row[i - (i % 4)])).toBe(true);
  await (await button('Colour')).click();
  await settled();
  expect((await pixels()).row).toEqual(lit.row);
  expect(await saveState()).toBe('saved');
});

test('values under the cursor are the linear ones of the file', async () => {
  await run('document.activeElement.blur()');
  await find('body').sendKeys('w');
  await settled();
  const canvas = await find('[data-testid=viewer]');
  await browser.driver.actions().move({ origin: canvas, x: 40, y: 60 }).perform();
  const truth = dump(join(data, 'demo/orrery-hall/orrery_hall.0001.exr'));
  const { halvesToFloats } = await import('../../core/formats/half');
  // The picture with all steps stands there until the one without is computed.
  await until('the value of the file', async () => {
    const text = await (await waitFor('[data-testid=readout]')).getText();
    const [, x, y, r] = /(\d+), (\d+)\s+R ([\d.]+)/.exec(text)!.map(Number);
    const half = truth.samples.get('R')![y * truth.width + x];
    return Math.abs(r - halvesToFloats(Uint16Array.of(half))[0]) < 5e-5;
  });
  await find('body').sendKeys('w');
});

test('a step is added, bypassed and removed; the light slot makes a strand on the board', async () => {
  await (await button('Add a step after Bloom')).click();
  await (await waitFor('input[aria-label="Search steps"]')).sendKeys('halo', Key.ENTER);
  await waitFor('[data-step="bloom-2"]');
  const slot = await waitFor('[data-slot=light]');
  await slot.sendKeys('emission');
  await until(
    'a strand for the pass',
    async () => (await browser.driver.findElements(By.css('[aria-label="Pass of emission"]'))).length === 1,
  );
  await (await find('[aria-label=Bypass]')).click();
  expect(await find('[data-step="bloom-2"]').getText()).toContain('bypassed');
  await (await button('Remove')).click();
  await until(
    'the step to go',
    async () => (await browser.driver.findElements(By.css('[data-step="bloom-2"]'))).length === 0,
  );
  expect(await browser.driver.findElements(By.css('[aria-label="Pass of emission"]'))).toHaveLength(0);
  await (await find('[data-step="bloom"]')).click();
  await saved();
});

test('dragging the threshold on the histogram is one edit', async () => {
  const histogram = await waitFor('[data-testid=histogram]');
  const was = await (await value('threshold')).getAttribute('value');
  await browser.driver
    .actions()
    .move({ origin: histogram, x: 30, y: 0 })
    .press()
    .move({ origin: histogram, x: 50, y: 0 })
    .move({ origin: histogram, x: 70, y: 0 })
    .release()
    .perform();
  const now = await (await value('threshold')).getAttribute('value');
  expect(Number(now)).toBeGreaterThan(Number(was));
  await saved();
  await (await button('Undo: set Threshold of Bloom')).click();
  expect(await (await value('threshold')).getAttribute('value')).toBe(was);
  await saved();
});

test('two frames are exported with progress, and equal what ./zafiro run writes, bit for bit', async () => {
  await until(
    'both frames',
    async () => (await json<ShotDetail>(`${zaf.address}/api/shots/1`)).media[0].frames.length === 2,
  );
  await (await button('Export…')).click();
  await (await button('Start export')).click();
  const entry = await waitFor('[data-export]');
  await until('the export', async () => (await entry.getAttribute('data-over')) === 'true');
  expect(await entry.getAttribute('data-done')).toBe('2');
  const href = await find('[data-export] a').getAttribute('href');
  const zip = await run<number>(
    `return fetch(${JSON.stringify(href)}).then(r => r.arrayBuffer()).then(b => new Uint8Array(b)[0])`,
  );
  expect(zip).toBe('P'.charCodeAt(0));
  writeFileSync(download, new Uint8Array(await (await fetch(`${href}?frame=1`)).arrayBuffer()));

  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
  const { document } = await json<SavedFinish>(`${zaf.address}/api/finishes/${finishes[0].id}`);
  expect(document.strands[0].steps[0].values).toMatchObject({ threshold: 0.9, amount: 1.7 });
  const finishFile = join(data, 'finish.json');
  writeFileSync(finishFile, JSON.stringify(document));
  const media = `orrery_hall=${join(data, 'demo/orrery-hall/orrery_hall.####.exr')}`;
  const out = join(data, 'run.####.exr');
  expect(await zafiro(['run', finishFile, '--media', media, '--frames', '1', '--out', out])).toMatchObject({
    code: 0,
  });
  const [a, b] = [dump(download), dump(join(data, 'run.0001.exr'))];
  expect([...a.samples.keys()].sort()).toEqual(['A', 'B', 'G', 'R']);
  for (const [name, samples] of a.samples) {
    expect(Buffer.from(samples.buffer).equals(Buffer.from(b.samples.get(name)!.buffer))).toBe(true);
  }
  expect(readFileSync(download).equals(readFileSync(join(data, 'run.0001.exr')))).toBe(true);
});

test('a save from elsewhere meanwhile is said, and both can be had', async () => {
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
  const address = `${zaf.address}/api/finishes/${finishes[0].id}`;
  const theirs = await json<SavedFinish>(address);
  const other = structuredClone(theirs.document);
  other.strands[0].steps[0].values.radius = 33;
  await (await find('aside[aria-label=Exports] button[aria-label=Close]')).click();
  // This page's save is on its way while the other is made.
  await run(
    `window.realFetch = window.fetch; window.held = new Promise((go) => { window.go = go; });
     window.fetch = async (a, b) => { if (b && b.method === 'PUT') await window.held; return window.realFetch(a, b); }`,
  );
  await type('amount', '1.1');
  await until('saving', async () => (await saveState()) === 'saving');
  await json(address, { method: 'PUT', body: saveOf(theirs.version, other) });
  await run('window.go(); window.fetch = window.realFetch');
  await (await button('Take the other')).click();
  await saved();
  expect(await (await value('radius')).getAttribute('value')).toBe('33.0');
  expect(await (await value('amount')).getAttribute('value')).toBe('1.70');
});

test('what is saved elsewhere while nothing waits here is shown at once, and can be undone', async () => {
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
  const address = `${zaf.address}/api/finishes/${finishes[0].id}`;
  const before = await json<SavedFinish>(address);
  const other = structuredClone(before.document);
  other.strands[0].steps[0].values.radius = 77;
  await json(address, { method: 'PUT', body: saveOf(before.version, other) });
  await until(
    'the other radius',
    async () => (await (await value('radius')).getAttribute('value')) === '77.0',
  );
  await saved();
  await undo();
  await until(
    'the radius before',
    async () => (await (await value('radius')).getAttribute('value')) === '33.0',
  );
  await saved();
});

test('while the server is gone it says not saved, and saves once it is back', async () => {
  await run(
    `window.realFetch = window.fetch; window.fetch = (a, b) => b && b.method === 'PUT' ? Promise.reject(new TypeError('gone')) : window.realFetch(a, b)`,
  );
  await type('amount', '0.6');
  await until('not saved', async () => (await saveState()) === 'failed');
  await run('window.fetch = window.realFetch');
  await saved();
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
  const { document } = await json<SavedFinish>(`${zaf.address}/api/finishes/${finishes[0].id}`);
  expect(document.strands[0].steps[0].values.amount).toBe(0.6);
});

test('a frame that has not arrived is said to be on its way, and bad paths are answered', async () => {
  await browser.driver.get(zaf.address);
  await (await waitFor('a[href="/import"]')).click();
  const path = await waitFor('input[name=path]');
  await until('the first folder', async () => (await path.getAttribute('value')) !== '');
  await path.clear();
  await path.sendKeys('/nowhere', Key.ENTER);
  const alert = await waitFor('section[aria-label=Folders] [role=alert]');
  expect(await alert.getText()).toContain('/nowhere lies outside the folders that Zafiro may read');
});
