import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, until } from 'selenium-webdriver';
import { addStep, addStrand, linkSlot, newFinish } from '../core/finish/edits';
import { openBrowser } from '../tests/browser/chromium';
import { giveFinish, importShot, writeFrames } from '../tests/browser/small-shot';
import { remove, startInstance } from '../tests/server/instance';

/** The board in Chromium: time from one picture of the screen to the next while forty strands are zoomed from all of them to a few and back. */
const strands = 40;
const turns = 240;
const folder = mkdtempSync(join(tmpdir(), 'zafiro-board-'));
process.env.ZAFIRO_MEDIA_ROOTS = folder;
const zaf = await startInstance('start', join(folder, 'data'));
const { driver, end } = await openBrowser();

try {
  const shot = await importShot(zaf.address, 'board', [writeFrames(folder, 'hall', [1])]);
  let doc = newFinish('finish', 'Board', { type: 'pass', media: 'hall', pass: '' });
  for (let i = 1; i < strands; i++) {
    doc = addStrand(doc, { type: 'pass', media: 'hall', pass: '' }, 'picture', `Key ${i}`).apply(doc);
    const { id } = doc.strands.at(-1)!;
    doc = addStep(id, 0, 'luminance-key', `key-${i}`).apply(doc);
    doc = addStep(id, 1, 'grow-shrink', `grow-${i}`).apply(doc);
    doc = addStep(id, 2, 'feather', `soft-${i}`).apply(doc);
    if (i > 12) continue;
    doc = addStep('main', doc.strands[0].steps.length, 'gain', `gain-${i}`).apply(doc);
    doc = linkSlot(doc, `gain-${i}`, 'mask', { strand: id, after: 'end' }).apply(doc);
  }
  await giveFinish(zaf.address, shot, doc);
  await driver.get(`${zaf.address}/shots/${shot}`);
  await driver.wait(until.elementLocated(By.css('[data-testid=board] [data-step]')), 60_000);
  // The small pictures of all of them come first.
  await driver.sleep(20_000);
  await driver.findElement(By.css('body')).sendKeys('gz');
  await driver.sleep(1000);
  const times = await driver.executeAsyncScript<number[]>(
    `const [turns, done] = arguments;
     const panel = document.querySelector('[data-testid=board]');
     const box = panel.getBoundingClientRect();
     const times = [];
     let before = performance.now();
     let n = 0;
     const next = (now) => {
       if (n > 0) times.push(now - before);
       before = now;
       if (n++ === turns) return done(times);
       // In for a while, then out again.
       const deltaY = n % 120 < 60 ? -14 : 14;
       panel.dispatchEvent(new WheelEvent('wheel', { deltaY, ctrlKey: true, clientX: box.left + 300, clientY: box.top + 300, bubbles: true, cancelable: true }));
       requestAnimationFrame(next);
     };
     requestAnimationFrame(next);`,
    turns,
  );
  const sorted = [...times].sort((a, b) => a - b);
  const at = (p: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * p))].toFixed(1);
  console.log(
    `board, ${strands} strands, zooming: median ${at(0.5)} ms a picture, 95 % ${at(0.95)} ms, most ${at(1)} ms`,
  );
} finally {
  await end();
  await zaf.stop();
  remove(folder);
}
