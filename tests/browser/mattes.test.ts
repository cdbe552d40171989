import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import type { Finish, IdsHead, ShapesHead } from '../../core/finish/finish';
import type { PathPoint } from '../../core/math/path';
import type { Key as Held } from '../../core/time/keys';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/** Mattes made on the picture: objects picked, shapes drawn, moved, animated and undone; the region; handles. */
let zaf: Instance;
let browser: Browser;
let untouched: Finish;
const data = temporaryFolder();
const page = onPage(() => browser);
const { attribute, button, choose, find, pixels, press, saved, settled, text, undo, waitFor } = page;
const [width, height] = [960, 540];

beforeAll(async () => {
  zaf = await startDemo(2, data);
  await until(
    'the demo frames',
    async () => {
      const shot = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
      return shot.media[0].frames.filter((f) => f.state === 'ready').length === 2;
    },
    180,
  );
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/1`);
  await settled();
  untouched = await document();
});

afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

const document = async () => {
  await saved();
  return (await json<SavedFinish>(`${zaf.address}/api/finishes/1`)).document;
};
const headNow = async <H>() => (await document()).strands.at(-1)!.head as unknown as H;
/** Where a pixel of the frame lies on the page. */
const onScreen = (x: number, y: number) => page.onScreen({ width, height }, x, y);
const clickAt = async (x: number, y: number, shift = false) => {
  const actions = browser.driver.actions();
  if (shift) actions.keyDown(Key.SHIFT);
  actions.move(await onScreen(x, y)).click();
  if (shift) actions.keyUp(Key.SHIFT);
  await actions.perform();
};
async function dragAcross(...points: [number, number][]) {
  const [from, ...rest] = await Promise.all(points.map(([x, y]) => onScreen(x, y)));
  const actions = browser.driver.actions().move(from).press();
  for (const to of rest) actions.move({ ...to, duration: 50 });
  await actions.release().perform();
}
const pathKeys = async () =>
  ((await headNow<ShapesHead>()).shapes[0].animation?.path?.keys ?? []) as Held<readonly PathPoint[]>[];
const toFrame = async (frame: number) => {
  await press(frame === 2 ? Key.ARROW_RIGHT : Key.ARROW_LEFT);
  await settled();
};

test('objects: hover names one, a click takes it into the matte, Shift takes it out; a pattern takes many', async () => {
  await waitFor('[data-slot=mask]');
  await choose('[data-slot=mask]', 'Objects of');
  // The step stays in sight; its new matte is one jump away.
  await (await waitFor('[aria-label="Go to the source of Mask"]')).click();
  await waitFor('[aria-label="Objects of the frame"] li');
  // A globe of the orrery, left of the middle.
  await browser.driver
    .actions()
    .move(await onScreen(306, 293))
    .perform();
  await until('the name', async () => /globe/.test(await text('[data-testid=object]')));
  const name = await text('[data-testid=object]');
  await clickAt(306, 293);
  await until('the object', async () => (await headNow<IdsHead>()).objects.length === 1);
  expect((await headNow<IdsHead>()).objects).toEqual([name]);
  await until('its share', async () => /0\.[1-9]/.test(await text('[data-testid=coverage]')));
  await clickAt(306, 293, true);
  await until('none', async () => (await headNow<IdsHead>()).objects.length === 0);
  const field = await find('[aria-label="Find objects, or add a pattern"]');
  await field.sendKeys('globe*', Key.ENTER);
  await until('the pattern', async () => (await headNow<IdsHead>()).objects[0] === 'globe*');
  await until('more than one', async () => {
    const checked = await browser.driver.findElements(
      By.css('[aria-label="Objects of the frame"] input:checked'),
    );
    return checked.length > 1;
  });
});

test('the bloom lands only on the chosen objects, and the matte can be seen over the picture', async () => {
  await settled();
  const kept = await pixels();
  await (await find('[data-step=bloom]')).click();
  await choose('[data-slot=mask]', 'Everywhere');
  await settled();
  expect((await pixels()).mean).toBeGreaterThan(kept.mean);
  await undo();
  await settled();
  await (await find('[aria-label="Strand globe*"]')).click();
  const bare = await pixels();
  await press('m');
  await until('the tint', async () => (await pixels()).mean !== bare.mean);
  await press('mmm');
  await settled();
});

test('a shape is drawn, moved, nudged, and animated between two frames', async () => {
  await (await find('[data-step=bloom]')).click();
  await choose('[data-slot=mask]', 'Shapes');
  // The step stays in sight; its new matte is one jump away.
  await (await waitFor('[aria-label="Go to the source of Mask"]')).click();
  await (await button('Draw: ellipse')).click();
  await waitFor('[data-testid=draw]');
  await dragAcross([300, 150], [380, 200], [500, 250]);
  await until('the shape', async () => (await headNow<ShapesHead>()).shapes.length === 1);
  const drawn = (await headNow<ShapesHead>()).shapes[0].path;
  expect(drawn).toHaveLength(4);
  expect(drawn[0].x).toBeCloseTo(500, -1);
  expect(drawn[3].y).toBeCloseTo(150, -1);
  // π/4 · 200 · 100 of 960 · 540 pixels are 3.03 %; a hand is no finer than the screen's pixels.
  await until(
    'its share',
    async () => Math.abs(Number.parseFloat(await text('[data-testid=coverage]')) - 3.03) < 0.1,
  );

  const x0 = async () => (await headNow<ShapesHead>()).shapes[0].path[0].x;
  const before = await x0();
  await dragAcross([400, 200], [430, 215], [450, 220]);
  await until('the move', async () => Math.abs((await x0()) - before - 50) < 4);
  const moved = await x0();
  await browser.driver.actions().keyDown(Key.SHIFT).sendKeys(Key.ARROW_RIGHT).keyUp(Key.SHIFT).perform();
  await until('the nudge', async () => Math.abs((await x0()) - moved - 10) < 0.01);

  await (await find('[aria-label="Add a key to Path"]')).click();
  await toFrame(2);
  await dragAcross([450, 220], [450, 280], [450, 320]);
  await until('a second key', async () => (await pathKeys()).length === 2);
  const [a, b] = await pathKeys();
  expect([a.frame, b.frame]).toEqual([1, 2]);
  expect(b.value[0].y - a.value[0].y).toBeCloseTo(100, -1);
  await toFrame(1);
});

test('a point is dragged alone, and a path is drawn point by point and taken away', async () => {
  await waitFor('[data-point="2"]');
  await browser.driver
    .actions()
    .move({ origin: await find('[data-point="2"]') })
    .press()
    .move({ origin: await find('[data-point="2"]'), x: -40, y: 0, duration: 80 })
    .release()
    .perform();
  await until('the point', async () => {
    const [{ value }] = await pathKeys();
    return value[2].x < value[0].x - 230;
  });
  await (await button('Draw: path')).click();
  await waitFor('[data-testid=draw]');
  for (const [x, y] of [
    [700, 300],
    [820, 320],
    [760, 420],
  ] as const)
    await clickAt(x, y);
  await press(Key.ENTER);
  await until('two shapes', async () => (await headNow<ShapesHead>()).shapes.length === 2);
  await clickAt(760, 340);
  await browser.driver.actions().sendKeys(Key.DELETE).perform();
  await until('one shape', async () => (await headNow<ShapesHead>()).shapes.length === 1);
});

test('a path that crosses itself is filled by the rule that is chosen, and opens so after a reload', async () => {
  await (await button('Draw: path')).click();
  await waitFor('[data-testid=draw]');
  // A star of five points around (680, 330), each joined with the next but one.
  for (let i = 0; i < 5; i++) {
    const turn = ((2 * i) / 5 - 0.25) * 2 * Math.PI;
    await clickAt(680 + 170 * Math.cos(turn), 330 + 170 * Math.sin(turn));
  }
  await press(Key.ENTER);
  await until('the star', async () => (await headNow<ShapesHead>()).shapes.length === 2);
  const share = async () => Number.parseFloat(await text('[data-testid=coverage]'));
  await settled();
  const whole = await share();
  const rule = await find('[aria-label="Fill rule"]');
  expect(await rule.getAttribute('value')).toBe('nonzero');
  await rule.sendKeys('Even-odd', Key.ENTER);
  // Its pentagon has sides of 0.449 radii: 0.347 of them squared, of 518400 pixels 1.94 %.
  await until('the hole', async () => Math.abs(whole - (await share()) - 1.94) < 0.15);
  const now = async () => (await headNow<ShapesHead>()).shapes[1].fillRule;
  expect(await now()).toBe('evenodd');
  await browser.driver.navigate().refresh();
  await settled();
  expect(await now()).toBe('evenodd');
  await (await find('[aria-label^="Undo: set fill rule of"]')).click();
  await until('the first rule', async () => (await now()) === undefined);
  await undo();
  await until('one shape', async () => (await headNow<ShapesHead>()).shapes.length === 1);
});

test('a caption is moved by its handle on the picture', async () => {
  await (await find('[aria-label="Strand Frame"]')).click();
  await press(Key.INSERT);
  await (await waitFor('[aria-label="Search steps"]')).sendKeys('caption', Key.ENTER);
  await waitFor('[data-handle="Caption"]');
  await settled();
  await dragAcross([480, 270], [520, 240], [580, 170]);
  const values = async () => (await document()).strands[0].steps.find((s) => s.type === 'caption')!.values;
  await until('the place', async () => Math.abs((await values()).moveX as number) > 10);
  expect((await values()).moveX).toBeCloseTo(100, -1);
  expect((await values()).moveY).toBeCloseTo(100, -1);
});

test('the centre of light rays is dragged by its handle, and the light follows', async () => {
  await (await find('[aria-label="Strand Frame"]')).click();
  await press(Key.INSERT);
  await (await waitFor('[aria-label="Search steps"]')).sendKeys('shafts', Key.ENTER);
  await waitFor('[data-handle="Centre"]');
  await settled();
  const before = await pixels();
  const values = async () => (await document()).strands[0].steps.find((s) => s.type === 'light-rays')!.values;
  // It begins in the middle of the light.
  const { centreX, centreY } = (await values()) as { centreX: number; centreY: number };
  expect(Math.abs(centreX)).toBeLessThan(width / 2);
  expect(Math.abs(centreY)).toBeLessThan(height / 2);
  const [x, y] = [width / 2 + centreX, height / 2 - centreY];
  await dragAcross([x, y], [x - 60, y - 20], [x - 180, y - 50]);
  await until('the centre', async () => Math.abs(((await values()).centreX as number) - centreX) > 100);
  expect((await values()).centreX).toBeCloseTo(centreX - 180, -1);
  expect((await values()).centreY).toBeCloseTo(centreY + 50, -1);
  await settled();
  expect((await pixels()).row).not.toEqual(before.row);
});

test('only a framed region is computed, until it is let go', async () => {
  await press('r');
  await waitFor('[data-testid=region]');
  await dragAcross([300, 200], [400, 260], [500, 300]);
  await until('the region', async () => (await text('[data-testid=shown]')).includes('region'));
  await press('r');
  await until('all of it', async () => !(await text('[data-testid=shown]')).includes('region'));
});

test('all of it is undone, step by step', async () => {
  for (let i = 0; i < 200; i++) {
    if ((await attribute('[aria-label="Nothing to undo"]', 'aria-label')) !== null) break;
    await (await find('[aria-label^="Undo: "]')).click();
  }
  expect(await document()).toEqual(untouched);
});
