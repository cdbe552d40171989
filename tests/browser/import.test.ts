import { mkdirSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { ShotDetail } from '../../api/shots';
import { writeExr } from '../../core/formats/exr/write';
import { floatsToHalves } from '../../core/formats/half';
import { nodeZlib } from '../../engine/node/zlib';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/** Frames come in through the real interface: dropped on the page, and from folders of the machine. */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();
const frames = temporaryFolder();
const { attribute, button, find, pixels, run, saved, settled, text, waitFor } = onPage(() => browser);

const [width, height] = [64, 36];
/** A frame with a beauty, a depth with sky, and an empty pass. */
function rendered(light: number): Uint8Array {
  const half = (v: number) => floatsToHalves(new Float32Array(width * height).fill(v));
  const depth = Float32Array.from({ length: width * height }, (_, i) =>
    i < width * 9 ? Infinity : 2 + i / 100,
  );
  const channels = [
    ...[...'RGB'].map((name) => ({ name, type: 'half' as const, samples: half(light) })),
    { name: 'depth.Z', type: 'float' as const, samples: depth },
    ...[...'RGB'].map((c) => ({ name: `rays.${c}`, type: 'half' as const, samples: half(0) })),
  ];
  return writeExr(
    { channels, dataWindow: { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 } },
    nodeZlib,
  );
}

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  browser = await openBrowser();
  for (const [layer, at, colour] of [
    ['01_sky', [1, 2, 3, 4], '#204060'],
    ['02_moth', [1, 3], '#f0c040'],
  ] as const) {
    mkdirSync(join(frames, 'moth', layer), { recursive: true });
    for (const f of at) {
      const part =
        layer === '01_sky'
          ? `<rect width="64" height="36" fill="${colour}"/>`
          : `<circle cx="${10 * f}" cy="18" r="8" fill="${colour}"/>`;
      const svg = `<svg width="64" height="36" xmlns="http://www.w3.org/2000/svg">${part}</svg>`;
      await sharp(Buffer.from(svg))
        .png()
        .toFile(join(frames, 'moth', layer, `${layer}.000${f}.png`));
    }
  }
});

afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  remove(data);
  remove(frames);
});

/** Drops files on the page, as a hand would. */
const drop = (files: { name: string; bytes: Uint8Array }[]) =>
  run(
    `const transfer = new DataTransfer();
     for (const { name, bytes } of arguments[0]) transfer.items.add(new File([Uint8Array.from(atob(bytes), (c) => c.charCodeAt(0))], name));
     const page = document.querySelector('main');
     for (const type of ['dragenter', 'dragover', 'drop'])
       page.dispatchEvent(new DragEvent(type, { dataTransfer: transfer, bubbles: true, cancelable: true }));`,
    files.map(({ name, bytes }) => ({ name, bytes: Buffer.from(bytes).toString('base64') })),
  );

test('a dropped sequence is listed with its gap and its passes before anything is copied', async () => {
  await browser.driver.get(`${zaf.address}/import`);
  await waitFor('input[name=path]');
  await drop([
    ...[1, 2, 5].map((f) => ({ name: `hall.000${f}.exr`, bytes: rendered(f / 10) })),
    { name: 'notes.txt', bytes: Buffer.from('hello') },
  ]);
  const row = await waitFor('[data-sequence=hall]');
  await until('the passes', async () => (await row.getText()).includes('3 passes'));
  const found = await row.getText();
  expect(found).toContain('1–5');
  expect(found).toContain('3 files');
  expect(found).toContain('2 missing: 3–4');
  expect(found).toContain('64 × 36');
  expect(found).toContain('3 passes: beauty, rays, depth');
  expect(await text('tfoot')).toContain('1 other file is no picture and is left out');
  expect(readdirSync(data)).not.toContain('media');
});

test('it is imported, stored by content, and the missing frame is said where it is looked at', async () => {
  await (await button('Import')).click();
  await settled();
  expect((await pixels()).mean).toBeGreaterThan(10);
  await until('the others', async () => (await text('[data-testid=arrived]')).includes('3 of 5 frames here'));
  await (await find('[aria-label="Frame 3, not here yet"]')).click();
  await until('the reason', async () =>
    (await text('main, body')).includes('Frame 3 of hall has not arrived yet'),
  );
  const shot = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
  expect(shot).toMatchObject({ name: 'hall', first: 1, last: 5, width, height });
  const stored = readdirSync(join(data, 'store')).flatMap((d) => readdirSync(join(data, 'store', d)));
  expect(stored).toHaveLength(3);
});

test('the same frames sent again are stored once', async () => {
  await browser.driver.get(`${zaf.address}/import`);
  await waitFor('input[name=path]');
  await drop([1, 2, 5].map((f) => ({ name: `again.${f}.exr`, bytes: rendered(f / 10) })));
  await waitFor('[data-sequence=again]');
  await (await button('Import')).click();
  await settled();
  const stored = readdirSync(join(data, 'store')).flatMap((d) =>
    readdirSync(join(data, 'store', d)).map((f) => join(data, 'store', d, f)),
  );
  expect(stored).toHaveLength(3);
  expect(stored.every((f) => statSync(f).nlink === 3)).toBe(true);
});

test('the overview shows every pass with its numbers; a strand is started from one; a kind is changed by hand', async () => {
  await browser.driver.get(`${zaf.address}/shots/1/passes`);
  const card = async (label: string) => (await waitFor(`[data-pass="${label}"]`)).getText();
  // Names come at once, numbers as the passes are read.
  await until('the numbers', async () => (await card('beauty')).includes('0.09998'));
  const depth = await card('depth');
  expect(depth).toContain('7.76 to 25.03');
  expect(depth).toContain('25 % of pixels are not finite (sky)');
  expect(await card('rays')).toContain('Empty');
  const picture = await run<number[]>(
    `const img = document.querySelector('[data-pass=depth] img');
     return img.decode().then(() => [img.naturalWidth, img.naturalHeight]);`,
  );
  expect(picture).toEqual([width, height]);

  await run(
    `const select = document.querySelector('[aria-label="Kind of rays"]');
     Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, 'emission');
     select.dispatchEvent(new Event('change', { bubbles: true }));`,
  );
  await until('the kind', async () => {
    const shot = await json<ShotDetail>(`${zaf.address}/api/shots/1`);
    return shot.media[0].passes.find((p) => p.name === 'rays')?.kind === 'emission';
  });

  await (await waitFor('[data-pass=depth] a')).click();
  await waitFor('[aria-label="Strand depth"]');
  await saved();
  const { document } = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
  expect(document.strands.map((s) => [s.name, s.kind])).toEqual([
    ['Frame', 'picture'],
    ['depth', 'data'],
  ]);
  // Undo takes it away again, by name.
  await (await button('Undo: start a strand from depth')).click();
  await saved();
});

test('a folder of layers becomes a stack in its order; a drawing is held where there is none', async () => {
  await browser.driver.get(`${zaf.address}/import`);
  const path = await waitFor('input[name=path]');
  await until('the first folder', async () => (await path.getAttribute('value')) !== '');
  await path.clear();
  await path.sendKeys(join(frames, 'moth'), Key.ENTER);
  const moth = await waitFor('[data-sequence="02_moth"]');
  expect(await moth.getText()).toContain('1 missing: 2');
  expect(await find('select[name=stacked]').getAttribute('value')).toBe('stack');
  expect(await find('[aria-label="Missing frames, 02_moth"]').getAttribute('value')).toBe('hold');
  await (await button('Import')).click();
  await settled();
  const shot = await json<ShotDetail>(`${zaf.address}/api/shots/3`);
  const { document } = await json<SavedFinish>(`${zaf.address}/api/finishes/${shot.finishes[0].id}`);
  expect(document.strands[0].head).toMatchObject({
    type: 'stack',
    layers: [{ media: '01_sky' }, { media: '02_moth' }],
  });
  const first = await pixels();
  // The moth in the middle of the row, over the sky (the sRGB codes of the drawings come back as they were).
  const at = (row: number[], x: number) => {
    const across = row.length / 4;
    // The viewer leaves a margin of 12 on each side.
    const p = Math.round(12 + (x / width) * (across - 24)) * 4;
    return row.slice(p, p + 3);
  };
  expect(at(first.row, 10)).toEqual([0xf0, 0xc0, 0x40]);
  expect(at(first.row, 50)).toEqual([0x20, 0x40, 0x60]);
  await (await waitFor('[aria-label="Frame 2"]')).click();
  await settled();
  expect((await pixels()).row).toEqual(first.row);

  await (await find('[aria-label="Strand Frame"]')).click();
  await (await button('Hide 02_moth')).click();
  await settled();
  await until('the moth hidden', async () => at((await pixels()).row, 10).join() === '32,64,96');
  await (await button('Undo: hide 02_moth')).click();
  await until('the moth back', async () => at((await pixels()).row, 10)[0] === 0xf0);
});

test('frames that arrive later, differ, or are half written are said so', async () => {
  const folder = join(frames, 'late');
  mkdirSync(folder);
  writeFileSync(join(folder, 'late.0001.exr'), rendered(0.2));
  writeFileSync(join(folder, 'late.0003.exr'), rendered(0.2).subarray(0, 900));
  const body = JSON.stringify({
    project: 'P',
    shot: 'S',
    media: [{ pattern: join(folder, 'late.####.exr') }],
  });
  const { shot } = await json<{ shot: number }>(`${zaf.address}/api/shots`, { method: 'POST', body });
  const state = async (f: number) =>
    (await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`)).media[0].frames.find((x) => x.frame === f);
  await until('the half frame noticed', async () => Boolean((await state(3))?.problem));
  expect((await state(3))!.problem).toMatch(/late\.0003\.exr.*(still being written|is partial)/);
  writeFileSync(join(folder, 'late.0003.exr'), rendered(0.2));
  await until(
    'the whole frame read',
    async () => (await state(3))?.state === 'ready' && !(await state(3))?.problem,
  );
  expect(await state(2)).toBeUndefined();
  const small = await sharp({ create: { width: 9, height: 9, channels: 3, background: 'red' } })
    .png()
    .toBuffer();
  writeFileSync(join(folder, 'late.0002.exr'), small);
  await until('another size noticed', async () => (await state(2))?.differs);
  expect((await state(2))!.differs).toBe(
    'Frame 2 has 9 by 9 pixels in place of 64 by 36 and other passes than frame 1.',
  );
  expect(await attribute('html', 'lang')).toBe('en');
});
