import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { addStep, newFinish } from '../../core/finish/edits';
import { setValue } from '../../core/finish/value-edits';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { engines, type Visitor } from './engines';
import { giveFinish, importShot, size, writeFrame } from './small-shot';

/** The same few minutes of work in the three browser engines: open, look, drag, play, save, reload; and the same bits in each. */
let zaf: Instance;
const data = temporaryFolder();
const frames = temporaryFolder();
const count = 12;
let digest: string | undefined;

beforeAll(async () => {
  for (let n = 1; n <= count; n++)
    writeFrame(join(frames, `hall.${String(n).padStart(4, '0')}.exr`), (x, y) => [
      0.1 + (Math.abs(x - 20 * n) < 20 ? 3 : 0),
      0.2 + y / 400,
      0.3 + x / size.width / 3,
    ]);
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await zaf?.stop();
  remove(data);
  remove(frames);
});

/** Bits of the finished frame as the engine in the page gives them, in 32 bits (FNV-1a, Fowler, Noll and Vo 1991). */
const askDigest = `
  const { finish, frame } = zafiroSession.store.getState();
  globalThis.digestOfFrame = '';
  const look = { request: { finish, point: { strand: 'main', after: 'end' }, frame }, view: { look: 'colour', stops: 0, gamma: 1, backing: 'black', marks: false }, beside: {} };
  const ask = async () => {
    const shown = [];
    await zafiroEngine.show(look, [1], (s) => shown.push(s));
    // The viewer may have asked for its own picture in between.
    if (shown.length === 0) return setTimeout(ask, 100);
    let hash = 0x811c9dc5;
    const { data, width, height } = shown[0];
    for (const byte of new Uint8Array(data.buffer)) hash = Math.imul(hash ^ byte, 0x01000193);
    globalThis.digestOfFrame = width + ' × ' + height + ': ' + (hash >>> 0).toString(16);
  };
  ask().catch((e) => { globalThis.digestOfFrame = String(e); });`;

describe.each(Object.entries(engines))('%s', (name, open) => {
  let visitor: Visitor;
  let shot: number;
  let finish: number;
  const settled = () =>
    until(
      'the full picture',
      () =>
        visitor.run<boolean>(
          `return document.querySelector('[data-testid=shown][data-scale="1"]')?.dataset.busy === 'false'`,
        ),
      60,
    );
  const amount = () =>
    visitor.run<number>(`return zafiroSession.store.getState().finish.strands[0].steps[0].values.threshold`);

  beforeAll(async () => {
    shot = await importShot(zaf.address, `hall in ${name}`, [join(frames, 'hall.####.exr')]);
    let doc = newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' });
    doc = addStep('main', 0, 'bloom', 'bloom').apply(doc);
    doc = setValue(doc, 'bloom', 'threshold', 0.6).apply(doc);
    await giveFinish(zaf.address, shot, doc);
    finish = (await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`)).finishes[0].id;
    visitor = await open();
  });
  afterAll(() => visitor?.end());

  test('opens a shot and shows its first picture', async () => {
    await visitor.go(`${zaf.address}/shots/${shot}`);
    await settled();
    const bright = await visitor.run<number>(
      `const canvas = document.querySelector('[data-testid=viewer]');
       const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
       return data.filter((v, i) => i % 4 === 0 && v > 200).length;`,
    );
    expect(bright).toBeGreaterThan(500);
    expect(await visitor.run<string>(`return document.body.innerText`)).not.toContain('engine stopped');
  });

  test('computes the bits that every other engine computes', async () => {
    await visitor.run(askDigest);
    const found = await until('the bits', () => visitor.run<string>('return globalThis.digestOfFrame'));
    expect(found).toMatch(/^320 × 180: [0-9a-f]+$/);
    digest ??= found;
    expect(found).toBe(digest);
  });

  test('drags a threshold, and what was dragged is saved and there after a reload', async () => {
    const before = await amount();
    await visitor.drag('input[type=range][aria-label="Threshold"]', 40);
    await until('another threshold', async () => (await amount()) !== before);
    const set = await amount();
    await until('saved', () =>
      visitor.run<boolean>(`return document.querySelector('[data-save]')?.dataset.save === 'saved'`),
    );
    const kept = await json<SavedFinish>(`${zaf.address}/api/finishes/${finish}`);
    expect(kept.document.strands[0].steps[0].values.threshold).toBe(set);
    await visitor.go(`${zaf.address}/shots/${shot}`);
    await settled();
    expect(await amount()).toBe(set);
  });

  test('plays every frame', async () => {
    await until(
      'frames that are ready',
      () =>
        visitor.run<boolean>(`return document.querySelector('[data-ready]')?.dataset.ready === '1-${count}'`),
      60,
    );
    await visitor.run(
      `globalThis.framesSeen = new Set();
       const look = () => { framesSeen.add(document.querySelector('[data-testid=viewer]').dataset.frame); requestAnimationFrame(look); };
       look();`,
    );
    await visitor.space();
    await until(
      'all frames played',
      async () => (await visitor.run<number>('return framesSeen.size')) === count,
      30,
    );
    await visitor.space();
    await settled();
  });
});
