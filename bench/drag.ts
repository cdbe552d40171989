import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, until } from 'selenium-webdriver';
import type { SavedFinish } from '../api/finishes';
import { draftsBelow } from '../browser/engine/drafts';
import { addStep } from '../core/finish/edits';
import { setValue } from '../core/finish/value-edits';
import { readExr } from '../core/formats/exr/read';
import { writeExr } from '../core/formats/exr/write';
import { nodeZlib } from '../engine/node/zlib';
import { openBrowser } from '../tests/browser/chromium';
import { json, remove, startInstance } from '../tests/server/instance';

/**
 * The feel of a drag, in Chromium: the demo frame at 1920 by 1080 with six blooms. Each change is asked for as the viewer asks
 * (drafts by how long the full picture takes, then full) once the one before is shown; times run from the request to the pixels in the page's hands.
 */
const changes = 40;
const folder = mkdtempSync(join(tmpdir(), 'zafiro-drag-'));
mkdirSync(join(folder, 'frames'));

/** The demo frame's beauty at twice its size. */
const { header, samples } = readExr(readFileSync(process.argv[2]), nodeZlib, ['R', 'G', 'B', 'A']);
const [w, h] = [header.dataWindow.xMax + 1, header.dataWindow.yMax + 1];
const channels = [...samples].map(([name, from]) => {
  const twice = new Uint16Array(w * h * 4);
  for (let y = 0; y < 2 * h; y++)
    for (let x = 0; x < 2 * w; x++) twice[y * 2 * w + x] = from[(y >> 1) * w + (x >> 1)];
  return { name, type: 'half' as const, samples: twice };
});
const dataWindow = { xMin: 0, yMin: 0, xMax: 2 * w - 1, yMax: 2 * h - 1 };
writeFileSync(join(folder, 'frames/hall.0001.exr'), writeExr({ channels, dataWindow }, nodeZlib));

process.env.ZAFIRO_MEDIA_ROOTS = folder;
const zaf = await startInstance('start', join(folder, 'data'));
const { driver, end } = await openBrowser();
const percentile = (v: number[], p: number) =>
  [...v].sort((a, b) => a - b)[Math.min(v.length - 1, Math.floor(v.length * p))];

try {
  const body = JSON.stringify({
    project: 'Bench',
    shot: 'Drag',
    media: [{ pattern: join(folder, 'frames/hall.####.exr') }],
  });
  await json(`${zaf.address}/api/shots`, { method: 'POST', body });
  const saved = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
  let doc = saved.document;
  for (let i = 0; i < 6; i++) {
    doc = addStep('main', i, 'bloom', `b${i}`).apply(doc);
    doc = setValue(doc, `b${i}`, 'radius', 60 + 50 * i).apply(doc);
    doc = setValue(doc, `b${i}`, 'amount', 0.1).apply(doc);
  }
  const put = JSON.stringify({
    from: saved.version,
    label: 'bench',
    save: crypto.randomUUID(),
    document: doc,
  });
  await json(`${zaf.address}/api/finishes/1`, { method: 'PUT', body: put });
  await driver.get(`${zaf.address}/shots/1`);
  await driver.wait(
    until.elementLocated(By.css('[data-testid=shown][data-busy=false][data-scale="1"]')),
    60_000,
  );
  await driver.sleep(3000);
  await driver.manage().setTimeouts({ script: 300_000 });

  /** Milliseconds to the draft and to the full picture, for each of many values of a step. */
  const drag = (step: number, key: string, changes: number, scales: number[], from: number) =>
    driver.executeAsyncScript<Record<string, number>[]>(
      `const [finish, step, key, changes, scales, from, done] = arguments;
       (async () => {
         const times = [];
         for (let i = 0; i < changes; i++) {
           const doc = structuredClone(finish);
           doc.strands[0].steps[step].values[key] = from + i * 0.011;
           const began = performance.now();
           const at = {};
           await zafiroEngine.show({ request: { finish: doc, point: { strand: 'main', after: 'end' }, frame: 1 }, view: { look: 'colour', stops: 0, gamma: 1, backing: 'black', marks: false }, beside: {} }, scales,
             (s) => { at[s.scale] = performance.now() - began; });
           times.push(at);
         }
         done(times);
       })();`,
      doc,
      step,
      key,
      changes,
      scales,
      from,
    );
  const lines = [];
  for (const [name, step, key] of [
    ['last of six steps, amount', 5, 'amount'],
    ['fourth of six steps, threshold', 3, 'threshold'],
    ['first of six steps, threshold', 0, 'threshold'],
  ] as const) {
    // As the viewer does: by how long the full picture took.
    const full = percentile(
      (await drag(step, key, 6, [1], 0.9)).slice(2).map((t) => t[1]),
      0.5,
    );
    const scales = [...draftsBelow(full), 1];
    // The first few warm up.
    const times = (await drag(step, key, changes, scales, 0.3)).slice(4);
    const at = (scale: number) => times.map((t) => t[scale]);
    const [first] = scales;
    const half = scales.includes(0.5) ? percentile(at(0.5), 0.5).toFixed(0) : '';
    const cells = [
      `1/${1 / first}`,
      ...[0.5, 0.95].map((p) => percentile(at(first), p).toFixed(0)),
      half,
      percentile(at(1), 0.5).toFixed(0),
    ];
    lines.push(`| ${name} | ${cells.join(' | ')} |`);
  }
  process.stdout.write(`
1920 × 1080 in Chromium, six blooms, ${changes - 4} changes one after another, milliseconds from the request to the pixels in the page

| dragged | first draft | median | 95 % | draft at ½, median | full, median |
|---|---|---|---|---|---|
${lines.join('\n')}
`);
} finally {
  await end();
  await zaf.stop();
  remove(folder);
}
