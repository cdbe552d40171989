import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import { addStep, newFinish } from '../../core/finish/edits';
import { readCdl, writeCdl } from '../../core/formats/cdl';
import { readCube, writeCube } from '../../core/formats/cube';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, writeFrame } from './small-shot';

/** The last steps of a finish by hand: a curve that lifts highlights, a grade from a file, a table, and what is written of them. */
let zaf: Instance;
let browser: Browser;
let address: string;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const { button, find, run, saved, settled, text, undo, waitFor } = onPage(() => browser);

/** An amber light of 5, 2, 0.5 in the middle of a dull picture. */
const amber = [5, 2, 0.5] as const;

beforeAll(async () => {
  const folder = join(frames, 'hall');
  mkdirSync(folder, { recursive: true });
  writeFrame(join(folder, 'hall.0001.exr'), (x, y) =>
    x > 140 && x < 180 && y > 70 && y < 110 ? amber : [0.2, 0.18, 0.16],
  );
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [join(folder, 'hall.####.exr')]);
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  for (const [i, type] of ['grade', 'curves', 'lookup-table', 'grain'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  doc = {
    ...doc,
    strands: doc.strands.map((s) => ({
      ...s,
      steps: s.steps.map((t) => (t.type === 'grain' ? { ...t, bypass: true } : t)),
    })),
  };
  address = await giveFinish(zaf.address, shot, doc);
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

const step = async (id: string) =>
  (await json<SavedFinish>(address)).document.strands[0].steps.find((s) => s.id === id)!;
/** What the pointer reads in the middle of the light. */
async function reading(): Promise<number[]> {
  await browser.driver
    .actions()
    .move({ origin: await find('[data-testid=viewer]') })
    .perform();
  let values: number[] = [];
  await until('the numbers under the pointer', async () => {
    values = ((await text('[data-testid=readout]')).match(/-?\d+(\.\d+)?/g) ?? []).map(Number);
    return values.length >= 5;
  });
  return values;
}
async function type(field: WebElement, words: string) {
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
}

test('a curve of luminance lifts the light and keeps its hue; by mouse, by keyboard, typed, and after a reload', async () => {
  await (await find('[data-step=curves]')).click();
  const svg = await waitFor('[data-testid=curves]');
  await run(`arguments[0].scrollIntoView({ block: 'center' })`, svg);
  const { width, height } = await svg.getRect();
  // The places of stops in the drawing, from its middle.
  const at = (from: number, to: number) => ({
    x: Math.round(((20 + ((from + 8) / 16) * 232) / 260 - 0.5) * width),
    y: Math.round(((184 - ((to + 8) / 16) * 176) / 200 - 0.5) * height),
  });
  for (const [from, to] of [
    [-3, -3],
    [0, 0],
  ] as const)
    await browser.driver
      .actions()
      .move({ origin: svg, ...at(from, to) })
      .click()
      .perform();
  // One that is dragged up: three stops above mid-grey become four.
  await browser.driver
    .actions()
    .move({ origin: svg, ...at(3, 3) })
    .press()
    .move({ origin: svg, ...at(3, 3.6) })
    .move({ origin: svg, ...at(3, 4) })
    .release()
    .perform();
  await saved();
  const rows = async () => (await step('curves')).values.luminance as number[][];
  // Beside them the ends, which stay where they are.
  expect(await rows()).toHaveLength(5);
  await until('dragged up', async () => Math.abs((await rows())[3][1] - 4) < 0.5);
  // Typed to the hundredth, and moved by a key.
  await type(await find('[aria-label="From of the chosen point"]'), '3');
  await type(await find('[aria-label="To of the chosen point"]'), '3.9');
  await until('typed', async () => JSON.stringify((await rows())[3]) === '[3,3.9]');
  await (await find('[aria-label="Point at 3 stops: 3.9"]')).sendKeys(Key.ARROW_UP);
  await until('moved', async () => JSON.stringify((await rows())[3]) === '[3,4]');
  await settled();
  const [, , r, g, b] = await reading();
  expect(r).toBeGreaterThan(amber[0] * 1.5);
  expect(Math.abs(g / r - amber[1] / amber[0])).toBeLessThan(0.01);
  expect(Math.abs(b / r - amber[2] / amber[0])).toBeLessThan(0.01);
  await browser.driver.navigate().refresh();
  await settled();
  const again = await reading();
  expect(again[2]).toBeCloseTo(r, 2);
  await (await find('[data-step=curves]')).click();
  await (await find('[aria-label="Point at 3 stops: 4"]')).sendKeys(Key.DELETE);
  await until('removed', async () => (await rows()).length === 4);
  await undo();
  await until('back', async () => (await rows()).length === 5);
});

test('a grade is read from a decision list with several, and written as one', async () => {
  const file = join(frames, 'day.ccc');
  const base = { offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 } as const;
  writeFileSync(
    file,
    writeCdl('ccc', [
      { ...base, id: 'dusk', slope: [0.8, 0.9, 1.1] },
      { ...base, id: 'noon', slope: [1.25, 1, 0.9], offset: [0.01, 0, -0.01], saturation: 1.1 },
    ]),
  );
  await (await find('[data-step=grade]')).click();
  await (await waitFor('[aria-label="Colour decision list"]')).sendKeys(file);
  await (await button('noon')).click();
  await until('the grade', async () => (await step('grade')).values.slopeRed === 1.25);
  expect((await step('grade')).values).toMatchObject({ slopeBlue: 0.9, offsetBlue: -0.01, saturation: 1.1 });
  const list = await find('[aria-label="Save the grade as a colour decision list"]');
  await list.sendKeys('One', Key.ENTER);
  const folder = browser.downloads;
  await until('the file', async () => readdirSync(folder).some((f) => f.endsWith('.cc')), 15);
  const written = readCdl(readFileSync(join(folder, 'Grade.cc'), 'utf8'));
  expect(written).toMatchObject([{ id: 'Grade', slope: [1.25, 1, 0.9], saturation: 1.1 }]);
  // A file that is none changes nothing and says why.
  const bad = join(frames, 'bad.cdl');
  writeFileSync(bad, '<ColorCorrection id="x"><Slope>1 2</Slope></ColorCorrection>');
  await (await find('[aria-label="Colour decision list"]')).sendKeys(bad);
  await until('the reason', async () =>
    /bad\.cdl: Slope of x is “1 2”/.test(await run<string>('return document.body.textContent')),
  );
  expect((await step('grade')).values.slopeRed).toBe(1.25);
});

test('a table is opened and seen; the steps above it are written as one', async () => {
  const size = 5;
  const values: number[] = [];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++) for (let r = 0; r < size; r++) values.push(b / 4, g / 4, r / 4);
  const file = join(frames, 'swap.cube');
  writeFileSync(
    file,
    writeCube({
      title: 'Red for blue',
      dimensions: 3,
      size,
      low: [0, 0, 0],
      high: [1, 1, 1],
      values: Float32Array.from(values),
    }),
  );
  await (await find('[data-step=lookup-table]')).click();
  await (await waitFor('[aria-label="Cube file"]')).sendKeys(file);
  await until('its name', async () =>
    /Red for blue · 5 a side/.test(await text('[aria-label="Lookup table"]')),
  );
  await settled();
  const [, , r, , b] = await reading();
  // Held to white, red and blue have changed places.
  expect(b).toBeGreaterThan(r);
  await (await find('[data-step=curves]')).click();
  await (await find('[aria-label="More for this step"]')).click();
  await (await button('Save as .cube, stops')).click();
  await until('the table', async () => readdirSync(browser.downloads).some((f) => f.endsWith('.cube')), 20);
  const name = readdirSync(browser.downloads).find((f) => f.endsWith('.cube'))!;
  const cube = readCube(readFileSync(join(browser.downloads, name), 'utf8'));
  expect([cube.title, cube.size]).toEqual(['Grade, Curves', 33]);
});

test('grain is enabled over all; a smear is added where one wants it, and advice says where it usually stands', async () => {
  await (await find('[data-step=grain]')).click();
  await (await find('[aria-label="Enable"]')).click();
  await saved();
  await run(`document.activeElement.blur()`);
  await browser.driver.findElement(By.css('body')).sendKeys(Key.INSERT);
  const field = await waitFor('[aria-label="Search steps"]');
  await field.sendKeys('motion smear', Key.ENTER);
  await saved();
  const { steps } = (await json<SavedFinish>(address)).document.strands[0];
  expect(steps.map((s) => s.type)).toContain('motion-smear');
  await settled();
  if (steps.at(-1)!.type === 'motion-smear')
    await until('the advice', async () =>
      /Motion smear stands after Grain/.test(await run<string>('return document.body.textContent')),
    );
});
