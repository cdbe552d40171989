import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key, Origin } from 'selenium-webdriver';
import sharp from 'sharp';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { applyEdit } from '../../core/finish/edit';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { makeRecipe } from '../../core/recipes/make';
import { type Instance, json, remove, root, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, size, writeFrames } from './small-shot';

/** What one does on the screen works, or says why: the ways on that were silent before. */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const axe = readFileSync(`${root}/node_modules/axe-core/axe.min.js`, 'utf8');
const page = onPage(() => browser);
const {
  attribute,
  button,
  choose,
  doubleClick,
  find,
  onScreen,
  press,
  run,
  saved,
  settled,
  text,
  undo,
  waitFor,
} = page;

/** A bloom and a gain on the picture. */
function start(): Finish {
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'bloom', 'bloom', size.width).apply(doc);
  doc = addStep('main', 1, 'gain', 'gain').apply(doc);
  return setValue(doc, 'bloom', 'threshold', 0.3).apply(doc);
}
const finish = () =>
  run<string>('return JSON.stringify(zafiroSession.store.getState().finish)').then(
    (words) => JSON.parse(words) as Finish,
  );
const select = (id: string) => run('zafiroSession.store.getState().change({ selected: arguments[0] })', id);
const stepOf = async (id: string) =>
  (await finish()).strands.flatMap((s) => s.steps).find((s) => s.id === id)!;
const open = async (path: string) => browser.driver.get(`${zaf.address}${path}`);

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  browser = await openBrowser();
});
beforeEach(async () => {
  await giveFinish(zaf.address, shot, start());
  await open(`/shots/${shot}`);
  await settled();
  await select('bloom');
  await waitFor('[data-value=threshold]');
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

test('an error in a handler is said, and the document stays', async () => {
  browser.expectError(/is not a function/);
  const before = await finish();
  // The handler of the switch calls it, and fails.
  await run(`zafiroSession.store.setState({ edit: undefined })`);
  await (await waitFor('[aria-label="Step sheet"] input[type=checkbox]')).click();
  const notice = await waitFor('[data-testid=failure]');
  expect(await notice.getText()).toContain('is not a function');
  expect(await notice.getText()).toContain('Copy the details');
  expect(await finish()).toEqual(before);
  await (await button('Reload')).click();
  await until('another page', async () => (await attribute('[data-testid=failure]', 'role')) === null);
  await settled();
  expect(await finish()).toEqual(before);
});

test('a value that is refused says why at its field, on every kind of field, and nothing is previewed', async () => {
  // With a step inside a recipe selected together, the document refuses every change of what both have.
  let doc = addStep('main', 2, 'bloom', 'inner', size.width).apply(start());
  doc = applyEdit(doc, makeRecipe(doc, 'main', ['inner'], 'Soft lamps').edit).finish;
  await giveFinish(zaf.address, shot, doc);
  await open(`/shots/${shot}`);
  await settled();
  await select('bloom');
  await run(`zafiroSession.store.getState().change({ also: ['inner'] })`);
  await waitFor('[data-testid=together]');
  const before = await finish();
  const field = await find('[data-value=threshold]');
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
  await until('the reason', async () =>
    (await text('[data-refused=threshold]')).includes('is inside Soft lamps'),
  );
  await choose('[aria-label="Step sheet"] select:not([data-slot])', 'Screen');
  await (await find('[aria-label="Step sheet"] input[type=checkbox]')).click();
  await until(
    'the reasons',
    async () => (await browser.driver.findElements(By.css('[data-refused]'))).length >= 3,
  );
  // A slider that is dragged previews nothing either.
  const [amount] = await browser.driver.findElements(By.css('[aria-label="Step sheet"] input[type=range]'));
  const actions = browser.driver.actions();
  await actions.move({ origin: amount }).press().move({ origin: amount, x: -30, y: 0 }).perform();
  expect(await run('return zafiroSession.store.getState().preview === undefined')).toBe(true);
  await browser.driver.actions().release().perform();
  expect(await finish()).toEqual(before);
  await run('zafiroSession.store.getState().change({ also: [] })');
  // A number beyond its bound says the bound.
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '-4', Key.ENTER);
  await until('the bound', async () => (await text('[aria-label="Step sheet"]')).includes('At least 0.'));
  expect((await stepOf('bloom')).values.threshold).toBe(0);
});

test('a double click brings the usual value back, the one that the mark brings', async () => {
  const usual = (await stepOf('bloom')).values.radius;
  const field = await find('[data-value=radius]');
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '33', Key.ENTER);
  await until('33', async () => (await stepOf('bloom')).values.radius === 33);
  await doubleClick(await find('[aria-label="Step sheet"] input[type=range][aria-label^=Radius]'));
  await until('the usual radius', async () => (await stepOf('bloom')).values.radius === usual);
});

test('a list takes a choice that is typed, keeps the focus, and no letter is a command', async () => {
  const list = await find('[data-slot=mask]');
  // In one go: letters that come too far apart are two choices, here as in every list of a browser.
  await list.sendKeys('S', 'h');
  await until('the shapes', async () => (await stepOf('bloom')).slots.mask !== undefined);
  expect(await run<boolean>('return zafiroSession.store.getState().theatre')).toBe(false);
  const { strand } = (await stepOf('bloom')).slots.mask;
  expect((await finish()).strands.find((s) => s.id === strand)?.head.type).toBe('shapes');
});

test('keys in the export panel do not steer the shot behind it', async () => {
  await (await button('Export…')).click();
  await waitFor('[aria-label=Exports]');
  const frame = await run<number>('return zafiroSession.store.getState().frame');
  await press(Key.ARROW_RIGHT, 't', 'm');
  const now = await run<[number, boolean]>(
    'const s = zafiroSession.store.getState(); return [s.frame, s.theatre]',
  );
  expect(now).toEqual([frame, false]);
  await press(Key.ESCAPE);
  await until('closed', async () => (await attribute('[aria-label=Exports]', 'class')) === null);
});

test('a matte of objects goes straight on to the picture, with the sheet still there; until then it says it is empty', async () => {
  await choose('[data-slot=lightMask]', 'Objects');
  await until('the tool', () =>
    run<boolean>(`return zafiroSession.store.getState().tool?.type === 'pick-objects'`),
  );
  expect(await attribute('[data-slot=lightMask]', 'id')).not.toBeNull();
  expect(await text('body')).toContain('Click objects on the picture');
  expect(await text('[aria-label="Step sheet"]')).toContain('No object is chosen yet');
  const at = await onScreen(size, 120, 90);
  await browser.driver
    .actions()
    .move({ ...at, origin: Origin.VIEWPORT })
    .click()
    .perform();
  await until('an object', async () => {
    const { strand } = (await stepOf('bloom')).slots.lightMask;
    const head = (await finish()).strands.find((s) => s.id === strand)!.head;
    return head.type === 'ids' && head.objects.length === 1;
  });
  await press(Key.ESCAPE);
  await until('no tool', () => run<boolean>('return zafiroSession.store.getState().tool === undefined'));
  expect(await text('[aria-label="Step sheet"]')).not.toContain('No object is chosen yet');
});

test('points that would make a circle are grey, with the reason', async () => {
  const grey = await run<string[]>(
    `return [...document.querySelectorAll('[data-slot=mask] option:disabled')].map((o) => o.textContent)`,
  );
  expect(grey.length).toBeGreaterThan(0);
  for (const words of grey) expect(words).toContain('would make a circle');
});

test('a point of a curve that is dragged up lifts its part alone: the ends stay; ready curves can be taken', async () => {
  await press('a');
  await (await waitFor('[aria-label="Search steps"]')).sendKeys('curves', Key.ENTER);
  const curves = async () => (await finish()).strands[0].steps.find((s) => s.type === 'curves');
  await until('curves', async () => (await curves()) !== undefined);
  const { id } = (await curves())!;
  await select(id);
  const plot = await waitFor('[aria-label^="Curve of"]');
  await browser.driver
    .actions()
    .move({ origin: plot, x: 0, y: 0 })
    .press()
    .move({ origin: plot, x: 0, y: -20, duration: 50 })
    .release()
    .perform();
  const rows = async () =>
    Object.values((await curves())!.values).find((v) => Array.isArray(v) && v.length > 0) as number[][];
  await until('three points', async () => (await rows())?.length === 3);
  const [low, middle, high] = await rows();
  expect(low[1]).toBeCloseTo(low[0], 6);
  expect(high[1]).toBeCloseTo(high[0], 6);
  expect(middle[1]).toBeGreaterThan(middle[0] + 0.5);
  const before = await rows();
  await run(`const list = document.querySelector('[aria-label="Start from a curve"]');
    Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, list.options[1].value);
    list.dispatchEvent(new Event('change', { bubbles: true }));`);
  await until('a ready curve', async () => JSON.stringify(await rows()) !== JSON.stringify(before));
});

test('the finish is saved as the file that run takes, and its command is copied', async () => {
  await (await find('[aria-label^="Finish "]')).click();
  await (await button('Save the finish as a file')).click();
  const path = await until('the file', async () => {
    const [name] = readdirSync(browser.downloads).filter((f) => f.endsWith('.json'));
    return name && join(browser.downloads, name);
  });
  expect(JSON.parse(readFileSync(path, 'utf8'))).toEqual(await finish());
});

test('a still stands beside the picture in a wipe, and the same still is there once', async () => {
  const still = join(frames, 'still.png');
  writeFileSync(
    still,
    await sharp({ create: { width: 64, height: 36, channels: 3, background: '#00c040' } })
      .png()
      .toBuffer(),
  );
  await run('zafiroSession.store.getState().change({ references: true })');
  const input = await waitFor('input[type=file][accept="image/*"]');
  await input.sendKeys(still);
  const references = () => json<unknown[]>(`${zaf.address}/api/shots/${shot}/references`);
  await until('the still', async () => (await references()).length === 1);
  // Given once more it is recognised.
  await input.sendKeys(still);
  await until('a word of it', async () => /already|was here/i.test(await text('body')));
  expect(await references()).toHaveLength(1);
  await run(
    `const s = zafiroSession.store.getState(); s.change({ compare: { ...s.compare, mode: 'wipe' } })`,
  );
  await until('the still among what is compared with', async () =>
    run<boolean>(
      `return [...(document.querySelector('[aria-label="Compare with"]')?.options ?? [])].some((o) => o.value.startsWith('reference:'))`,
    ),
  );
  await run(`const list = document.querySelector('[aria-label="Compare with"]');
    const option = [...list.options].find((o) => o.value.startsWith('reference:'));
    Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, option.value);
    list.dispatchEvent(new Event('change', { bubbles: true }));`);
  const at = await onScreen(size, 300, 150);
  const green = () =>
    run<number[]>(
      `const canvas = document.querySelector('[data-testid=viewer]'), r = canvas.getBoundingClientRect(), k = devicePixelRatio;
       return [...canvas.getContext('2d').getImageData((arguments[0] - r.left) * k, (arguments[1] - r.top) * k, 1, 1).data]`,
      at.x,
      at.y,
    );
  const left = await onScreen(size, 20, 150);
  await until('the still on one side of the line', async () => {
    const [r, g, b] = await green();
    const [r2, g2, b2] = await run<number[]>(
      `const canvas = document.querySelector('[data-testid=viewer]'), r = canvas.getBoundingClientRect(), k = devicePixelRatio;
       return [...canvas.getContext('2d').getImageData((arguments[0] - r.left) * k, (arguments[1] - r.top) * k, 1, 1).data]`,
      left.x,
      left.y,
    );
    const isGreen = (x: number, y: number, z: number) => x < 20 && y > 170 && z < 90;
    return isGreen(r, g, b) !== isGreen(r2, g2, b2);
  });
});

test('strands are put into a group with a name and a colour', async () => {
  await select((await finish()).main);
  await choose('[aria-label=Group]', 'New group');
  await until('a group', async () => (await finish()).groups?.length === 1);
  const name = await waitFor('[aria-label="Group name"]');
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Hall', Key.ENTER);
  await (await find('[aria-label="Step sheet"] [aria-label=Rose]')).click();
  await until('rose', async () => (await finish()).groups?.[0].colour === 'rose');
  expect(await text('[data-group] .group-name')).toBe('Hall');
  await saved();
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
  const kept = await json<SavedFinish>(`${zaf.address}/api/finishes/${finishes[0].id}`);
  expect(kept.document.groups?.[0]).toMatchObject({ name: 'Hall', colour: 'rose' });
  await undo();
  await undo();
  await undo();
  await until('no group', async () => (await finish()).groups === undefined);
});

test('upright the board stands above the viewer, and whatever is pressed is large enough', async () => {
  const devTools = browser.driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> };
  const resize = (width: number, height: number) =>
    devTools.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
      width,
      height,
      deviceScaleFactor: 1,
      mobile: false,
    });
  const boxOf = async (name: string) => (await find(`[data-testid=panel-${name}]`)).getRect();
  await resize(900, 1200);
  await until('a stack', async () => {
    const [board, viewer] = [await boxOf('board'), await boxOf('viewer')];
    return board.y + board.height <= viewer.y + 4 && Math.abs(board.x - viewer.x) < 4;
  });
  await resize(1280, 800);
  await until('side by side', async () => (await boxOf('board')).x < (await boxOf('viewer')).x);
  const small = async (what: string) => {
    await run(axe);
    const found = await browser.driver.executeAsyncScript<string[]>(
      `const done = arguments[arguments.length - 1];
       axe.run(document, { runOnly: ['target-size'] }).then(({ violations }) => done(violations.flatMap((v) => v.nodes.map((n) => n.html.slice(0, 160)))));`,
    );
    expect(found, what).toEqual([]);
  };
  await small('the shot');
  await press('?');
  await waitFor('[role=dialog], dialog[open]');
  await small('the keys');
  for (const path of ['/', '/handbook', '/import', '/recipes', '/queue', `/shots/${shot}/passes`]) {
    await open(path);
    await waitFor('h1');
    await small(path);
    // One header for all pages, with the program's name, which leads home.
    expect(await text('header a[href="/"]')).toContain('Zafiro');
  }
});

test('import leaves out what cannot be read, with the reason, and the rest comes in', async () => {
  const folder = join(frames, 'mixed');
  writeFrames(folder, 'good', [1, 2]);
  for (const n of [1, 2]) writeFileSync(join(folder, `bad.000${n}.exr`), 'no picture');
  await open('/import');
  const path = await waitFor('input[name=path]');
  await until('the first folder', async () => (await path.getAttribute('value')) !== '');
  await path.clear();
  await path.sendKeys(folder, Key.ENTER);
  const bad = await waitFor('[data-sequence=bad]');
  await until('the reason', async () => /cannot be read|is no OpenEXR|not an? /i.test(await bad.getText()));
  const ticked = (name: string) =>
    run<boolean>(
      `return document.querySelector('[data-sequence=' + arguments[0] + '] input[type=checkbox]').checked`,
      name,
    );
  expect([await ticked('good'), await ticked('bad')]).toEqual([true, false]);
  await (await button('Import')).click();
  await settled();
  expect(await text('h1')).toContain('good');
});
