import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import type { Finish, StackHead } from '../../core/finish/finish';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/** Light on drawings, built from a shot without a step: an edge of light, a part that glows, keys, layers, held and empty frames. */
let zaf: Instance;
let browser: Browser;
let finishId: number;
const data = temporaryFolder();
const drawn = join(data, 'demo/moth-and-comet');
const page = onPage(() => browser);
const { button, choose, find, pixels, press, run, saved, settled, undo, waitFor } = page;
const [width, height] = [1280, 720];

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = data;
  zaf = await startDemo(4, data);
  await until('the drawings', async () => existsSync(join(drawn, 'bell.0003.png')), 180);
  const media = ['sky.png', 'body.####.png', 'eyes.####.png'].map((name) => ({
    pattern: join(drawn, name),
    gaps: 'hold',
  }));
  const body = JSON.stringify({ project: 'Drawings', shot: 'Shot 1', media, stacked: true });
  const { shot } = await json<{ shot: number }>(`${zaf.address}/api/shots`, { method: 'POST', body });
  const detail = () => json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
  await until('all of them known', async () => (await detail()).media[2].frames.length === 2, 60);
  finishId = (await detail()).finishes[0].id;
  browser = await openBrowser();
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await settled();
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

const document = async (): Promise<Finish> => {
  await saved();
  return (await json<SavedFinish>(`${zaf.address}/api/finishes/${finishId}`)).document;
};
const step = async (id: string) => (await document()).strands[0].steps.find((s) => s.id === id);
/** Where a pixel of the frame lies on the page. */
const onScreen = (x: number, y: number) => page.onScreen({ width, height }, x, y);
/** The colour shown for a pixel of the frame. */
async function shownAt(x: number, y: number): Promise<number[]> {
  const at = await onScreen(x, y);
  return run<number[]>(
    `const canvas = document.querySelector('[data-testid=viewer]');
     const r = canvas.getBoundingClientRect();
     return Array.from(canvas.getContext('2d').getImageData(arguments[0] - r.left, arguments[1] - r.top, 1, 1).data);`,
    at.x,
    at.y,
  );
}
const addStep = async (words: string, id: string) => {
  await press(Key.INSERT);
  await (await waitFor('[aria-label="Search steps"]')).sendKeys(words, Key.ENTER);
  await waitFor(`[data-step=${id}][data-selected=true]`);
};
const type = async (value: string, to: string) => {
  const field = await waitFor(`[data-value=${value}]`);
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), to, Key.ENTER);
};
const toFrame = async (frame: number) => {
  await (await waitFor(`[aria-label^="Frame ${frame}"]`)).click();
  await settled();
};

// On the drawing of frames 1 and 2: the larger eye, the back of the body, the sky above it.
const [eye, back, above] = [
  [888, 293],
  [690, 340],
  [760, 120],
] as const;

test('the demo has this shot with its layers, a finish that burns and one as it was drawn', async () => {
  const shot = await json<ShotDetail>(`${zaf.address}/api/shots/2`);
  expect([shot.project, ...shot.finishes.map((f) => f.name)]).toEqual([
    'Moth and Comet',
    'Comet on fire',
    'As drawn',
    'Comet as film',
  ]);
  expect(Object.fromEntries(shot.media.map((m) => [m.name, m.gaps]))).toMatchObject({
    tail: 'hold',
    form_shade: 'empty',
  });
});

test('an edge of light on the figure, which follows its alpha', async () => {
  const layers = ((await document()).strands[0].head as StackHead).layers.map((l) => l.media);
  expect(layers).toEqual(['sky', 'body', 'eyes']);
  // The sky is opaque: the figure alone has an edge.
  await (await find('[aria-label="Strand Frame"]')).click();
  await (await button('Hide sky')).click();
  await settled();
  const bare = await pixels();
  await addStep('edge light', 'edge-light');
  await type('width', '9');
  await type('angle', '180');
  await settled();
  expect((await pixels()).mean).toBeGreaterThan(bare.mean + 0.05);
  await choose('[aria-label="lay"] select:has(option[value=light])', 'Added light alone');
  await until('the light alone', async () => (await step('edge-light'))?.values.show === 'light');
  await settled();
  // A thin edge: the middle of the thorax and the sky stay dark.
  expect(Math.max(...(await shownAt(826, 300)).slice(0, 3))).toBeLessThan(12);
  expect(Math.max(...(await shownAt(...above)).slice(0, 3))).toBe(0);
  expect((await pixels()).mean).toBeGreaterThan(0.02);
  expect((await step('edge-light'))?.values).toMatchObject({ width: 9, angle: 180 });
  await undo();
  await settled();
});

test('a part of the drawing glows: the inside of a shape traced on it', async () => {
  await addStep('glow', 'glow');
  await choose('[data-slot=lightMask]', 'Shapes');
  // The step stays in sight; its new matte is one jump away.
  await (await waitFor('[aria-label="Go to the source of Light mask"]')).click();
  await (await button('Draw: ellipse')).click();
  await waitFor('[data-testid=draw]');
  const [from, to] = [await onScreen(eye[0] - 18, eye[1] - 18), await onScreen(eye[0] + 18, eye[1] + 18)];
  await browser.driver
    .actions()
    .move(from)
    .press()
    .move({ x: (from.x + to.x) >> 1, y: (from.y + to.y) >> 1, duration: 60 })
    .move({ ...to, duration: 60 })
    .release()
    .perform();
  await until('the shape', async () => {
    const head = (await document()).strands.at(-1)?.head;
    return head?.type === 'shapes' && head.shapes.length === 1;
  });
  await (await find('[data-step=glow]')).click();
  await type('size', '14');
  await choose('[aria-label="lay"] select:has(option[value=taken])', 'Added light alone');
  await until('the light alone', async () => (await step('glow'))?.values.show === 'light');
  await settled();
  await until('the glowing eye', async () => (await shownAt(...eye))[1] > 30);
  expect(Math.max(...(await shownAt(...back)).slice(0, 3))).toBeLessThan(4);
});

test('the glow fades by keys: on one frame it is there, on another it is not', async () => {
  await (await button('Add a key to Amount')).click();
  await until('a key', async () => (await step('glow'))?.animation?.amount?.keys?.length === 1);
  await settled();
  const lit = (await shownAt(...eye))[1];
  await toFrame(3);
  await type('amount', '0');
  await until('two keys', async () => (await step('glow'))?.animation?.amount?.keys?.length === 2);
  expect((await step('glow'))?.animation?.amount?.keys?.map((k) => [k.frame, k.value])).toEqual([
    [1, 0.5],
    [3, 0],
  ]);
  await (await button('Previous key')).click();
  await until('the light of the first key', async () => (await shownAt(...eye))[1] === lit);
  await choose('[aria-label="Interpolation of Amount"]', 'Hold');
  await toFrame(2);
  await until('the same light, held', async () => (await shownAt(...eye))[1] === lit);
  await toFrame(3);
  await choose('[aria-label="lay"] select:has(option[value=taken])', 'Result');
  await toFrame(1);
});

test('a layer shown alone, pulled out as a strand, and put back', async () => {
  await (await find('[aria-label="Strand Frame"]')).click();
  await (await button('Open eyes')).click();
  await (await find('[aria-label="Layers"] li input[type=checkbox]')).click();
  await settled();
  await until('the eyes alone', async () => Math.max(...(await shownAt(...back)).slice(0, 3)) === 0);
  expect(Math.max(...(await shownAt(...eye)).slice(0, 3))).toBeGreaterThan(40);
  await undo();
  await until('all of them', async () => Math.max(...(await shownAt(...back)).slice(0, 3)) > 0);
  await (await button('Pull out as a strand')).click();
  await waitFor('[aria-label="Strand eyes"]');
  const pulled = await document();
  expect((pulled.strands[0].head as StackHead).layers[2].from).toEqual({ strand: 'strand-2', after: 'end' });
  await settled();
  expect(Math.max(...(await shownAt(...eye)).slice(0, 3))).toBeGreaterThan(40);
  await (await find('[aria-label="Strand Frame"]')).click();
  await (await button('Open eyes')).click();
  await (await button('Put back into the stack')).click();
  await until('put back', async () => !(await document()).strands.some((s) => s.id === 'strand-2'));
});

test('a frame without a drawing holds the last one, or is empty, as its layer says', async () => {
  await toFrame(1);
  await (await button('Open body')).click();
  const first = await shownAt(...back);
  expect(Math.max(...first.slice(0, 3))).toBeGreaterThan(20);
  await toFrame(2);
  await until('the held drawing', async () => String(await shownAt(...back)) === String(first));
  await choose('[aria-label="Media body"] label:last-of-type select', 'Empty');
  await until('an empty frame', async () => Math.max(...(await shownAt(...back)).slice(0, 3)) === 0);
  await toFrame(1);
  await until('the drawing of its own frame', async () => String(await shownAt(...back)) === String(first));
});
