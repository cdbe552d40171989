import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import { addStep, addStrand, newFinish } from '../../core/finish/edits';
import type { ShapesHead } from '../../core/finish/finish';
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
import { giveFinish, importShot, size, writeFrames } from './small-shot';

/** With fingers and a pen, as the browser gives their events: handles, shapes, values, the board, two fingers on the picture. */
let zaf: Instance;
let browser: Browser;
let shot: number;
const data = temporaryFolder();
const frames = temporaryFolder();
const { attribute, button, onScreen, run, settled, text, waitFor } = onPage(() => browser);

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
  doc = addStep('main', 0, 'light-rays', 'rays').apply(doc);
  for (const key of ['centreX', 'centreY']) doc = setValue(doc, 'rays', key, 10, 1).apply(doc);
  doc = addStrand(doc, { type: 'shapes', shapes: [] }, 'matte', 'Shapes').apply(doc);
  await giveFinish(zaf.address, shot, doc);
  browser = await openBrowser();
  await tell('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 5 });
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await settled();
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

type Point = { x: number; y: number };
type DevTools = { sendDevToolsCommand(command: string, params: object): Promise<void> };
const tell = (command: string, params: object) =>
  (browser.driver as unknown as DevTools).sendDevToolsCommand(command, params);
const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: Point[]) =>
  tell('Input.dispatchTouchEvent', {
    type,
    touchPoints: points.map((p, id) => ({ ...p, id, radiusX: 9, radiusY: 9 })),
  });
/** Fingers that go down together, along straight lines, and up. */
async function fingers(...lines: readonly (readonly [Point, Point])[]) {
  const at = (k: number) =>
    lines.map(([a, b]) => ({ x: Math.round(a.x + (b.x - a.x) * k), y: Math.round(a.y + (b.y - a.y) * k) }));
  await touch('touchStart', ...at(0));
  for (const k of [0.2, 0.4, 0.6, 0.8, 1]) await touch('touchMove', ...at(k));
  await touch('touchEnd');
}
async function tap(point: Point) {
  await touch('touchStart', point);
  await touch('touchEnd');
}
/** A pen that is pressed along points. */
async function pen(...points: Point[]) {
  const say = (type: string, p: Point) =>
    tell('Input.dispatchMouseEvent', {
      type,
      ...p,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
      pointerType: 'pen',
      force: 0.5,
    });
  await say('mousePressed', points[0]);
  for (const p of points.slice(1)) await say('mouseMoved', p);
  await say('mouseReleased', points[points.length - 1]);
}
const until = (what: string, done: () => Promise<boolean>) => untilWithin(what, done, 15);
const document = async () => (await json<SavedFinish>(`${zaf.address}/api/finishes/1`)).document;
const middleOf = (css: string) =>
  run<Point>(
    `const r = document.querySelector(arguments[0]).getBoundingClientRect();
     return { x: Math.round(r.left + r.width / 2), y: Math.round(r.top + r.height / 2) };`,
    css,
  );

test('a handle on the picture follows a finger, also one beside its middle', async () => {
  await waitFor('[data-handle="Centre"]');
  const values = async () => (await document()).strands[0].steps[0].values as Record<string, number>;
  const before = await values();
  const from = await onScreen(
    size,
    size.width / 2 + (before.centreX ?? 0),
    size.height / 2 - (before.centreY ?? 0),
  );
  const to = await onScreen(size, 60, 40);
  // A finger covers what it means: it comes down 8 pixels off.
  await fingers([
    { x: from.x + 8, y: from.y - 6 },
    { x: to.x + 8, y: to.y - 6 },
  ]);
  await until('the centre', async () => Math.abs((await values()).centreX - (60 - size.width / 2)) < 6);
  expect(Math.abs((await values()).centreY - (size.height / 2 - 40))).toBeLessThan(6);
});

test('a value is set by a finger on its slider, and its name is dragged', async () => {
  const length = async () => Number((await document()).strands[0].steps[0].values.length);
  const row = 'div:has(> label [data-value=length], > [data-value=length], > * > [data-value=length])';
  await run(`document.querySelector(arguments[0]).scrollIntoView({ block: 'center' })`, row);
  const slider = await middleOf(`${row} input[type=range]`);
  const before = await length();
  await fingers([slider, { x: slider.x + 12, y: slider.y }]);
  await until('a value', async () => (await length()) !== before);
  const slid = await length();
  const name = await middleOf(`${row} [class*=cursor-ew-resize]`);
  await fingers([name, { x: name.x - 40, y: name.y }]);
  await until('a smaller one', async () => (await length()) < slid);
});

test('a finger on the sheet scrolls it and changes nothing', async () => {
  const before = JSON.stringify(await document());
  const sheet = 'aside[aria-label="Step sheet"]';
  const at = await middleOf(sheet);
  await fingers([
    { x: at.x - 80, y: at.y + 150 },
    { x: at.x - 80, y: at.y - 150 },
  ]);
  await until('scrolled', async () =>
    run<boolean>(
      `let node = document.querySelector(arguments[0]);
       return [node, ...node.querySelectorAll('*')].some((n) => n.scrollTop > 50);`,
      sheet,
    ),
  );
  await new Promise((done) => setTimeout(done, 500));
  expect(JSON.stringify(await document())).toBe(before);
});

test('two fingers enlarge the picture about the place between them, and one pans it', async () => {
  const zoom = async () => Number.parseFloat((await text('[data-testid=zoom]')) || '0');
  const before = await zoom();
  const at = await middleOf('[data-testid=viewer]');
  await fingers(
    [
      { x: at.x - 40, y: at.y },
      { x: at.x - 120, y: at.y },
    ],
    [
      { x: at.x + 40, y: at.y },
      { x: at.x + 120, y: at.y },
    ],
  );
  await until('larger', async () => (await zoom()) > 2 * before);
  expect(await text('[data-testid=frame]')).toBe('0001');
});

test('the board is moved by one finger and made smaller by two', async () => {
  const scale = () => text('[data-testid=board-scale]');
  const place = () =>
    run<number>(`return document.querySelector('[data-testid=board] > div').getBoundingClientRect().left`);
  const before = await scale();
  const panel = await run<{ x: number; y: number }>(
    `const r = document.querySelector('[data-testid=board]').getBoundingClientRect();
     return { x: Math.round(r.left + r.width / 2), y: Math.round(r.bottom - 220) };`,
  );
  await fingers(
    [
      { x: panel.x - 100, y: panel.y },
      { x: panel.x - 30, y: panel.y },
    ],
    [
      { x: panel.x + 100, y: panel.y },
      { x: panel.x + 30, y: panel.y },
    ],
  );
  await until('smaller', async () => Number.parseFloat(await scale()) < 0.6 * Number.parseFloat(before));
  await fingers(
    [
      { x: panel.x - 20, y: panel.y },
      { x: panel.x - 140, y: panel.y },
    ],
    [
      { x: panel.x + 20, y: panel.y },
      { x: panel.x + 140, y: panel.y },
    ],
  );
  await until('larger', async () => Number.parseFloat(await scale()) > 100);
  const left = await place();
  await fingers([panel, { x: panel.x + 40, y: panel.y }]);
  await until('moved', async () => Math.abs((await place()) - left - 40) < 8);
});

test('a pen draws an outline, a finger moves the shape, and a tap chooses it', async () => {
  const shapes = async () => ((await document()).strands[1].head as ShapesHead).shapes;
  // The board lies aside from before.
  await browser.driver.actions().sendKeys('z').perform();
  await tap(await middleOf('[aria-label="Strand Shapes"]'));
  await (await button('Draw: freehand')).click();
  await waitFor('[data-testid=draw]');
  // The picture is enlarged from before: fitted in again.
  await run(`document.activeElement?.blur()`);
  await browser.driver.actions().sendKeys('f').perform();
  const around = await Promise.all(
    Array.from({ length: 24 }, (_, i) => {
      const a = (i / 23) * 2 * Math.PI;
      return onScreen(size, 160 + 60 * Math.cos(a), 90 + 45 * Math.sin(a));
    }),
  );
  await pen(...around);
  await until('the shape', async () => (await shapes()).length === 1);
  const xs = (points: readonly { x: number }[]) => points.map((p) => p.x);
  const path = async () => (await shapes())[0].path;
  expect(Math.min(...xs(await path()))).toBeCloseTo(100, -1);
  expect(Math.max(...xs(await path()))).toBeCloseTo(220, -1);
  const before = Math.min(...xs(await path()));
  const [a, b] = [await onScreen(size, 160, 90), await onScreen(size, 190, 100)];
  await fingers([a, b]);
  await until('moved', async () => Math.abs(Math.min(...xs(await path())) - before - 30) < 4);
  await tap(await onScreen(size, 190, 100));
  expect(await attribute('[data-save]', 'data-save')).not.toBe('failed');
});
