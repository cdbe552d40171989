import { mkdirSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish, Step } from '../../core/finish/finish';
import { setValues } from '../../core/finish/value-edits';
import { setFrontDefault } from '../../core/recipes/front-edits';
import { openRecipe, recipeOf } from '../../core/recipes/recipe';
import { addRecipe } from '../../core/recipes/use';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { dull, giveFinish, importShot, saveFrames } from './small-shot';

/** Many shots at once by hand: a recipe on chosen ones, its next version seen before it is taken, a finish for another shot, the sheet as a picture. */
let zaf: Instance;
let browser: Browser;
let shots: number[];
let addresses: string[];
const data = temporaryFolder();
const frames = temporaryFolder();
const { attribute, button, choose, find, run, text, waitFor } = onPage(() => browser);

const bare = (): Finish => {
  const doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  return addStep('main', 0, 'vignette', 'vignette').apply(doc);
};

beforeAll(async () => {
  const folder = join(frames, 'hall');
  mkdirSync(folder, { recursive: true });
  saveFrames(folder, [dull, (x, y) => dull(x, y).map((v) => v / 2) as unknown as [number, number, number]]);
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shots = [];
  for (const name of ['one', 'two', 'three'])
    shots.push(await importShot(zaf.address, name, [join(folder, 'hall.####.exr')]));
  addresses = [];
  for (const shot of shots) addresses.push(await giveFinish(zaf.address, shot, bare()));
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/sheet`);
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const documentOf = async (i: number) => (await json<SavedFinish>(addresses[i])).document;
const recipeIn = (doc: Finish): Step | undefined => doc.strands[0].steps.find((s) => s.type === 'recipe');
const ready = (count: number) =>
  until(
    'the pictures',
    async () =>
      (await run<number>(
        `return document.querySelectorAll('[aria-label=Shots] [data-ready=true]').length`,
      )) === count,
  );
/** Mean of the first picture of a shot's tile. */
const brightness = (shot: number) =>
  run<number>(
    `const canvas = document.querySelector('[data-shot="' + arguments[0] + '"] canvas:not(.hidden)');
     // Nothing to be compared with.
     if (!canvas) return NaN;
     const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
     let sum = 0;
     for (let i = 0; i < data.length; i += 4) sum += data[i] + data[i + 1] + data[i + 2];
     return sum / (data.length * 0.75);`,
    shot,
  );
const chooseShot = async (name: string) => (await waitFor(`[aria-label="Choose ${name}"]`)).click();

test('all shots are there with their finished pictures, on the same moment', async () => {
  await ready(3);
  const first = await brightness(shots[0]);
  await choose('[aria-label="Which frame"]', 'Same frame');
  const frame = await waitFor('[aria-label=Frame]');
  await run(`arguments[0].focus()`, frame);
  await frame.sendKeys('\uE013');
  await until('frame 2', async () => (await text(`[data-shot="${shots[0]}"]`)).includes('frame 2'));
  await until('its picture', async () => (await brightness(shots[0])) < first - 5);
  await frame.sendKeys('\uE015');
  await until('frame 1', async () => (await text(`[data-shot="${shots[0]}"]`)).includes('frame 1'));
});

test('a recipe is seen on the chosen shots before it is accepted, before what the lens does; then each has it', async () => {
  await ready(3);
  const before = await brightness(shots[0]);
  await chooseShot('one');
  await chooseShot('two');
  await choose('[aria-label="Add a recipe"]', 'Soft night');
  await until('the change', async () => (await text('main')).includes('2 shots change'));
  await until('its picture', async () => (await brightness(shots[0])) < before - 5);
  expect(await attribute(`[data-shot="${shots[2]}"]`, 'data-changed')).toBe('false');
  // The shot has no pass of its lamps.
  expect(await text(`[data-shot="${shots[0]}"]`)).toContain('It needs an emission pass for Lamps');
  expect(recipeIn(await documentOf(0))).toBeUndefined();
  await (await button('As they are')).click();
  await until('as it was', async () => Math.abs((await brightness(shots[0])) - before) < 0.01);
  await (await button('Both')).click();
  await ready(5);
  await (await button('Accept')).click();
  await until('both have it', async () => !!recipeIn(await documentOf(0)) && !!recipeIn(await documentOf(1)));
  const doc = await documentOf(0);
  expect(doc.strands[0].steps.at(-1)!.type).toBe('vignette');
  expect(recipeIn(doc)!.recipe).toEqual({ id: 'soft-night', version: 1, linked: true });
  expect(recipeIn(await documentOf(2))).toBeUndefined();
});

test('the next version of a recipe is offered for all shots that follow it, seen first, and keeps what is their own', async () => {
  // One shot has a value of its own; somebody saves another version.
  const own = await documentOf(1);
  await giveFinish(zaf.address, shots[1], setValues(own, recipeIn(own)!.id, { grain: 0.2 }).apply(own));
  const { recipe } = openRecipe(await json(`${zaf.address}/api/recipes/soft-night/versions/1`), true);
  const used = addRecipe(bare(), recipe, { strand: 'main', index: 0 }, { linked: true });
  let doc = used.edit.apply(bare());
  doc = setValues(doc, used.id, { exposure: -3.5 }).apply(doc);
  doc = setFrontDefault(doc, used.id, 'exposure').apply(doc);
  const { id, name, description, tags, licence } = recipe;
  const next = recipeOf(doc, used.id, { id, edition: 2, name, description, tags, licence });
  await json(`${zaf.address}/api/recipes`, {
    method: 'POST',
    body: JSON.stringify({ recipe: next, note: 'Darker', after: 1 }),
  });
  await browser.driver.navigate().refresh();
  await ready(3);
  const before = await brightness(shots[0]);
  expect(await text(`[data-shot="${shots[1]}"]`)).toContain('Soft night: 1 own value');
  await (await button('Soft night: version 2 for 2 shots')).click();
  await until('its picture', async () => (await brightness(shots[0])) < before - 5);
  expect(recipeIn(await documentOf(0))!.recipe!.version).toBe(1);
  await (await button('Accept')).click();
  await until(
    'both have it',
    async () =>
      recipeIn(await documentOf(1))!.recipe!.version === 2 &&
      recipeIn(await documentOf(0))!.recipe!.version === 2,
  );
  expect(recipeIn(await documentOf(1))!.values).toMatchObject({ grain: 0.2, exposure: -3.5 });
  await (await button('Take back')).click();
  await until('the value of the recipe', async () => recipeIn(await documentOf(1))!.values.grain === 0.05);
});

test('a finish of one shot becomes one more of another; two are compared, and the sheet is saved as a picture', async () => {
  await chooseShot('one');
  await chooseShot('three');
  await (await button('Side by side')).click();
  await until(
    'two large pictures',
    async () =>
      (await run<number>(`return document.querySelectorAll('dialog [data-ready=true]').length`)) === 2,
  );
  await run(`document.querySelector('dialog').close()`);
  await (await button('The finish of one for the others')).click();
  await until('the change', async () => (await text('main')).includes('one shot changes'));
  await (await button('Accept')).click();
  await until(
    'another finish',
    async () => (await json<ShotDetail>(`${zaf.address}/api/shots/${shots[2]}`)).finishes.length === 2,
  );
  expect(recipeIn(await documentOf(2))).toBeUndefined();
  await until(
    'it is shown',
    async () =>
      (await run<string>(
        `return document.querySelector('[data-shot="${shots[2]}"] select')?.selectedOptions[0].textContent`,
      )) === 'First finish 2',
  );
  await ready(3);
  await (await button('Save as a picture')).click();
  let file = '';
  await until('the picture', async () => {
    const [name] = readdirSync(browser.downloads).filter((n) => n.endsWith('-sheet.png'));
    file = name ? join(browser.downloads, name) : '';
    return file !== '' && statSync(file).size > 0;
  });
  const { width, height } = await sharp(file).metadata();
  expect([width, height]).toEqual([2 * 40 + 2 * 640 + 24, 2 * 40 + 40 + 2 * (360 + 44) + 24]);
  expect(await find('[aria-label="Which frame"]')).toBeDefined();
});
