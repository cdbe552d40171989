import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import type { Finish, MixHead } from '../../core/finish/finish';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/** Air and surfaces on the rendered demo shot: mist on the depth histogram, its stops and colours, a place in the scene, a mix of passes. */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();
const page = onPage(() => browser);
const { button, choose, find, pixels, press, run, saved, settled, text, undo, waitFor } = page;
const size = { width: 960, height: 540 };

beforeAll(async () => {
  zaf = await startDemo(1, data);
  await until(
    'the demo frame',
    async () => {
      const shot = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
      return shot.media[0].frames.some((f) => f.state === 'ready');
    },
    180,
  );
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/1`);
  await settled();
});

afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

const document = async (): Promise<Finish> => {
  await saved();
  return (await json<SavedFinish>(`${zaf.address}/api/finishes/1`)).document;
};
const mist = async () => (await document()).strands[0].steps.find((s) => s.type === 'depth-mist');
const stops = async () => (await mist())?.values.stops as number[][];
const addStep = async (words: string, id: string) => {
  await press(Key.INSERT);
  await (await waitFor('[aria-label="Search steps"]')).sendKeys(words, Key.ENTER);
  await waitFor(`[data-step=${id}][data-selected=true]`);
};
const clickAt = async (x: number, y: number) =>
  browser.driver
    .actions()
    .move(await page.onScreen(size, x, y))
    .click()
    .perform();
/** From one place of the mist's histogram to another, in shares of its width and height. */
async function dragOnMist(from: [number, number], to: [number, number]) {
  const [left, top, wide, high] = await run<number[]>(
    `const r = document.querySelector('[data-testid=mist-histogram]').getBoundingClientRect();
     return [r.left, r.top, r.width, r.height];`,
  );
  const at = ([x, y]: [number, number]) => ({
    x: Math.round(left + x * wide),
    y: Math.round(top + y * high),
  });
  await browser.driver
    .actions()
    .move(at(from))
    .press()
    .move({ ...at(to), duration: 80 })
    .release()
    .perform();
}
/** Where a stop stands on the histogram, in shares. */
const placeOf = (stop: number) =>
  run<[number, number]>(
    `const svg = document.querySelector('[data-testid=mist-histogram]').getBoundingClientRect();
     const dot = document.querySelector('[data-stop="' + arguments[0] + '"]').getBoundingClientRect();
     return [(dot.left + dot.width / 2 - svg.left) / svg.width, (dot.top + dot.height / 2 - svg.top) / svg.height];`,
    stop,
  );

test('mist begins with the depth pass, between the percentiles of its values', async () => {
  const clear = await pixels();
  await addStep('depth mist', 'depth-mist');
  await settled();
  await until('mist', async () => (await pixels()).mean !== clear.mean);
  const step = (await mist())!;
  const doc = await document();
  expect(doc.strands.find((s) => s.id === step.slots.depth.strand)?.head).toMatchObject({ pass: 'depth' });
  // The hall's nearest twentieth ends at about 10 m, its farthest begins at about 29 m.
  expect(step.values.near).toBeCloseTo(9.9, 0);
  expect(step.values.far).toBeGreaterThan(25);
  expect(step.values.far).toBeLessThan(33);
  // All of it is one step back.
  await undo();
  await until('gone', async () => !(await mist()));
  await (await button('Redo: add Depth mist')).click();
  await until('back', async () => Boolean(await mist()));
  await (await waitFor('[data-step=depth-mist]')).click();
});

test('a stop is dragged along the histogram, another is added, and takes a colour from the picture', async () => {
  await waitFor('[data-testid=mist-histogram] [data-stop="1"]');
  const [x, y] = await placeOf(1);
  const first = await placeOf(0);
  await dragOnMist([x, y], [(x + first[0]) / 2, y]);
  await until('the stop half-way', async () => Math.abs((await stops())[1][0] - 0.5) < 0.06);
  await (await button('Add a stop')).click();
  await until('three stops', async () => (await stops()).length === 3);
  const added = (await stops())[2];
  expect(added[0]).toBeCloseTo((1 + (await stops())[1][0]) / 2, 2);
  await (await button('Pick the colour of the mist')).click();
  // The warm glow of a lamp, left of the middle.
  await clickAt(306, 293);
  await until('its colour', async () => (await stops())[2][2] !== added[2]);
  const [, , red, green, blue] = (await stops())[2];
  expect(red).toBeGreaterThan(2);
  expect(red).toBeGreaterThan(green);
  expect(green).toBeGreaterThan(blue);
  await (await button('Remove the stop')).click();
  await until('two stops', async () => (await stops()).length === 2);
});

test('a denser air is seen at once, and shown as a number on the card', async () => {
  const before = await pixels();
  const field = await waitFor('[data-value=visibility]');
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '12', Key.ENTER);
  await until('denser', async () => Math.abs((await pixels()).mean - before.mean) > 1);
  expect(await text('[data-step=depth-mist]')).toContain('Exponential');
});

test('a matte of what lies around a place, which is clicked on the picture', async () => {
  await (await button('Add a strand')).click();
  await (await waitFor('[aria-label="Search heads"]')).sendKeys('position of', Key.ENTER);
  await addStep('position solid', 'position-solid');
  await (await button('Pick the place on the picture')).click();
  await clickAt(306, 293);
  const solid = async () =>
    (await document()).strands.flatMap((s) => s.steps).find((s) => s.type === 'position-solid');
  await until('the place', async () => (await solid())?.values.centreX !== 0);
  // The star-globe is about 1.7 m to the left, 2.8 m up.
  expect((await solid())?.values.centreX).toBeCloseTo(-1.66, 0);
  expect((await solid())?.values.centreY).toBeCloseTo(2.8, 0);
  await until('its share', async () =>
    /^0\.[1-9]|^[1-9]/.test((await text('[data-testid=coverage]')).trim()),
  );
});

test('a mix of passes adds up to the beauty, and a lamp is turned down in it', async () => {
  await (await button('Add a strand')).click();
  await (await waitFor('[aria-label="Search heads"]')).sendKeys('pass mix', Key.ENTER);
  await until('the residual', async () => /at most/.test(await text('[data-testid=residual]')));
  const most = Number(/at most ([\d.e-]+)/.exec(await text('[data-testid=residual]'))?.[1]);
  // Five halves of up to 16 and more: each is off by half a unit in its last place, 1/256 there.
  expect(most).toBeGreaterThan(0);
  expect(most).toBeLessThan(0.05);
  const field = await waitFor('[data-value=gain-emission]');
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '0.33', Key.ENTER);
  const head = async () => (await document()).strands.at(-1)!.head as MixHead;
  await until(
    'its gain',
    async () => (await head()).passes.find((p) => p.pass === 'emission')?.gain === 0.33,
  );
  await (await find('[aria-label="Show the residual"]')).click();
  await until('the residual shown', async () => (await head()).show === 'residual');
});

test('reflections by angle come as a ready chain', async () => {
  // The board has many strands by now.
  await page.press('z');
  await (await find('[data-step=bloom]')).click();
  await (await button('Add a strand')).click();
  await (await waitFor('[aria-label="Search heads"]')).sendKeys('fresnel', Key.ENTER);
  await waitFor('[data-step=join][data-selected=true]');
  const doc = await document();
  const join = doc.strands[0].steps.find((s) => s.type === 'join')!;
  expect(join.values.mode).toBe('plus');
  expect(doc.strands.find((s) => s.id === join.slots.mask.strand)?.steps[0].type).toBe('facing');
  const before = await pixels();
  await choose('[aria-label="lay"] select', 'Over');
  await until('another picture', async () => (await pixels()).mean !== before.mean);
});
