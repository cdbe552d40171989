import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { By, Key, Origin } from 'selenium-webdriver';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { SavedFinish, Version } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep, newFinish, setHead, splitAt } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import {
  type Instance,
  json,
  processesOf,
  remove,
  startInstance,
  temporaryFolder,
  until,
} from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, size, writeFrame, writeFrames } from './small-shot';

/** The session as its users live it: edits by real keys and hands, left and come back to, saved or said not to be. */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();

const page = onPage(() => browser);
const { attribute, button, find, onScreen, press, run, saved, settled, text, undo, waitFor } = page;

const head = { type: 'pass', media: 'hall', pass: '' } as const;
const plain = newFinish('finish', 'First finish', head);
const bloomed = addStep('main', 0, 'bloom', 'bloom').apply(plain);

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2, 3, 5, 6])]);
  browser = await openBrowser();
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const detail = () => json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
const finishAddress = async () => `${zaf.address}/api/finishes/${(await detail()).finishes[0].id}`;
const load = async () => json<SavedFinish>(await finishAddress());
const versions = async () => json<Version[]>(`${await finishAddress()}/versions`);
const firstStep = async () => (await load()).document.strands[0].steps[0];

/** The shot opened at a document that was saved before. */
async function openAt(document: Finish, address = `${zaf.address}/shots/${shot}`) {
  // Of the address bar's page nothing is left to interfere.
  await browser.driver.get('about:blank');
  const { document: now } = await load();
  if (JSON.stringify(now) !== JSON.stringify(document)) await giveFinish(zaf.address, shot, document);
  await browser.driver.get(address);
  await waitFor('[data-testid=viewer]');
  await settled();
}
async function type(id: string, words: string, end: string = Key.ENTER) {
  const field = await find(`[data-value=${id}]`);
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, end);
}
const shown = (id: string) =>
  run<string>(`return document.querySelector('[data-value=' + arguments[0] + ']')?.value`, id);
/** A key as the browser gets it from a keyboard. */
const devTools = () =>
  browser.driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> };
async function keyDown(key: string, code: string, modifiers = 0) {
  const event = { key, code, modifiers, ...(key.length === 1 ? { text: key } : {}) };
  await devTools().sendDevToolsCommand('Input.dispatchKeyEvent', { type: 'keyDown', ...event });
  await devTools().sendDevToolsCommand('Input.dispatchKeyEvent', { type: 'keyUp', ...event });
}
async function insert(words: string) {
  await press(Key.INSERT);
  const search = await waitFor('[aria-label="Search steps"]');
  await search.sendKeys(words, Key.ENTER);
}
const middleOf = async (css: string) => {
  const { x, y, width, height } = await (await waitFor(css)).getRect();
  return { x: Math.round(x + width / 2), y: Math.round(y + height / 2) };
};

describe('what is on the screen is what is saved', () => {
  beforeEach(() => openAt(bloomed));

  test('after Passes and Back: the newest document, and the next edit is no conflict', async () => {
    await type('amount', '1.25');
    await saved();
    await (await find('a[href*="/passes"]')).click();
    await waitFor('[aria-label^="Passes of"]');
    await browser.driver.navigate().back();
    await waitFor('[data-value=amount]');
    expect(await shown('amount')).toBe('1.25');
    await type('radius', '50');
    await saved();
    const { values } = await firstStep();
    expect([values.amount, values.radius]).toEqual([1.25, 50]);
  });

  test('also for an edit that was still on its way when one left', async () => {
    // The save waits until the page is another.
    await run(
      `window.realFetch = window.fetch; window.held = new Promise((go) => { window.go = go; });
       window.fetch = async (a, b) => { if (b && b.method === 'PUT') await window.held; return window.realFetch(a, b); }`,
    );
    await type('amount', '1.75');
    await (await find('a[href*="/passes"]')).click();
    await waitFor('[aria-label^="Passes of"]');
    await run('window.go(); window.fetch = window.realFetch');
    await until('the save', async () => (await firstStep()).values.amount === 1.75);
    await browser.driver.navigate().back();
    await until('the value', async () => (await shown('amount')) === '1.75');
    await saved();
  });

  test('a note that is too long is refused where it is typed, and nothing after it is lost', async () => {
    const note = await find('textarea[aria-label=Note]');
    await note.click();
    await note.sendKeys('The lamps pulse. '.repeat(125));
    await (await find('h2 input')).click();
    const alert = await waitFor('section [role=alert]');
    expect(await alert.getText()).toContain('A note has at most 2000 letters, this one has 2125.');
    expect(await attribute('[data-save]', 'data-save')).toBe('saved');
    await type('amount', '0.75');
    await saved();
    await (await find('a[href*="/passes"]')).click();
    await waitFor('[aria-label^="Passes of"]');
    expect((await firstStep()).values.amount).toBe(0.75);
    // A shorter one is taken, a pause after the last letter.
    await browser.driver.navigate().back();
    const again = await waitFor('textarea[aria-label=Note]');
    await again.click();
    await again.sendKeys('The lamps pulse, a little less each time.');
    await until('the note', async () => (await firstStep()).note !== undefined);
    expect((await firstStep()).note).toBe('The lamps pulse, a little less each time.');
  });

  test('a colour picked with the hand outside its box, and the keys of a slider', async () => {
    const summary = await browser.driver.findElement(By.xpath(`//details[contains(., 'Tint')]/summary`));
    await summary.click();
    const from = await middleOf('details[open] .react-colorful__saturation');
    const mouse = browser.driver.actions({ async: true });
    await mouse
      .move({ ...from, origin: Origin.VIEWPORT })
      .press()
      .move({ x: from.x + 20, y: from.y + 10, origin: Origin.VIEWPORT })
      .move({ x: 400, y: from.y + 20, origin: Origin.VIEWPORT })
      .release()
      .perform();
    await saved();
    const shownTint = await run<string>(
      `return [...document.querySelectorAll('details[open] summary span')][0].textContent`,
    );
    const tint = (await firstStep()).values.tint as readonly number[];
    expect(tint).not.toEqual([1, 1, 1]);
    expect(tint.map((c) => c.toFixed(2)).join('  ')).toBe(shownTint);
    // A click without any way counts too.
    await browser.driver
      .actions({ async: true })
      .move({ x: from.x - 60, y: from.y - 30, origin: Origin.VIEWPORT })
      .click()
      .perform();
    await until('another tint', async () => {
      const now = (await firstStep()).values.tint as readonly number[];
      return now.join() !== tint.join();
    });

    const slider = await find('input[type=range][aria-label=Threshold]');
    await run(`arguments[0].focus()`, slider);
    for (const [key, wanted] of [
      [Key.END, 16],
      [Key.HOME, 0],
    ] as const) {
      await slider.sendKeys(key);
      await until(`threshold ${wanted}`, async () => (await firstStep()).values.threshold === wanted);
    }
    await slider.sendKeys(Key.PAGE_UP);
    await until('Page Up', async () => ((await firstStep()).values.threshold as number) > 0);
    await saved();
    expect(Number(await shown('threshold'))).toBeCloseTo((await firstStep()).values.threshold as number, 1);
  });

  test('a drag that is given up leaves nothing: Escape, and a pointer that is lost', async () => {
    const before = await firstStep();
    const from = await middleOf('[data-testid=histogram]');
    for (const giveUp of ['escape', 'lost'] as const) {
      const mouse = browser.driver.actions({ async: true });
      await mouse
        .move({ ...from, origin: Origin.VIEWPORT })
        .press()
        .move({ x: from.x + 50, y: from.y, origin: Origin.VIEWPORT })
        .perform();
      await until('the preview', async () => (await shown('threshold')) !== '1.00');
      if (giveUp === 'escape') await keyDown('Escape', 'Escape');
      else await run(`window.dispatchEvent(new PointerEvent('pointercancel', { pointerId: 1 }))`);
      await until('as before', async () => (await shown('threshold')) === '1.00');
      await browser.driver.actions({ async: true }).release().perform();
      expect(await shown('threshold')).toBe('1.00');
      expect(await attribute('[data-save]', 'data-save')).toBe('saved');
    }
    expect(await firstStep()).toEqual(before);
    expect((await versions())[0].label).toBe('elsewhere');
  });

  test('what was undone and redone is there after a reload', async () => {
    await type('amount', '1.5');
    await type('radius', '33');
    await saved();
    await undo();
    await saved();
    await browser.driver.sleep(300);
    await browser.driver.navigate().refresh();
    await settled();
    await (await button('Redo: set Radius of Bloom')).click();
    await saved();
    expect((await firstStep()).values).toMatchObject({ amount: 1.5, radius: 33 });
    await (await button('Undo: set Radius of Bloom')).click();
    await (await button('Undo: set Amount of Bloom')).click();
    await saved();
    expect((await load()).document).toEqual(bloomed);
  });

  test('a restore is in the history while that is open', async () => {
    await type('amount', '1.5');
    await saved();
    await (await button('History')).click();
    await waitFor('[aria-label=History] li');
    const [newest] = await versions();
    await (await button(`Restore version ${newest.version - 1}`)).click();
    await waitFor(`[data-version="${newest.version + 1}"]`);
    expect(await text(`[data-version="${newest.version + 1}"]`)).toContain(
      `Restore version ${newest.version - 1}`,
    );
    expect((await load()).document).toEqual(bloomed);
  });

  test('seven exports under way hold nothing up', async () => {
    const renderer = processesOf(data).find((p) => p.command.includes('dist/exports.mjs'))!;
    process.kill(renderer.pid, 'SIGSTOP');
    try {
      for (let i = 0; i < 7; i++) {
        const body = JSON.stringify({
          shot,
          document: bloomed,
          frames: '1-3',
          format: 'exr',
          name: `run_${i}`,
        });
        await json(`${zaf.address}/api/exports`, { method: 'POST', body });
      }
      await (await button('Export…')).click();
      await until(
        'seven runs',
        async () => (await browser.driver.findElements(By.css('[data-over=false]'))).length === 7,
      );
      expect(
        await run(`return document.querySelector('[aria-label=Exports] input[name=name]').value`),
      ).toMatch(/^hall_first_finish_v\d+$/);
      // The panel keeps the keys of the shot to itself while it is open.
      await press(Key.ESCAPE);
      const began = performance.now();
      await press('y');
      await saved();
      expect(performance.now() - began).toBeLessThan(1000);
      expect((await firstStep()).bypass).toBe(true);
    } finally {
      process.kill(renderer.pid, 'SIGCONT');
    }
    // They are reported as they go on.
    await (await button('Export…')).click();
    await until(
      'the end of all',
      async () => (await browser.driver.findElements(By.css('[data-over=true][data-done="3"]'))).length === 7,
    );
  });
});

describe('keys and fields', () => {
  beforeEach(() => openAt(bloomed));
  const isWithout = () =>
    run<boolean>(
      `return [...document.querySelectorAll('button')].some((b) => b.textContent === 'Bypass all' && b.ariaPressed === 'true')`,
    );

  test('? opens the keys, on an American and on a German keyboard', async () => {
    for (const code of ['Slash', 'Minus']) {
      await keyDown('?', code, 8);
      await waitFor('dialog[aria-label=Keys][open]');
      await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
      await until('closed', async () => !(await run(`return document.querySelector('dialog')`)));
    }
    // In a field it is a question mark.
    const note = await find('textarea[aria-label=Note]');
    await note.click();
    await keyDown('?', 'Slash', 8);
    expect(await run(`return document.querySelector('dialog[open]')`)).toBeNull();
    expect(await note.getAttribute('value')).toBe('?');
  });

  test('letters go to the screen once a field was used, and never into it', async () => {
    await type('amount', '1.5');
    await browser.driver.actions().sendKeys('w').perform();
    await until('without', isWithout);
    expect(await shown('amount')).toBe('1.50');
    await browser.driver.actions().sendKeys('w').perform();
    await until('with', async () => !(await isWithout()));
    // Escape leaves a field and takes back what was typed.
    await type('amount', '7', Key.ESCAPE);
    expect(await shown('amount')).toBe('1.50');
    await browser.driver.actions().sendKeys('w').perform();
    await until('without', isWithout);
    await browser.driver.actions().sendKeys('w').perform();
    // A switch and a slider under the hand do not keep the keys either.
    await (await find('aside[aria-label="Step sheet"] label input[type=checkbox]')).click();
    await browser.driver.actions().sendKeys('w').perform();
    await until('without', isWithout);
    await saved();
    expect((await firstStep()).values.amount).toBe(1.5);
  });

  test('a number beyond its bounds is taken to them, and says so', async () => {
    await type('amount', '20');
    expect(await shown('amount')).toBe('20.0');
    await type('amount', '2000');
    expect(await shown('amount')).toBe('1000');
    expect(await text('[data-value=amount] ~ [role=status]')).toBe('At most 1000.');
    await saved();
  });

  test('a caption is typed letter by letter, seen as it is typed, saved, and there after a reload', async () => {
    const words = 'Shot 010: was, when the comet came, x marks it';
    await insert('caption');
    const field = await waitFor('textarea[aria-label=Text]');
    await run(`arguments[0].select()`, field);
    const before = await page.pixels();
    await browser.driver
      .actions()
      .sendKeys(...words)
      .perform();
    expect(await field.getAttribute('value')).toBe(words);
    await until('the picture', async () => (await page.pixels()).mean !== before.mean);
    expect(await isWithout()).toBe(false);
    // Nobody leaves the field.
    await until('saved', async () =>
      (await load()).document.strands[0].steps.some((s) => s.values.text === words),
    );
    await saved();
    await browser.driver.navigate().refresh();
    await settled();
    const again = await waitFor('[data-step=caption] button, [data-step=caption]');
    await again.click();
    expect(await (await waitFor('textarea[aria-label=Text]')).getAttribute('value')).toBe(words);
  });

  test('a duplicate is what one goes on with', async () => {
    await run('document.activeElement?.blur()');
    await page.press('d');
    await waitFor('[data-step=bloom-2][data-selected=true]');
    await type('amount', '0.1');
    await saved();
    const { steps } = (await load()).document.strands[0];
    expect(steps.map((s) => s.values.amount)).toEqual([0.5, 0.1]);
  });
});

describe('what comes from the picture', () => {
  test('a bloom on a dull render changes what one sees, and says where its threshold is from', async () => {
    await openAt(plain);
    const before = await page.pixels();
    await insert('bloom');
    await waitFor('[data-testid=from-picture]');
    expect(await text('[data-testid=from-picture]')).toBe('From the picture of frame 1: Threshold, Knee.');
    await settled();
    const after = await page.pixels();
    const most = Math.max(...after.row.map((v, i) => Math.abs(v - before.row[i])));
    expect(most).toBeGreaterThanOrEqual(2);
    await saved();
    expect((await firstStep()).values.threshold).toBeLessThan(0.7);
    await type('threshold', '0.3');
    expect(await text('[data-testid=from-picture]')).toBe('From the picture of frame 1: Knee.');
    // One step back takes all of it.
    await undo();
    await undo();
    await saved();
    expect((await load()).document).toEqual(plain);
  });

  test('mist density on a depth strand begins at the picture’s own range', async () => {
    await openAt(setHead(plain, 'main', { ...head, pass: 'depth' }, 'data', 'depth').apply(plain));
    await insert('mist density');
    await waitFor('[data-testid=from-picture]');
    await saved();
    const { values } = await firstStep();
    expect(values.near).toBeCloseTo(2 + 0.05 * 10, 1);
    expect(values.far).toBeCloseTo(2 + 0.95 * 10, 1);
  });

  test('depth is shown between its percentiles, which are dragged, and brightened by exposure', async () => {
    await openAt(setHead(plain, 'main', { ...head, pass: 'depth' }, 'data', 'depth').apply(plain));
    await waitFor('[data-testid=data-range]');
    const even = await page.pixels();
    // From black to white across the frame.
    const lit = even.row.filter((_, i) => i % 4 === 0);
    expect(Math.max(...lit)).toBe(255);
    const far = await middleOf('[data-testid=data-range] [data-end="1"]');
    await browser.driver
      .actions({ async: true })
      .move({ ...far, origin: Origin.VIEWPORT })
      .press()
      .move({ x: far.x + 80, y: far.y, origin: Origin.VIEWPORT })
      .release()
      .perform();
    await until('darker', async () => (await page.pixels()).mean < even.mean - 5);
    const darker = await page.pixels();
    const exposure = await find('[aria-label="Exposure in stops"]');
    await run(`arguments[0].focus()`, exposure);
    await exposure.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await until('brighter', async () => (await page.pixels()).mean > darker.mean + 2);
    // A journey of depth shows numbers.
    const at = await onScreen(size, 160.5, 90.5);
    await browser.driver
      .actions()
      .move({ ...at, origin: Origin.VIEWPORT })
      .click()
      .perform();
    await waitFor('[data-stop=main-head]');
    expect(await text('[data-stop=main-head] td:last-child')).toBe('7');
  });

  test('a colour is picked before the step that it is for', async () => {
    await openAt(addStep('main', 0, 'bloom', 'bloom').apply(plain));
    await type('threshold', '0');
    await type('amount', '4');
    await settled();
    await (await button('Pick Tint on the picture')).click();
    const at = await onScreen(size, 200, 120);
    await browser.driver
      .actions()
      .move({ ...at, origin: Origin.VIEWPORT })
      .click()
      .perform();
    await until('the colour', async () => ((await firstStep()).values.tint as readonly number[])[0] !== 1);
    const [r, g, b] = (await firstStep()).values.tint as readonly number[];
    expect(r).toBeCloseTo(0.1 + 200 / 3200, 2);
    expect(g).toBeCloseTo(0.15, 2);
    expect(b).toBeCloseTo(0.2 + 120 / 1800, 2);
  });

  test('colours above 1 are typed, and keep their strength when their hue is picked', async () => {
    await openAt(bloomed);
    await (await browser.driver.findElement(By.xpath(`//details[contains(., 'Tint')]/summary`))).click();
    await type('tint-red', '6');
    await saved();
    expect((await firstStep()).values.tint).toEqual([6, 1, 1]);
    const at = await middleOf('details[open] .react-colorful__hue');
    await browser.driver
      .actions({ async: true })
      .move({ ...at, origin: Origin.VIEWPORT })
      .click()
      .perform();
    await until('another hue', async () => ((await firstStep()).values.tint as readonly number[])[0] !== 6);
    expect(Math.max(...((await firstStep()).values.tint as readonly number[]))).toBeCloseTo(6, 1);
  });
});

describe('frames', () => {
  test('one that is not there shows no other as if it were this one', async () => {
    await openAt(plain);
    expect(await attribute('[data-testid=viewer]', 'data-frame')).toBe('1');
    for (const frame of [2, 3, 4]) {
      await press(Key.ARROW_RIGHT);
      await until(`frame ${frame}`, async () => Number(await text('[data-testid=frame]')) === frame);
    }
    const alert = await waitFor('section[aria-label=Viewer] [role=alert]');
    expect(await alert.getText()).toContain('Frame 4 of hall has not arrived yet.');
    expect(await attribute('[data-testid=viewer]', 'data-dimmed')).toBe('true');
    expect(await text('section[aria-label=Viewer]')).toMatch(/The picture of frame [123]/);
    // It is shown as soon as it is there, without asking.
    writeFrame(join(frames, 'hall.0004.exr'), (x) => [x / 320, 0.5, 0.5]);
    await until('frame 4', async () => (await attribute('[data-testid=viewer]', 'data-frame')) === '4', 20);
    expect(await attribute('[data-testid=viewer]', 'data-dimmed')).not.toBe('true');
    expect(await text('[data-testid=arrived]')).toBe('all frames here');
  });

  test('a still stands on every frame and is not waited for', async () => {
    writeFrame(join(frames, 'plate.exr'));
    const still = await importShot(zaf.address, 'plate', [join(frames, 'plate.exr')]);
    await browser.driver.get(`${zaf.address}/shots/${still}`);
    await settled();
    expect(await text('[data-testid=arrived]')).toBe('a still, on every frame');
    expect(await attribute('section[aria-label=Frames] li button', 'aria-label')).toBe('Frame 1');
  });

  test('an import offers a shot called as its frames, and no name twice', async () => {
    await browser.driver.get(`${zaf.address}/import`);
    const path = await waitFor('input[name=path]');
    await until('the first folder', async () => (await path.getAttribute('value')) !== '');
    await path.sendKeys(Key.ENTER);
    await until(
      'the sequence',
      async () => (await run(`return document.querySelector('input[name=shot]').value`)) === 'hall 2',
    );
    const name = await find('input[name=shot]');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'plate');
    expect(await (await waitFor('form [role=alert]')).getText()).toBe('This shot exists already.');
    expect(await (await button('Import')).isEnabled()).toBe(false);
  });
});

test('work that the server refuses is not left behind without a word', async () => {
  await openAt(bloomed);
  await run(
    `window.realFetch = window.fetch;
     window.fetch = async (a, b) => b && b.method === 'PUT'
       ? new Response(JSON.stringify({ error: { code: 'refused', message: 'It is not to be.', remedy: 'Do otherwise.' } }), { status: 422 })
       : window.realFetch(a, b);`,
  );
  await type('amount', '1.25');
  await until('refused', async () => (await attribute('[data-save]', 'data-lasting')) === 'true');
  expect(await text('[data-save]')).toContain('It is not to be. Do otherwise.');
  await (await find('a[href*="/passes"]')).click();
  const dialog = await waitFor('dialog[aria-label="Not saved"][open]');
  // An open dialog fades in: its words can be read a moment later.
  await until('its words', async () => (await dialog.getText()).includes('It is not to be.'));
  await (await button('Stay')).click();
  expect(await shown('amount')).toBe('1.25');
  // Left all the same, it is there when one comes back, and goes on.
  await (await find('a[href*="/passes"]')).click();
  await waitFor('dialog[aria-label="Not saved"][open]');
  await (await button('Leave')).click();
  await waitFor('[aria-label^="Passes of"]');
  await run('window.fetch = window.realFetch');
  await browser.driver.navigate().back();
  await until('the value', async () => (await shown('amount')) === '1.25');
  await (await button('Undo the edit')).click();
  await saved();
  await type('amount', '1.5');
  await saved();
  expect((await firstStep()).values.amount).toBe(1.5);
});

test('objects are taken by as many clicks, however quick', async () => {
  const ids = {
    type: 'ids',
    media: 'hall',
    pass: 'id',
    idFormat: 'number',
    ranks: 1,
    objects: [] as string[],
  } as const;
  const chosen: Finish = {
    ...plain,
    strands: [
      ...plain.strands,
      { id: 'ids', name: 'Objects', kind: 'matte', head: { ...ids, objects: [] }, steps: [] },
    ],
  };
  await openAt(chosen);
  await (await waitFor('button[aria-label="Strand Objects"]')).click();
  const points = await Promise.all([40, 120, 200].map((x) => onScreen(size, x, 90)));
  const hand = browser.driver.actions({ async: true });
  for (const at of points) hand.move({ ...at, origin: Origin.VIEWPORT, duration: 0 }).click();
  await hand.perform();
  await until('three objects', async () => {
    const { head } = (await load()).document.strands[1];
    return head.type === 'ids' && head.objects.length === 3;
  });
  const { document } = await load();
  const { head: taken, name } = document.strands[1];
  expect(taken.type === 'ids' && [...taken.objects].sort()).toEqual(['1', '2', '3']);
  expect(name).toBe('1 and 2 more');
});

test('a pixel’s journey lists each place once, also where a strand was split', async () => {
  const split = splitAt(bloomed, 'main', 'bloom').apply(bloomed);
  const side = split.strands[1].id;
  const joined = addStep('main', 1, 'join', 'join').apply(split);
  await openAt({
    ...joined,
    strands: joined.strands.map((s) =>
      s.id === 'main'
        ? {
            ...s,
            steps: s.steps.map((t) =>
              t.id === 'join' ? { ...t, slots: { picture: { strand: side, after: 'end' } } } : t,
            ),
          }
        : s,
    ),
  });
  const at = await onScreen(size, 160.5, 90.5);
  await browser.driver
    .actions()
    .move({ ...at, origin: Origin.VIEWPORT })
    .click()
    .perform();
  await waitFor('[data-stop=join]');
  const stops = await run<string[]>(
    `return [...document.querySelectorAll('[data-stop]')].map((r) => r.dataset.stop)`,
  );
  expect(stops).toEqual(['main-head', 'bloom', `${side}-head`, 'join']);
});

test('an engine that cannot start says so, and starts when asked again', async () => {
  await browser.driver.get('about:blank');
  await devTools().sendDevToolsCommand('Network.enable', {});
  await devTools().sendDevToolsCommand('Network.setCacheDisabled', { cacheDisabled: true });
  // The worker fetches by itself: the server is what it must not find the program on.
  const program = join(new URL('../..', import.meta.url).pathname, 'public/kernels.wasm');
  expect(readFileSync(program).length).toBeGreaterThan(1000);
  await devTools().sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
    source: `const Real = window.Worker; let tries = 0;
      window.Worker = function (url, options) {
        return new Real(tries++ === 0 ? URL.createObjectURL(new Blob(['throw new Error("No threads here.")'])) : url, options);
      };`,
  });
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  const alert = await waitFor('section[aria-label=Viewer] [role=alert]');
  expect(await alert.getText()).toContain('The engine stopped. No threads here.');
  await (await button('Try again')).click();
  await settled();
  expect((await page.pixels()).mean).toBeGreaterThan(1);
});
