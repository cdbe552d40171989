import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { By, type Origin, until as when } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import { PictureCache } from '../../core/evaluate/cache';
import { evaluate } from '../../core/evaluate/run';
import { addStep, linkPass, newFinish } from '../../core/finish/edits';
import type { Finish } from '../../core/finish/finish';
import { setValue } from '../../core/finish/value-edits';
import { steps } from '../../core/steps/registry';
import type { Value } from '../../core/steps/shared/define';
import { building } from '../../demo/building';
import { fileSource } from '../../engine/node/file-source';
import { formatNumber } from '../../ui/parts/format-value';
import { plainRuntime } from '../runtime';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';

/** The engine in Chromium: the same bits as in Node, and a drag that loses nothing. */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();

beforeAll(async () => {
  zaf = await startDemo(1, data);
  browser = await openBrowser();
});

afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

const located = (css: string) => browser.driver.wait(when.elementLocated(By.css(css)), 60_000);
async function openShot(query = '') {
  await browser.driver.get(`${zaf.address}/shots/1${query}`);
  await located('[data-testid=shown][data-busy=false][data-scale="1"]');
}

const emission = { type: 'pass', media: 'orrery_hall', pass: 'emission' } as const;
function finishWith(...steps: Record<string, Value>[]): Finish {
  let doc = newFinish('bits', 'Bits', { type: 'pass', media: 'orrery_hall', pass: '' });
  steps.forEach((values, i) => {
    doc = addStep('main', i, 'bloom', `b${i}`).apply(doc);
    for (const [key, value] of Object.entries(values)) doc = setValue(doc, `b${i}`, key, value).apply(doc);
  });
  return doc;
}
const second = finishWith(
  { threshold: 0.3, radius: 211.5, mode: 'screen' },
  { threshold: 2, tightness: 0.8, tint: [1, 0.7, 0.4], amount: 1.3 },
);
const lit = linkPass(second, 'b0', 'light', emission, 'emission').apply(second);
const kept = linkPass(lit, 'b1', 'mask', emission, 'emission', 'luminance').apply(lit);
const finishes: [string, Finish, number][] = [
  ['one bloom', finishWith({ threshold: 1.1, knee: 0.4, radius: 160, amount: 0.9 }), 1],
  ['two blooms, light and place from other passes', kept, 1],
  [
    'the added light alone, as a draft',
    finishWith({ threshold: 0.8, limit: 5, show: 'light', radius: 90 }),
    0.5,
  ],
];

const steepMist: Record<string, Record<string, Value>> = {
  'depth-mist': { near: 4, far: 40, noiseAmount: 0.5 },
  'mist-density': { near: 4, far: 40, noiseAmount: 0.5 },
};
/** Every step there is on a strand of its own, on each kind that it accepts, with all of its slots linked; and the strands' ids. */
function everyStep(): { finish: Finish; strands: [string, string][] } {
  const build = building(newFinish('every', 'Every step', { type: 'pass', media: 'orrery_hall', pass: '' }));
  const pass = (name: string) => ({ type: 'pass', media: 'orrery_hall', pass: name }) as const;
  const matte = build.strand('Glowing', pass('emission'), 'picture');
  build.step(matte, 'luminance-key', 'glowing', { low: 0.2, lowSoft: 0.5 });
  const sources = {
    picture: matte,
    matte,
    data: build.strand('Distance', pass('depth'), 'data'),
  };
  const other = build.strand('Normals', pass('normal'), 'data');
  const strands: [string, string][] = [];
  for (const spec of steps)
    for (const kind of spec.accepts ?? ['picture']) {
      const id = `${spec.id}-on-${kind}`;
      const strand =
        kind === 'picture'
          ? build.strand(id, pass(''), 'picture')
          : build.strand(id, { type: 'tap', strand: kind === 'matte' ? matte : other, after: 'end' }, kind);
      build.step(strand, spec.id, id, {
        ...('camera' in spec.values ? { camera: 'typed' } : {}),
        ...steepMist[spec.id],
      });
      for (const [slot, { kind: wanted }] of Object.entries(spec.slots))
        build.link(id, slot, sources[wanted], wanted === 'picture' ? 'head' : 'end');
      strands.push([id, strand]);
    }
  return { finish: build.doc, strands };
}
const every = everyStep();

const inChromium = (finish: Finish, scale: number, strand = 'main') =>
  browser.driver.executeAsyncScript<string>(
    `const [finish, scale, strand, done] = arguments;
     const shown = [];
     zafiroEngine.show({ request: { finish, point: { strand, after: 'end' }, frame: 1 }, view: { look: 'colour', stops: 0, gamma: 1, backing: 'black', marks: false }, beside: {} }, [scale], (s) => shown.push(s))
       .then(async () => {
         const hash = await crypto.subtle.digest('SHA-256', shown[0].data);
         done(Array.from(new Uint8Array(hash), (b) => b.toString(16).padStart(2, '0')).join(''));
       }, (e) => done(String(e)));`,
    finish,
    scale,
    strand,
  );
/** Evaluates in Node, on one thread; what was read stays in a cache for the next question. */
function inNode() {
  const runtime = plainRuntime(1024);
  const source = fileSource({
    orrery_hall: { pattern: join(data, 'demo/orrery-hall/orrery_hall.####.exr') },
  });
  const run = { runtime, source, cache: new PictureCache(runtime.arena, 2 ** 28) };
  return (finish: Finish, scale: number, strand = 'main'): Promise<string> =>
    evaluate({ finish, point: { strand, after: 'end' }, frame: 1, scale }, run, ({ channels, data }) => {
      // The page shows a matte as an opaque grey picture.
      const shown =
        channels === 4
          ? data
          : Float32Array.from({ length: data.length * 4 }, (_, i) => (i % 4 === 3 ? 1 : data[i >> 2]));
      const bytes = new Uint8Array(shown.buffer, shown.byteOffset, shown.byteLength);
      return createHash('sha256').update(bytes).digest('hex');
    });
}

describe.each([
  ['a thread pool on shared memory', ''],
  ['one thread on plain memory', '?alone'],
])('Chromium, %s', (_, query) => {
  beforeAll(() => openShot(query));

  test.each(finishes)('gives the bits of Node: %s', async (_name, finish, scale) => {
    await browser.driver.manage().setTimeouts({ script: 60_000 });
    expect(await inChromium(finish, scale)).toBe(await inNode()(finish, scale));
  });

  test('gives the bits of Node: every step with all of its slots linked', async () => {
    await browser.driver.manage().setTimeouts({ script: 60_000 });
    const node = inNode();
    const digests = new Set<string>();
    const differ: string[] = [];
    for (const [name, strand] of every.strands) {
      const digest = await node(every.finish, 0.25, strand);
      digests.add(digest);
      if ((await inChromium(every.finish, 0.25, strand)) !== digest) differ.push(name);
    }
    expect(differ).toEqual([]);
    // Most do something, each something else; some leave the picture as it is with their first values.
    expect(digests.size).toBeGreaterThan(every.strands.length * 0.65);
  });
});

test('a request that is overtaken answers at once, and the newest is the one that is shown', async () => {
  await openShot();
  const answers = await browser.driver.executeAsyncScript<unknown[]>(
    `const [finish, done] = arguments;
     const seen = [];
     const ask = (radius) => {
       const doc = structuredClone(finish);
       doc.strands[0].steps[0].values.radius = radius;
       return zafiroEngine.show({ request: { finish: doc, point: { strand: 'main', after: 'end' }, frame: 1 }, view: { look: 'colour', stops: 0, gamma: 1, backing: 'black', marks: false }, beside: {} }, [0.5, 1], (s) => seen.push([radius, s.scale]));
     };
     Promise.all([50, 60, 70, 80].map(ask)).then((ended) => done([ended.map((e) => e ?? null), seen.at(-1)]));`,
    finishes[0][1],
  );
  expect(answers).toEqual([
    [null, null, null, true],
    [80, 1],
  ]);
});

test('dragging a slider for 5 s loses no update: the last value is shown in full, saved, and there after a reload', async () => {
  await openShot();
  const slider = await located('input[type=range][aria-label="Threshold"]');
  const { width } = await slider.getRect();
  const drag = browser.driver.actions().move({ origin: slider, x: 0, y: 0 }).press();
  for (let i = 1; i <= 100; i++) {
    const x = Math.round((width / 2 - 8) * Math.sin(i / 7) * 0.8);
    drag.move({ origin: slider as unknown as Origin, x, y: 0, duration: 50 });
  }
  await drag.release().perform();
  const canvas = () =>
    browser.driver.executeScript<string>("return document.querySelector('[data-testid=viewer]').toDataURL()");
  const settled = async () => {
    const state = "return document.querySelector('[data-save]')?.getAttribute('data-save')";
    await until('saved', async () => (await browser.driver.executeScript(state)) === 'saved', 30);
    await browser.driver.sleep(300);
    await located('[data-testid=shown][data-busy=false][data-scale="1"]');
    await browser.driver.sleep(100);
  };
  await settled();
  const shown = await (await located('[data-value=threshold]')).getAttribute('value');
  const picture = await canvas();
  const { document } = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
  expect(formatNumber(document.strands[0].steps[0].values.threshold as number)).toBe(shown);
  await openShot();
  await settled();
  expect(await (await located('[data-value=threshold]')).getAttribute('value')).toBe(shown);
  expect(await canvas()).toBe(picture);
});
