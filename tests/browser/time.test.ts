import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { Key, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import { addStep, addStrand, newFinish } from '../../core/finish/edits';
import { setValue, setValues } from '../../core/finish/value-edits';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { giveFinish, importShot, writeFrame, writeFrames } from './small-shot';

/** Values over time, by hand and by keyboard: what is set on frames is seen, typed, moved, saved and taken back. */
let zaf: Instance;
let browser: Browser;
let address: string;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const count = 24;
const { attribute, button, doubleClick, find, pixels, press, run, saved, settled, text, undo, waitFor } =
  onPage(() => browser);

beforeAll(async () => {
  mkdirSync(frames, { recursive: true });
  const numbers = Array.from({ length: count }, (_, i) => i + 1);
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', numbers)]);
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'bloom', 'bloom').apply(doc);
  doc = setValue(doc, 'bloom', 'threshold', 0.1).apply(doc);
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

const bloom = async () => (await json<SavedFinish>(address)).document.strands[0].steps[0];
const keysOf = async (key: string) =>
  ((await bloom()).animation?.[key]?.keys ?? []).map((k) => [k.frame, k.value]);
const toFrame = async (n: number) => {
  await (await find(`section[aria-label=Frames] [aria-label="Frame ${n}"]`)).click();
  await settled();
};
async function type(field: WebElement, words: string) {
  await run('arguments[0].scrollIntoView({ block: "center" })', field);
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
}
const label = (words: string) => find(`[aria-label="${words}"]`);

describe('over time', () => {
  test('several values get keys by being changed on frames, while one wishes so', async () => {
    await press('t');
    await waitFor('section[aria-label=Time]');
    expect(await text('section[aria-label=Time]')).toContain('Nothing changes over time yet');
    await (await find('section[aria-label=Time] input[type=checkbox]')).click();
    for (const [frame, amount] of [
      [1, '0'],
      [9, '2'],
      [17, '0.5'],
    ] as const) {
      await toFrame(frame);
      await type(await find('[data-value=amount]'), amount);
      if (frame === 9) await type(await find('[data-value=radius]'), '40');
    }
    await saved();
    expect(await keysOf('amount')).toEqual([
      [1, 0],
      [9, 2],
      [17, 0.5],
    ]);
    expect(await keysOf('radius')).toEqual([[9, 40]]);
    await (await find('section[aria-label=Time] input[type=checkbox]')).click();
    await settled();
    const bright = await pixels();
    await toFrame(1);
    expect((await pixels()).mean).toBeLessThan(bright.mean);
  });

  test('a key that is dragged along its lane changes those frames alone, and Ctrl Z takes it back', async () => {
    const ready = () =>
      run<string>(
        `return [...document.querySelectorAll('[data-ready]')].map((e) => e.dataset.ready).join(' ')`,
      );
    await until('all ready', async () => (await ready()) === `1-${count}`, 60);
    const dot = await label('Key of Amount on frame 17: 0.50');
    const wide = await run<number>(
      `return document.querySelector('[data-lane="bloom/amount"]').getBoundingClientRect().width`,
    );
    const by = Math.round((wide / count) * 3);
    await run(`window.seen = [];
      const track = document.querySelector('[data-testid=track]');
      new MutationObserver(() => window.seen.push([...track.querySelectorAll('[data-ready]')].map((e) => e.dataset.ready).join(' ')))
        .observe(track, { subtree: true, childList: true, attributes: true });`);
    await browser.driver
      .actions()
      .move({ origin: dot })
      .press()
      .move({ origin: dot, x: by })
      .release()
      .perform();
    await saved();
    expect((await keysOf('amount')).map(([f]) => f)).toEqual([1, 9, 20]);
    const isReady = (runs: string, frame: number) =>
      runs.split(' ').some((r) => {
        const [a, b] = r.split('-').map(Number);
        return frame >= a && frame <= b;
      });
    const seen = () => run<string[]>('return window.seen');
    await until('some to make', async () => (await seen()).some((runs) => !isReady(runs, 15)), 20);
    await until('all ready again', async () => (await ready()) === `1-${count}`, 60);
    // Frames up to 9 and from 20 on are as they were, all the while.
    for (const runs of await seen())
      for (const frame of [1, 5, 9, 20, 24]) expect([runs, isReady(runs, frame)]).toEqual([runs, true]);
    await undo();
    await saved();
    expect((await keysOf('amount')).map(([f]) => f)).toEqual([1, 9, 17]);
  });

  test('a double click on a lane puts a key there, a box chooses keys of several values', async () => {
    const lane = await find('[data-lane="bloom/amount"]');
    const { width } = await lane.getRect();
    const x = Math.round(((12.5 - count / 2) / count) * width);
    await doubleClick(lane, { x, y: 0 });
    await until('a key', async () => (await keysOf('amount')).map(([f]) => f).join() === '1,9,13,17');
    await undo();
    await until('taken back', async () => (await keysOf('amount')).length === 3);
    const wide = (f: number) => Math.round(((f - 0.5 - count / 2) / count) * width);
    await browser.driver
      .actions()
      .move({ origin: lane, x: wide(7), y: -8 })
      .press()
      .move({ origin: await find('[data-lane="bloom/radius"]'), x: wide(18), y: 12 })
      .move({ origin: await find('[data-lane="bloom/radius"]'), x: wide(18), y: 13 })
      .release()
      .perform();
    const [first, second] = [
      await lane.getRect(),
      await (await find('[data-lane="bloom/radius"]')).getRect(),
    ];
    // The box reaches from one lane to the other, whichever is the upper one.
    expect(first.y).not.toBe(second.y);
    await until('some', async () => /^[23] of 4 keys/.test(await text('[data-testid=chosen-keys]')));
  });

  test('chosen keys are stretched by an end, about the other', async () => {
    await (await label('Key of Amount on frame 1: 0.00')).click();
    await browser.driver
      .actions()
      .keyDown(Key.SHIFT)
      .click(await label('Key of Amount on frame 9: 2.00'))
      .click(await label('Key of Amount on frame 17: 0.50'))
      .keyUp(Key.SHIFT)
      .perform();
    await until('three', async () => /^3 of 4 keys/.test(await text('[data-testid=chosen-keys]')));
    const { width } = await (await find('[data-lane="bloom/amount"]')).getRect();
    const end = await label('Stretch the chosen keys by their last frame');
    const by = Math.round((width / count) * 4);
    await browser.driver
      .actions()
      .move({ origin: end })
      .press()
      .move({ origin: end, x: by })
      .release()
      .perform();
    await saved();
    expect((await keysOf('amount')).map(([f]) => f)).toEqual([1, 11, 21]);
    await undo();
    await saved();
    expect((await keysOf('amount')).map(([f]) => f)).toEqual([1, 9, 17]);
  });

  test('by keyboard alone a key is moved, copied, pasted and removed, and the step stays', async () => {
    await toFrame(21);
    const dot = await label('Key of Amount on frame 9: 2.00');
    await run('arguments[0].focus()', dot);
    const keys = (...all: string[]) =>
      browser.driver
        .actions()
        .sendKeys(...all)
        .perform();
    await keys(Key.ENTER);
    expect(await text('[data-testid=frame]')).toBe('0009');
    await keys(Key.ARROW_RIGHT);
    await until('moved', async () => (await keysOf('amount'))[1][0] === 10);
    await run(`document.querySelector('[aria-label="Key of Amount on frame 10: 2.00"]').focus()`);
    await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('c').keyUp(Key.CONTROL).perform();
    await toFrame(21);
    await run(`document.querySelector('[aria-label="Key of Amount on frame 10: 2.00"]').focus()`);
    await browser.driver.actions().keyDown(Key.CONTROL).sendKeys('v').keyUp(Key.CONTROL).perform();
    await until('pasted', async () => (await keysOf('amount')).at(-1)?.[0] === 21);
    await run(`document.querySelector('[aria-label="Key of Amount on frame 21: 2.00"]').focus()`);
    await keys(Key.DELETE);
    await until('removed', async () => (await keysOf('amount')).length === 3);
    expect((await bloom()).type).toBe('bloom');
  });

  test('a curve is shaped by its handle, a key is dragged in frames and value, a wheel zooms in', async () => {
    await (await button('Curves')).click();
    const amount = async () => (await bloom()).animation?.amount?.keys ?? [];
    const key = await label('Key of Amount on frame 10: 2.00');
    await key.click();
    const handle = await label('Handle out of Amount on frame 10');
    await browser.driver
      .actions()
      .move({ origin: handle })
      .press()
      .move({ origin: handle, x: 20, y: 40 })
      .release()
      .perform();
    await saved();
    const shaped = (await amount())[1];
    expect(shaped.out![1]).toBeLessThan(-0.2);
    // Joined: the other handle lies on the same line.
    expect(shaped.in![1] / shaped.in![0]).toBeCloseTo(shaped.out![1] / shaped.out![0], 6);
    const wide = await run<number>(
      `return document.querySelector('svg[aria-label=Curves]').getBoundingClientRect().width`,
    );
    const dot = await label('Key of Amount on frame 17: 0.50');
    const by = Math.round((wide / count) * 2);
    await browser.driver
      .actions()
      .move({ origin: dot })
      .press()
      .move({ origin: dot, x: by, y: -30 })
      .release()
      .perform();
    await saved();
    const [, , last] = await amount();
    expect(last.frame).toBe(19);
    expect(last.value as number).toBeGreaterThan(0.6);
    await undo();
    await undo();
    await saved();
    expect((await amount()).map((k) => [k.frame, k.value, k.out])).toEqual([
      [1, 0, undefined],
      [10, 2, undefined],
      [17, 0.5, undefined],
    ]);
    // A double click on the flat end of the curve.
    const box = await (await find('svg[aria-label=Curves]')).getRect();
    const end = await (await label('Key of Amount on frame 17: 0.50')).getRect();
    const where = {
      x: Math.round(((22.5 - count / 2) / count) * box.width),
      y: Math.round(end.y + end.height / 2 - (box.y + box.height / 2)),
    };
    await doubleClick(await find('svg[aria-label=Curves]'), where);
    await until('a key', async () => (await amount()).length === 4);
    expect((await amount())[3]).toMatchObject({ frame: 23, value: 0.5 });
    await undo();
    await until('taken back', async () => (await amount()).length === 3);
    const place = async () => (await (await label('Key of Amount on frame 17: 0.50')).getRect()).x;
    const before = await place();
    const middle = await find('svg[aria-label=Curves]');
    const wheel = browser.driver.actions() as unknown as {
      scroll(x: number, y: number, dx: number, dy: number, at: WebElement): { perform(): Promise<void> };
    };
    await wheel.scroll(0, 0, 0, -240, middle).perform();
    await until('zoomed', async () => Math.abs((await place()) - before) > 10);
    await (await button('All frames')).click();
    await until('all', async () => Math.abs((await place()) - before) < 2);
  });

  test('in the table every cell is typed, rows are chosen together, and a table is pasted', async () => {
    await (await button('Table')).click();
    await type(await label('Amount on frame 17'), '0.75');
    await until('typed', async () => (await keysOf('amount'))[2][1] === 0.75);
    const given = await label('Amount on frame 17');
    await given.click();
    await given.sendKeys(Key.chord(Key.CONTROL, 'a'), '0.9', Key.ESCAPE);
    await (await label('Choose all keys')).click();
    await (await label('Choose all keys')).click();
    await saved();
    expect((await keysOf('amount'))[2][1]).toBe(0.75);
    await type(await label('Amount on frame 1'), 'much');
    await until('said', async () => (await text('body')).includes('“much” is nothing that Amount can be'));
    await (await label('Choose the key of Amount on frame 1')).click();
    await (await label('Choose the key of Amount on frame 10')).click();
    await type(await label('Amount on frame 10'), '1.25');
    await until('both', async () => {
      const values = (await keysOf('amount')).map(([, v]) => v);
      return values[0] === 1.25 && values[1] === 1.25;
    });
    await run(
      `const at = document.querySelector('table[aria-label=Keys]').parentElement;
       const clipboardData = new DataTransfer();
       clipboardData.setData('text/plain', 'bloom\\tthreshold\\t4\\t0.3\\tlinear\\nbloom\\tthreshold\\t8\\t0.6');
       at.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true }));`,
    );
    await until('pasted', async () => (await keysOf('threshold')).length === 2);
    expect(await keysOf('threshold')).toEqual([
      [4, 0.3],
      [8, 0.6],
    ]);
  });

  test('a flicker moves a number on top of its keys, is there after a reload, and becomes keys', async () => {
    const add = await button('Add a flicker to Threshold');
    // Above it stands the name of the step.
    await run(`arguments[0].scrollIntoView({ block: 'center' })`, add);
    await add.click();
    const group = await waitFor('[aria-label="Flicker of Threshold"]');
    await type((await group.findElements({ css: '[aria-label="Depth"]' }))[0], '0.2');
    await until('saved', async () => {
      const [m] = (await bloom()).animation?.threshold?.modulators ?? [];
      return m?.type === 'flicker' && m.depth === 0.2;
    });
    await browser.driver.navigate().refresh();
    await waitFor('[data-testid=viewer]');
    await settled();
    const value = async (frame: number) => {
      await toFrame(frame);
      return Number(await attribute('[data-value=threshold]', 'value'));
    };
    const values = [await value(12), await value(14), await value(16)];
    expect(new Set(values).size).toBeGreaterThan(1);
    const toKeys = await button('To keys');
    await run(`arguments[0].scrollIntoView({ block: 'center' })`, toKeys);
    await toKeys.click();
    await saved();
    expect((await bloom()).animation?.threshold?.modulators).toBeUndefined();
    expect((await keysOf('threshold')).length).toBeGreaterThan(2);
    expect(Math.abs((await value(14)) - values[1])).toBeLessThan(0.15);
  });
});

describe('guides', () => {
  const choose = (list: string, value: string) =>
    run(
      `const list = document.querySelector(\`[aria-label="\${arguments[0]}"]\`);
       Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, arguments[1]);
       list.dispatchEvent(new Event('change', { bubbles: true }));`,
      list,
      value,
    );

  const lamp = (n: number) => ({ x: 40 + 9.5 * n, y: 60 + 3 * n });

  test('rays follow a lamp that a strand shows, frame by frame; a ring is dragged on the picture', async () => {
    const lit = join(frames, 'lit');
    mkdirSync(lit);
    for (let n = 1; n <= 12; n++) {
      const at = lamp(n);
      // Five by five pixels of light, the edge of which lies between pixels.
      const share = (v: number, c: number) => Math.max(0, Math.min(1, 3 - Math.abs(v + 0.5 - c)));
      writeFrame(join(lit, `lit.${String(n).padStart(4, '0')}.exr`), (x, y) => {
        const light = 0.05 + 20 * share(x, at.x) * share(y, at.y);
        return [light, light, light];
      });
    }
    const id = await importShot(zaf.address, 'lit', [join(lit, 'lit.####.exr')]);
    const pass = { type: 'pass', media: 'lit', pass: '' } as const;
    let doc = newFinish('finish', 'First finish', pass);
    doc = addStep('main', 0, 'light-rays', 'rays').apply(doc);
    doc = addStrand(doc, pass, 'picture', 'Lamp').apply(doc);
    const lampStrand = doc.strands[1].id;
    doc = addStep(lampStrand, 0, 'luminance-key', 'key').apply(doc);
    doc = setValues(doc, 'key', { low: 20, lowSoft: 19.9 }).apply(doc);
    address = await giveFinish(zaf.address, id, doc);
    await browser.driver.get(`${zaf.address}/shots/${id}`);
    await waitFor('[data-testid=viewer]');
    await settled();
    await press('t');
    await (await button('Guides')).click();
    await (await button('Add a guide')).click();
    await choose('Measure Guide 1', `middle:${lampStrand}`);
    const guide = async () => (await json<SavedFinish>(address)).document.guides?.[0];
    await until('measured', async () => (await guide())?.x.length === 12, 40);
    const found = (await guide())!;
    for (const [i, { frame, value }] of found.x.entries()) {
      expect(frame).toBe(i + 1);
      expect(Math.abs(value - (lamp(frame).x - 160))).toBeLessThan(0.3);
      expect(Math.abs(found.y[i].value - (90 - lamp(frame).y))).toBeLessThan(0.3);
    }
    await choose('Centre of Light rays follows', 'guide');
    await saved();
    for (const n of [1, 3, 6, 9, 12]) {
      await toFrame(n);
      const [x, y] = await Promise.all(
        ['centreX', 'centreY'].map(async (key) => Number(await attribute(`[data-value=${key}]`, 'value'))),
      );
      expect(Math.abs(x - (lamp(n).x - 160))).toBeLessThan(0.6);
      expect(Math.abs(y - (90 - lamp(n).y))).toBeLessThan(0.6);
    }
    const ring = await find('[data-testid="guide-Guide 1"]');
    await browser.driver
      .actions()
      .move({ origin: ring })
      .press()
      .move({ origin: ring, x: 30 })
      .release()
      .perform();
    await saved();
    expect((await guide())!.x[11].value).toBeGreaterThan(found.x[11].value + 5);
    await undo();
    await saved();
    expect((await guide())!.x[11].value).toBe(found.x[11].value);
  });

  test('the light that a step adds is seen over time, and held at its level on a frame', async () => {
    const rays = async () => (await json<SavedFinish>(address)).document.strands[0].steps[0];
    await (await find('[data-step=rays]')).click();
    await (await button('Lanes')).click();
    await choose('Measured over time', 'Added light › Light rays');
    await until('its course', async () => / %$/.test((await text('[data-testid=measured-lane]')).trim()), 30);
    await toFrame(6);
    await (await find('section[aria-label=Time] input[type=checkbox]')).click();
    const hold = await button('Constant level');
    await run(`arguments[0].scrollIntoView({ block: 'center' })`, hold);
    await hold.click();
    await until('a level', async () => (await rays()).animation?.amount?.modulators?.length === 1, 60);
    const [level] = (await rays()).animation!.amount.modulators!;
    if (level.type !== 'level') throw new Error('It is no level.');
    expect([level.frame, level.shares.length]).toEqual([6, 12]);
    const shareOn = (n: number) => level.shares.find(([f]) => f === n)![1];
    expect(shareOn(6)).toBeGreaterThan(0);
    const plain = (await rays()).values.amount as number;
    for (const n of [2, 6, 11]) {
      await toFrame(n);
      const amount = Number(await attribute('[data-value=amount]', 'value'));
      expect(Math.abs(amount / ((plain * shareOn(6)) / shareOn(n)) - 1)).toBeLessThan(0.02);
    }
  });

  test('rays follow a place of the scene by the camera of each frame; a patch of the picture is followed as well', async () => {
    const filmed = join(frames, 'filmed');
    mkdirSync(filmed);
    // A wall at z = −10 that is seen by a camera which goes to the right: a unit of the world is so many pixels.
    const pixel = (2 * Math.tan(Math.PI / 6) * 10) / 320;
    const cameraX = (n: number) => 0.35 * n;
    const wall = (n: number) => (x: number, y: number) =>
      [cameraX(n) + (x + 0.5 - 160) * pixel, (90 - y - 0.5) * pixel, -10] as const;
    const count = 9;
    for (let n = 1; n <= count; n++) {
      const position = wall(n);
      writeFrame(
        join(filmed, `filmed.${String(n).padStart(4, '0')}.exr`),
        (x, y) => {
          const [u, v] = position(x, y);
          const light =
            0.4 + 0.2 * Math.sin(u * 5.1) * Math.cos(v * 4.3) + 0.15 * Math.sin(u * 2.3 + v * 3.7);
          return [light, light * 0.9, light * 0.8];
        },
        () => 10,
        {
          position,
          attributes: {
            worldToCamera: {
              type: 'm44f',
              value: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -cameraX(n), 0, 0, 1],
            },
            fieldOfView: { type: 'float', value: 60 },
          },
        },
      );
    }
    const id = await importShot(zaf.address, 'filmed', [join(filmed, 'filmed.####.exr')]);
    let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'filmed', pass: '' });
    doc = addStep('main', 0, 'light-rays', 'rays').apply(doc);
    address = await giveFinish(zaf.address, id, doc);
    await browser.driver.get(`${zaf.address}/shots/${id}`);
    await waitFor('[data-testid=viewer]');
    await settled();
    await press('t');
    await (await button('Guides')).click();
    await (await button('Add a guide')).click();
    await (await button('Add a guide')).click();
    await toFrame(5);
    const clickOn = async (x: number, y: number) => {
      const canvas = await find('[data-testid=viewer]');
      const { width, height } = await canvas.getRect();
      const scale = Math.min(width / 320, height / 180);
      await browser.driver
        .actions()
        .move({ origin: canvas, x: Math.round((x - 160) * scale), y: Math.round((y - 90) * scale) })
        .click()
        .perform();
    };
    await (await find('[aria-label="Guide Guide 1"] [aria-label="Pick a place in the scene"]')).click();
    await clickOn(180, 70);
    const guides = async () => (await json<SavedFinish>(address)).document.guides ?? [];
    await until('the scene', async () => (await guides())[0]?.x.length === count, 40);
    const [scene] = await guides();
    if (scene.source?.type !== 'scene') throw new Error('The guide does not say its scene.');
    const [px, py] = scene.source.place;
    expect(scene.source.place[2]).toBeCloseTo(-10, 4);
    // Where the pixel's own position is the place, to the size of a pixel.
    for (const [i, { frame, value }] of scene.x.entries()) {
      expect(Math.abs(value - (px - cameraX(frame)) / pixel)).toBeLessThan(0.02);
      expect(Math.abs(scene.y[i].value - py / pixel)).toBeLessThan(0.02);
    }
    await (await find('[aria-label="Guide Guide 2"] [aria-label="Follow a patch of the picture"]')).click();
    await clickOn(180, 70);
    await until('the patch', async () => (await guides())[1]?.x.length === count, 60);
    const [, patch] = await guides();
    const at5 = patch.x.find((k) => k.frame === 5)!.value;
    for (const { frame, value } of patch.x)
      expect(Math.abs(value - at5 - (cameraX(5) - cameraX(frame)) / pixel)).toBeLessThan(0.05);
    if (patch.source?.type !== 'patch') throw new Error('The guide does not say its patch.');
    expect(Math.min(...patch.source.confidence.map((c) => c.value))).toBeGreaterThan(0.95);
    await choose('Centre of Light rays follows', scene.id);
    await saved();
    for (const n of [1, 3, 5, 7, 9]) {
      await toFrame(n);
      const x = Number(await attribute('[data-value=centreX]', 'value'));
      expect(Math.abs(x - (px - cameraX(n)) / pixel)).toBeLessThan(0.6);
    }
    // A layer or a strand of shapes has pairs too; what is said of a source is there after a reload.
    await browser.driver.navigate().refresh();
    await settled();
    await press('t');
    await (await button('Guides')).click();
    expect(await text('[aria-label="Guide Guide 2"]')).toMatch(/≥ (0\.9|1\.0)/);
  });
});
