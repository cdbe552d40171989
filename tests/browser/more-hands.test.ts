import { join } from 'node:path';
import { By, Key, Origin } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep, addStrand, newFinish } from '../../core/finish/edits';
import type { StackHead } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import {
  type Instance,
  json,
  remove,
  startInstance,
  temporaryFolder,
  until as untilWithin,
} from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, writeFrames } from './small-shot';

/** Hands at places that other tests pass by: the board's edge under a drag, arrows in a palette, another finish in the viewer, frames as a stack. */
let zaf: Instance;
let browser: Browser;
let shot: number;
let address: string;
const data = temporaryFolder();
const frames = temporaryFolder();
const { button, choose, find, pixels, press, run, settled, text, waitFor } = onPage(() => browser);
const until = <T>(what: string, ask: () => Promise<T | undefined | false>) => untilWithin(what, ask, 20);

const wide = () => {
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  for (let i = 0; i < 3; i++) doc = addStep('main', i, 'bloom', `bloom-${i}`).apply(doc);
  for (let i = 0; i < 8; i++)
    doc = addStrand(doc, { type: 'pass', media: 'hall', pass: 'depth' }, 'data', `Depth ${i}`).apply(doc);
  return doc;
};

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  address = await giveFinish(zaf.address, shot, wide());
  browser = await openBrowser();
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});
const open = async () => {
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await settled();
};
const document = async () => (await json<SavedFinish>(address)).document;

test('a step that is carried to the edge of the board moves the board, and is let go there', async () => {
  await open();
  const place = () =>
    run<number>(`return document.querySelector('[data-testid=board] > div').getBoundingClientRect().left`);
  const before = await place();
  const card = await find('[data-step="bloom-1"]');
  const right = await run<number>(
    `return Math.round(document.querySelector('[data-testid=board]').getBoundingClientRect().right)`,
  );
  const at = await card.getRect();
  await browser.driver
    .actions({ async: true })
    .move({ origin: card })
    .press()
    .move({ origin: Origin.POINTER, x: 20, duration: 50 })
    .move({ x: right - 6, y: Math.round(at.y + at.height / 2), duration: 100 })
    .perform();
  await until('the board goes along', async () => (await place()) < before - 200);
  await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
  await browser.driver.actions().clear();
  const stopped = await place();
  await browser.driver.sleep(300);
  expect(Math.abs((await place()) - stopped)).toBeLessThan(2);
  expect((await document()).strands[0].steps.map((s) => s.id)).toEqual(['bloom-0', 'bloom-1', 'bloom-2']);
});

test('arrows choose in the palette of strands, and Enter adds what is chosen', async () => {
  await open();
  await browser.driver.actions().keyDown(Key.SHIFT).sendKeys('a').keyUp(Key.SHIFT).perform();
  await waitFor('[aria-label="Search heads"]');
  await browser.driver
    .actions()
    .sendKeys(Key.ARROW_DOWN, Key.ARROW_DOWN, Key.ARROW_UP, Key.ARROW_DOWN)
    .perform();
  const names = () =>
    run<string[]>(
      `return [...document.querySelectorAll('[aria-label=Heads] button .font-medium')].map((e) => e.textContent)`,
    );
  const [, , third] = await names();
  expect(await text('[aria-label=Heads] [data-chosen=true] .font-medium')).toBe(third);
  const count = (await document()).strands.length;
  await browser.driver.actions().sendKeys(Key.ENTER).perform();
  await until('the strand', async () => (await document()).strands.length === count + 1);
});

test('another finish of the shot is compared with, chosen in the viewer', async () => {
  let other = newFinish('finish', 'Bright', { type: 'pass', media: 'hall', pass: '' });
  other = addStep('main', 0, 'gain', 'gain').apply(other);
  other = setValue(other, 'gain', 'stops', 3, 1).apply(other);
  await json(`${zaf.address}/api/shots/${shot}/finishes`, {
    method: 'POST',
    body: JSON.stringify({ document: other, label: 'begin' }),
  });
  await open();
  const before = (await pixels()).mean;
  await press('c');
  await waitFor('select[aria-label="Compare with"]');
  await choose('select[aria-label="Compare with"]', 'Bright');
  // Half of the picture is the other's, three stops up.
  await until('its half', async () => (await pixels()).mean > before * 1.2);
  await press('c');
});

test('more frames come into a shot as the layers of one stack', async () => {
  for (const name of ['moth', 'comet']) writeFrames(join(frames, 'layers'), name, [1, 2]);
  await browser.driver.get(`${zaf.address}/import?shot=${shot}`);
  const folder = await waitFor('[aria-label="Folder’s path"]');
  await folder.sendKeys(Key.chord(Key.CONTROL, 'a'), join(frames, 'layers'), Key.ENTER);
  await until(
    'both',
    async () => (await browser.driver.findElements(By.css('tbody input[type=checkbox]'))).length === 2,
  );
  for (const box of await browser.driver.findElements(By.css('tbody input[type=checkbox]')))
    if (!(await box.isSelected())) await box.click();
  await choose('select[name=stacked]', 'a stack');
  await (await button('Add to hall')).click();
  await settled();
  const head = await until(
    'the stack',
    async () =>
      (await document()).strands.find((s) => s.head.type === 'stack')?.head as StackHead | undefined,
  );
  expect(head.layers.map((l) => l.media).sort()).toEqual(['comet', 'moth']);
  const media = (await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`)).media.map((m) => m.name);
  expect(media).toEqual(expect.arrayContaining(['hall', 'moth', 'comet']));
});

test('a reference picture is enlarged, and gives its colour there too', async () => {
  await open();
  await run(`
    const canvas = document.createElement('canvas');
    canvas.width = 64; canvas.height = 36;
    const g = canvas.getContext('2d');
    g.fillStyle = 'rgb(40, 90, 200)'; g.fillRect(0, 0, 64, 36);
    canvas.toBlob((blob) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([blob], 'dusk.png', { type: 'image/png' }));
      for (const type of ['dragover', 'drop'])
        document.querySelector('#viewer').dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));
    });`);
  await waitFor('[data-reference] img');
  const width = () =>
    run<number>(`return document.querySelector('[data-reference]').getBoundingClientRect().width`);
  const before = await width();
  await (await find('[aria-label="Show dusk.png large"]')).click();
  await until('larger', async () => (await width()) > before * 1.3);
  await press('/');
  await (await waitFor('input[aria-label="Search the board"]')).sendKeys('Bloom', Key.ENTER, Key.ESCAPE);
  await (await waitFor('[aria-label="Pick Tint on the picture"]')).click();
  await (await find('[data-reference] img')).click();
  // sRGB 40, 90, 200 in linear light (IEC 61966-2-1), within what WebP keeps.
  await until('the colour', async () => {
    const steps = (await document()).strands[0].steps;
    return steps.some((s) =>
      [0.0212, 0.1022, 0.5776].every((v, i) => Math.abs((s.values.tint as readonly number[])[i] - v) < 0.03),
    );
  });
});
