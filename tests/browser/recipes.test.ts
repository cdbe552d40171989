import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key, Origin, type WebElement } from 'selenium-webdriver';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import type { SavedFinish } from '../../api/finishes';
import type { RecipeSummary } from '../../api/recipes';
import type { ShotDetail } from '../../api/shots';
import { addStep, addStrand, linkSlot, newFinish } from '../../core/finish/edits';
import type { Finish, Step } from '../../core/finish/finish';
import { setValues } from '../../core/finish/value-edits';
import { openRecipe } from '../../core/recipes/recipe';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { dull, giveFinish, importShot, writeFrame } from './small-shot';

/** A recipe by hand: made of two steps, saved, used on another shot, changed, and taken there; and as a file. */
let zaf: Instance;
let browser: Browser;
let first: number;
let second: number;
let addresses: string[];
const data = temporaryFolder();
const frames = temporaryFolder();
const { attribute, button, find, pixels, press, run, saved, settled, text, undo, waitFor } = onPage(
  () => browser,
);

const bare = () => newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });

function lit(): Finish {
  let doc = bare();
  doc = addStrand(doc, { type: 'pass', media: 'hall', pass: 'depth' }, 'data', 'Depth').apply(doc);
  doc = addStep('strand', 0, 'depth-range', 'range').apply(doc);
  for (const [i, type] of ['gain', 'glow', 'grade'].entries())
    doc = addStep('main', i, type, type).apply(doc);
  doc = setValues(doc, 'gain', { stops: 0.5 }).apply(doc);
  doc = setValues(doc, 'glow', { threshold: 0.3, size: 12, amount: 1 }).apply(doc);
  doc = setValues(doc, 'grade', { saturation: 0.4 }).apply(doc);
  return linkSlot(doc, 'glow', 'mask', { strand: 'strand', after: 'end' }).apply(doc);
}

beforeAll(async () => {
  const folder = join(frames, 'hall');
  mkdirSync(folder, { recursive: true });
  for (const n of [1, 2]) writeFrame(join(folder, `hall.000${n}.exr`), dull);
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  first = await importShot(zaf.address, 'one', [join(folder, 'hall.####.exr')]);
  second = await importShot(zaf.address, 'two', [join(folder, 'hall.####.exr')]);
  addresses = [await giveFinish(zaf.address, first, lit()), await giveFinish(zaf.address, second, bare())];
  browser = await openBrowser();
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const documentOf = async (shot: 0 | 1) => (await json<SavedFinish>(addresses[shot])).document;
const useOf = (doc: Finish): Step => doc.strands[0].steps.find((s) => s.type === 'recipe')!;
const open = async (shot: number) => {
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await waitFor('[data-testid=viewer]');
  await settled();
};
const labelled = (label: string): Promise<WebElement> =>
  waitFor(`[aria-label="${label}"]`) as unknown as Promise<WebElement>;
const labelledInput = (key: string): Promise<WebElement> =>
  waitFor(`input[data-value="${key}"]`) as unknown as Promise<WebElement>;
async function type(field: WebElement, words: string, ...end: string[]) {
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, ...end);
}
const cards = () =>
  run<string[]>(
    `return [...document.querySelectorAll('[data-step]')].map((e) => e.getAttribute('data-step'))`,
  );
const library = () => json<RecipeSummary[]>(`${zaf.address}/api/recipes`);

test('chosen steps become one card, with what was ticked on its front; nothing is seen to change', async () => {
  await open(first);
  const before = await pixels();
  await (await find('[data-step=glow]')).click();
  await (await labelled('More for this step')).click();
  await (await button('Make a recipe')).click();
  const dialog = await labelled('Make a recipe');
  await dialog.findElement(By.xpath('.//label[contains(., "Name")]//input')).sendKeys('Soft evening glow');
  // From the glow to the grade below it.
  await dialog.findElement(By.xpath('.//fieldset[1]//label[contains(., "Grade")]')).click();
  await dialog
    .findElement(By.xpath('.//fieldset[2]//label[contains(., "Size of Glow") or contains(., "Size")]'))
    .click();
  await dialog.findElement(By.xpath('.//fieldset[2]//label[contains(., "Saturation")]')).click();
  await (await button('Make it')).click();
  await saved();
  await settled();
  const use = useOf(await documentOf(0));
  expect(use.name).toBe('Soft evening glow');
  expect(use.front?.map((f) => f.name)).toEqual(['Size', 'Saturation']);
  expect((await cards()).filter((c) => c !== use.id)).toEqual(['gain']);
  expect(await pixels()).toEqual(before);
  // The depth pass is outside, its key inside; the slot says what it wants.
  expect((await documentOf(0)).strands.find((s) => s.head.type === 'input')).toMatchObject({
    head: { pass: 'depth' },
    inside: use.id,
  });
});

test('the master amount fades all of it, and the front drives what is inside', async () => {
  const use = useOf(await documentOf(0)).id;
  const full = (await pixels()).row;
  const amount = await labelledInput('amount');
  await type(amount, '0', Key.ENTER);
  await saved();
  await settled();
  const none = (await pixels()).row;
  expect(none).not.toEqual(full);
  await undo();
  await saved();
  const size = await labelledInput('size');
  await type(size, '60', Key.ENTER);
  await until('the size', async () => useOf(await documentOf(0)).values.size === 60);
  expect((await documentOf(0)).strands[0].steps.find((s) => s.id === 'glow')!.values.size).toBe(12);
  expect(await text(`[data-step="${use}"]`)).toContain('1 own');
  await undo();
  await saved();
});

test('it unfolds in its place; what is inside is shown, and stays as it is until one edits inside', async () => {
  const use = useOf(await documentOf(0)).id;
  await (await labelled('Unfold Soft evening glow')).click();
  await until('the steps inside', async () => (await cards()).includes('glow'));
  await (await find('[data-step=glow]')).click();
  await until('the sheet of a step inside', async () =>
    (await text('aside[aria-label="Step sheet"]')).includes('Inside'),
  );
  expect(
    await run<boolean>(`return [...document.querySelectorAll('aside fieldset')].some((f) => f.disabled)`),
  ).toBe(true);
  // The driven value leads to the front.
  expect(await text('aside[aria-label="Step sheet"]')).toMatch(/Size/);
  await press('y');
  await until('a refusal', async () =>
    (await text('[data-sonner-toaster]')).includes('is inside Soft evening glow'),
  );
  expect((await documentOf(0)).strands[0].steps.find((s) => s.id === 'glow')!.bypass).toBe(false);
  await (await button('Edit inside')).click();
  await press('y');
  await saved();
  expect((await documentOf(0)).strands[0].steps.find((s) => s.id === 'glow')!.bypass).toBe(true);
  await undo();
  await saved();
  // A value of a step inside, put on the front by its pin.
  await (await labelled('Put Amount on the front')).click();
  await saved();
  expect(useOf(await documentOf(0)).front?.map((f) => f.id)).toEqual(['size', 'saturation', 'amount-2']);
  await (await find(`[data-step="${use}"]`)).click();
  await type(await labelled('Name of Amount'), 'Strength', Key.ENTER);
  await type(await labelled('Upper end of Strength'), '4', Key.ENTER);
  await saved();
  expect(useOf(await documentOf(0)).front?.at(-1)).toMatchObject({
    name: 'Strength',
    value: { soft: [0, 4] },
  });
  await (await button('Done')).click();
  // By keys: what is selected inside goes with its recipe.
  await (await find('[data-step=glow]')).click();
  await press('u');
  await until('one card', async () => !(await cards()).includes('glow'));
  expect(await attribute(`[data-step="${use}"]`, 'data-selected')).toBe('true');
  await press('e');
  await until('the inside, to be changed', async () => (await cards()).includes('glow'));
  expect(await text('aside[aria-label="Step sheet"]')).toContain('Done');
  await press('e');
});

test('saved to the library with words and a picture', async () => {
  await (await button('Save to the library')).click();
  const dialog = await labelled('Save to the library');
  await dialog.findElement(By.css('textarea')).sendKeys('Evening light, softly spread. Use it at dusk.');
  await dialog.findElement(By.xpath('.//label[contains(., "Tags")]//input')).sendKeys('light, evening');
  await dialog.findElement(By.xpath('.//button[contains(., "Save")]')).click();
  await until('the recipe', async () => (await library()).some((r) => r.name === 'Soft evening glow'));
  const recipe = (await library()).find((r) => r.name === 'Soft evening glow')!;
  expect(recipe).toMatchObject({
    id: 'soft-evening-glow',
    edition: 1,
    tags: ['light', 'evening'],
    picture: true,
  });
  await saved();
  expect(useOf(await documentOf(0)).recipe).toEqual({ id: 'soft-evening-glow', version: 1, linked: true });
  await until('its use', async () => (await library()).find((r) => r.id === recipe.id)!.uses === 1);
});

test('used on another shot by its name, linked to the depth that there is', async () => {
  await open(second);
  await press(Key.INSERT);
  const search = await labelled('Search steps');
  await search.sendKeys('soft evening', Key.ENTER);
  await until('the use', async () => {
    return useOf(await documentOf(1)) !== undefined;
  });
  const doc = await documentOf(1);
  const use = useOf(doc);
  expect(use).toMatchObject({ name: 'Soft evening glow', recipe: { version: 1, linked: true } });
  const slot = doc.strands.find((s) => s.inside === use.id && s.head.type === 'input')!;
  const from = slot.head.type === 'input' ? slot.head.from : undefined;
  expect(doc.strands.find((s) => s.id === from?.strand)!.head).toEqual({
    type: 'pass',
    media: 'hall',
    pass: 'depth',
  });
  await type(await labelledInput('size'), '33', Key.ENTER);
  await saved();
});

test('a change inside is the shot’s own, said, and becomes the next version; the other shot takes it and keeps its values', async () => {
  await open(first);
  const use = useOf(await documentOf(0)).id;
  await (await find(`[data-step="${use}"]`)).click();
  await (await button('Edit inside')).click();
  await (await find('[data-step=glow]')).click();
  await type(await labelledInput('threshold'), '0.1', Key.ENTER);
  await saved();
  await (await find(`[data-step="${use}"]`)).click();
  await until('the difference', async () =>
    (await text('section[aria-label=Recipe]')).includes('1 difference from version 1'),
  );
  await (await button('Update the recipe')).click();
  const dialog = await labelled('Update the recipe');
  await dialog
    .findElement(By.xpath('.//label[contains(., "What is new")]//input'))
    .sendKeys('Shines from darker parts');
  await dialog.findElement(By.xpath('.//button[contains(., "Save")]')).click();
  await until(
    'version 2',
    async () =>
      (await library())[0].edition === 2 ||
      (await library()).some((r) => r.id === 'soft-evening-glow' && r.edition === 2),
  );
  await saved();

  await open(second);
  const there = useOf(await documentOf(1)).id;
  await (await find(`[data-step="${there}"]`)).click();
  await until('the newer version', async () =>
    (await text('section[aria-label=Recipe]')).includes('Version 2 of Soft evening glow is there'),
  );
  const before = (await pixels()).mean;
  // Before and after, then as it is, then taken.
  await (await button('Before and after')).click();
  await settled();
  expect(await attribute('[aria-label="Compare"]', 'aria-pressed')).toBe('true');
  expect(useOf(await documentOf(1)).recipe?.version).toBe(1);
  await (await button('As it is')).click();
  await (await button('Take it')).click();
  await saved();
  await settled();
  const doc = await documentOf(1);
  expect(useOf(doc)).toMatchObject({ recipe: { version: 2, linked: true }, values: { size: 33 } });
  expect(doc.strands[0].steps.find((s) => s.type === 'glow')!.values.threshold).toBe(0.1);
  expect((await pixels()).mean).toBeGreaterThan(before);
  // What the shot has of its own is taken back.
  await (await labelled('Take back Size')).click();
  await saved();
  expect(useOf(await documentOf(1)).values.size).toBe(12);
});

test('the library shows, finds, exports, imports and deletes', async () => {
  await browser.driver.get(`${zaf.address}/recipes`);
  const search = await labelled('Search recipes');
  await search.sendKeys('dusk');
  await until(
    'one recipe',
    async () =>
      (await run<number>(`return document.querySelectorAll('[aria-label=Recipes] li').length`)) === 1,
  );
  await (await button('Soft evening glow')).click();
  await until('where it is used', async () =>
    /one, First finish.*version 2/.test(await text('ul[aria-label="Used in"]')),
  );
  expect(await text('ul[aria-label=Versions]')).toContain('Shines from darker parts');
  await (await labelled('Export as a file')).click();
  await until('the file', async () =>
    readdirSync(browser.downloads).includes('soft-evening-glow.zafiro-recipe.json'),
  );
  const path = join(browser.downloads, 'soft-evening-glow.zafiro-recipe.json');
  await until('all of it', async () => readFileSync(path, 'utf8').endsWith('}\n'));
  const { recipe } = openRecipe(JSON.parse(readFileSync(path, 'utf8')));
  expect(recipe).toMatchObject({ edition: 2, name: 'Soft evening glow' });

  await (await labelled('Delete the recipe …')).click();
  await (
    await (await labelled('Delete Soft evening glow')).findElement(By.xpath('.//button[text()="Delete"]'))
  ).click();
  await until('it is gone', async () => !(await library()).some((r) => r.id === 'soft-evening-glow'));

  const bad = join(frames, 'bad.zafiro-recipe.json');
  writeFileSync(bad, JSON.stringify({ format: 'zafiro-recipe', version: 99 }));
  await (await find('input[type=file]')).sendKeys(`${path}\n${bad}`);
  await until('it is back', async () =>
    (await library()).some((r) => r.id === 'soft-evening-glow' && r.edition === 2),
  );
  await until('the other is refused', async () =>
    (await text('[data-sonner-toaster]')).includes('bad.zafiro-recipe.json'),
  );
});

test('a card is dragged down its strand with all that is inside, past one step and no further', async () => {
  await open(first);
  const doc = await documentOf(0);
  const use = useOf(doc).id;
  await (await find('[aria-label="Add a step after Soft evening glow"]')).click();
  await (await labelled('Search steps')).sendKeys('vignette', Key.ENTER);
  await until('a step', async () => (await documentOf(0)).strands[0].steps.at(-1)!.type === 'vignette');
  await press(Key.INSERT);
  await (await labelled('Search steps')).sendKeys('grain', Key.ENTER);
  await until('another', async () => (await documentOf(0)).strands[0].steps.at(-1)!.type === 'grain');
  const order = async () => (await documentOf(0)).strands[0].steps.map((s) => s.type).join(' ');
  expect(await order()).toBe('gain recipe-input glow grade recipe vignette grain');
  const plus = await find('[aria-label="Add a step after Vignette"]');
  await browser.driver
    .actions()
    .move({ origin: await find(`[data-step="${use}"]`) })
    .press()
    .perform();
  await browser.driver.actions().move({ origin: Origin.POINTER, x: 9, y: 9, duration: 80 }).perform();
  await browser.driver
    .actions()
    .move({ origin: plus, duration: 200 })
    .move({ origin: plus, x: 1, y: 1, duration: 80 })
    .release()
    .perform();
  await until(
    'its place',
    async () => (await order()) === 'gain vignette recipe-input glow grade recipe grain',
  );
  for (let i = 0; i < 3; i++) await undo();
  await until('as it was', async () => (await order()) === 'gain recipe-input glow grade recipe');
  await saved();
});

test('where a shot lacks a pass, that is said, and a gradient can stand in', async () => {
  const png = join(frames, 'flat.0001.png');
  await sharp({ create: { width: 320, height: 180, channels: 3, background: '#446688' } }).toFile(png);
  const third = await importShot(zaf.address, 'flat', [join(frames, 'flat.####.png')]);
  await open(third);
  await press(Key.INSERT);
  await (await labelled('Search steps')).sendKeys('lamps in mist', Key.ENTER);
  await until('the words', async () =>
    (await text('[data-sonner-toaster]')).includes('Lamps in mist needs a depth pass for Depth'),
  );
  expect(await text('aside[aria-label="Step sheet"]')).toContain(
    'It needs an emission pass, which this shot lacks.',
  );
  const before = (await pixels()).row;
  await (await button('Make a gradient')).click();
  await until('mist', async () => (await pixels()).row.join() !== before.join());
  await saved();
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/${third}`);
  const { document } = await json<SavedFinish>(`${zaf.address}/api/finishes/${finishes[0].id}`);
  expect(document.strands.find((s) => s.head.type === 'gradient')).toMatchObject({
    name: 'Depth by height',
    kind: 'data',
  });
});

test('freed it is steps again, and undo brings it back', async () => {
  await open(first);
  const before = await pixels();
  const doc = await documentOf(0);
  await (await find(`[data-step="${useOf(doc).id}"]`)).click();
  await (await button('Free it')).click();
  await saved();
  await settled();
  expect(useOf(await documentOf(0))).toBeUndefined();
  expect(await pixels()).toEqual(before);
  expect(await cards()).toEqual(expect.arrayContaining(['gain', 'glow', 'grade']));
  await undo();
  await saved();
  expect(useOf(await documentOf(0))).toEqual(useOf(doc));
});

/** Drops a file onto the page, as the hand of a user does. */
async function dropFile(path: string) {
  const input = await run<WebElement>(`
    const input = document.createElement('input');
    input.type = 'file';
    input.style.position = 'fixed';
    document.body.append(input);
    input.addEventListener('change', () => {
      const data = new DataTransfer();
      data.items.add(input.files[0]);
      for (const type of ['dragover', 'drop'])
        document.querySelector('[data-testid=viewer]').dispatchEvent(
          new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: data }));
      input.remove();
    });
    return input;`);
  await input.sendKeys(path);
}

test('a finished frame that is dropped opens the finish that it was made by; another file is refused by name', async () => {
  const made = await json<{ run: number }>(`${zaf.address}/api/exports`, {
    method: 'POST',
    body: JSON.stringify({
      shot: first,
      document: await documentOf(0),
      frames: '1',
      format: 'png8',
      name: 'dusk',
    }),
  });
  let file = '';
  await until('the frame', async () => {
    const runs = await json<ExportRun[]>(`${zaf.address}/api/exports?shot=${first}`);
    const done = runs.find((r) => r.id === made.run)?.frames[0].state === 'done';
    if (done) file = join(data, 'exports', String(made.run), 'dusk.0001.png');
    return done;
  });
  await open(second);
  await dropFile(join(frames, 'hall', 'hall.0001.exr'));
  await until('a refusal', async () =>
    (await text('[data-sonner-toaster]')).includes('hall.0001.exr carries no finish'),
  );
  await dropFile(file);
  await until('what it says', async () =>
    /First finish[\s\S]*frame 1[\s\S]*hall\.####\.exr/.test(
      await text('dialog[aria-label="The finish of a frame"]'),
    ),
  );
  await (await button('Open it in this shot')).click();
  await until(
    'the other finish',
    async () => (await json<ShotDetail>(`${zaf.address}/api/shots/${second}`)).finishes.length === 2,
  );
  await until('its board', async () => (await cards()).includes('gain'));
});

test('a recipe that is dropped on a shot is used there', async () => {
  await open(second);
  const before = (await cards()).length;
  await dropFile(join(browser.downloads, 'soft-evening-glow.zafiro-recipe.json'));
  await until('one card more', async () => (await cards()).length === before + 1);
});
