import { mkdirSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { By, until } from 'selenium-webdriver';
import type { SavedFinish } from '../api/finishes';
import type { ShotDetail } from '../api/shots';
import { addStep } from '../core/finish/edits';
import { setValue } from '../core/finish/value-edits';
import { readExr } from '../core/formats/exr/read';
import { writeExr } from '../core/formats/exr/write';
import { nodeZlib } from '../engine/node/zlib';
import { openBrowser } from '../tests/browser/chromium';
import { json, remove, startInstance } from '../tests/server/instance';
import { writeWideFrame } from './wide-frame';

/**
 * Play in Chromium: how soon frames are ready, and how many come late once they are. One bloom, as in Lamps lit, on 24 frames (links to one) of
 * 1920 by 1080 and of 960 by 540, on a page as large as the frame. Argument: a demo frame.
 */
const frame = resolve(process.argv[2]);
const count = 24;
const folder = mkdtempSync(join(tmpdir(), 'zafiro-play-'));
mkdirSync(join(folder, 'frames'));
const wide = join(folder, 'wide.exr');
writeWideFrame(frame, wide);
/** The demo frame's beauty, at 48 frames a second. */
const half = join(folder, 'half.exr');
const { header, samples } = readExr(readFileSync(frame), nodeZlib, ['R', 'G', 'B', 'A']);
const channels = [...samples].map(([name, s]) => ({ name, type: 'half' as const, samples: s }));
const attributes = { framesPerSecond: { type: 'rational' as const, value: [48, 1] as [number, number] } };
writeFileSync(half, writeExr({ channels, dataWindow: header.dataWindow, attributes }, nodeZlib));
for (let n = 1; n <= count; n++) {
  const number = String(n).padStart(4, '0');
  symlinkSync(wide, join(folder, `frames/wide.${number}.exr`));
  symlinkSync(half, join(folder, `frames/half.${number}.exr`));
}
process.env.ZAFIRO_MEDIA_ROOTS = folder;
const zaf = await startInstance('start', join(folder, 'data'));
const { driver, end } = await openBrowser();
const lines: string[] = [];
const run = <T>(script: string, ...args: unknown[]) => driver.executeScript<T>(script, ...args);
const settled = () =>
  driver.wait(until.elementLocated(By.css('[data-testid=shown][data-busy=false][data-scale="1"]')), 60_000);
const ready = () => run<string>(`return document.querySelector('[data-ready]')?.dataset.ready ?? ''`);

try {
  for (const [name, rate, width, height] of [
    ['wide', 24, 1920, 1080],
    ['half', 48, 960, 540],
  ] as const) {
    const body = JSON.stringify({
      project: 'Bench',
      shot: name,
      media: [{ pattern: join(folder, `frames/${name}.####.exr`) }],
    });
    const { shot } = await json<{ shot: number }>(`${zaf.address}/api/shots`, { method: 'POST', body });
    const detail = await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
    const address = `${zaf.address}/api/finishes/${detail.finishes[0].id}`;
    const saved = await json<SavedFinish>(address);
    let doc = addStep('main', 0, 'bloom', 'bloom').apply(saved.document);
    doc = setValue(doc, 'bloom', 'threshold', 2).apply(doc);
    const put = { from: saved.version, label: 'bench', save: crypto.randomUUID(), document: doc };
    await json(address, { method: 'PUT', body: JSON.stringify(put) });
    // Room for the whole frame beside the panels.
    const metrics = { width: width + 660, height: height + 260, deviceScaleFactor: 1, mobile: false };
    await (
      driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> }
    ).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', metrics);
    const getsReady = async () => {
      const began = performance.now();
      await driver.get(`${zaf.address}/shots/${shot}`);
      await settled();
      const first = performance.now();
      while ((await ready()) !== `1-${count}`) await driver.sleep(50);
      return { open: first - began, made: performance.now() - first };
    };
    const cold = await getsReady();
    const warm = await getsReady();
    // A second to begin, then ten.
    await run('document.activeElement?.blur()');
    await driver.actions().sendKeys(' ').perform();
    await driver.sleep(1000);
    const late = () =>
      run<number>(`return Number(document.querySelector('[data-testid=playing]').dataset.late)`);
    const before = await late();
    await driver.sleep(10_000);
    const missed = (await late()) - before;
    const scale = await run<string>(`return document.querySelector('[data-testid=viewer]').dataset.scale`);
    const cells = [
      `${width} × ${height} at scale ${scale}`,
      (cold.open / 1000).toFixed(2),
      (warm.open / 1000).toFixed(2),
      ((count / cold.made) * 1000).toFixed(1),
      ((count / warm.made) * 1000).toFixed(1),
      `${rate}`,
      `${((100 * missed) / (10 * rate)).toFixed(1)} %`,
    ];
    lines.push(`| ${cells.join(' | ')} |`);
    process.stderr.write(`${cells.join(' · ')}\n`);
  }
  process.stdout.write(`
Play in Chromium, ${count} frames with one bloom; seconds from the address to the full picture, frames ready a second (the first 0.6 s rests), late frames in ten seconds

| frames | opened | once more | ready a second | once more | rate | late |
|---|---|---|---|---|---|---|
${lines.join('\n')}
`);
} finally {
  await end();
  await zaf.stop();
  remove(folder);
}
