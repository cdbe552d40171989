import { Key } from 'selenium-webdriver';
import type { SavedFinish } from '../api/finishes';
import { addStep } from '../core/finish/edits';
import { openBrowser } from '../tests/browser/chromium';
import { onPage, saveOf } from '../tests/browser/page';
import { importShot, writeFrames } from '../tests/browser/small-shot';
import { json, remove, startInstance, temporaryFolder } from '../tests/server/instance';

/**
 * How many components React renders for each move of a hand that drags one value of a finish of 40 steps. Counted by the hook through which React's own
 * developer tools look on: a component was rendered if it did work and its props, state or context differ from what they were before.
 */
const steps = 40;
const moves = 30;
const hook = `
  window.rendered = new Map();
  const didRender = (fiber) => {
    const before = fiber.alternate;
    if (before === null) return true;
    return (fiber.flags & 1) === 1 && (before.memoizedProps !== fiber.memoizedProps || before.memoizedState !== fiber.memoizedState || before.ref !== fiber.ref);
  };
  const visit = (fiber) => {
    for (let f = fiber; f !== null; f = f.sibling) {
      if ([0, 11, 14, 15].includes(f.tag) && didRender(f)) {
        const type = f.type.render ?? f.type.type ?? f.type;
        const name = (type.displayName || type.name) + ' ' + String(type).slice(0, 90);
        rendered.set(name, (rendered.get(name) ?? 0) + 1);
      }
      if (f.alternate === null || f.alternate.child !== f.child) visit(f.child);
    }
  };
  window.commits = 0;
  window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
    supportsFiber: true, renderers: new Map(), inject: () => 1, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
    onCommitFiberRoot(_, root) { commits++; visit(root.current); },
  };`;

const [data, frames] = [temporaryFolder(), temporaryFolder()];
process.env.ZAFIRO_MEDIA_ROOTS = frames;
const zaf = await startInstance('start', data);
const browser = await openBrowser();
const page = onPage(() => browser);
try {
  const shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  const { document, version } = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
  let doc = document;
  for (let i = 0; i < steps; i++)
    doc = addStep('main', i, i % 2 === 0 ? 'bloom' : 'gain', `s${i}`).apply(doc);
  await json(`${zaf.address}/api/finishes/1`, { method: 'PUT', body: saveOf(version, doc) });
  const { driver } = browser;
  const devTools = driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> };
  await devTools.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source: hook });
  await driver.get(`${zaf.address}/shots/${shot}`);
  await page.settled();
  await page.run(`zafiroSession.store.getState().change({ selected: 's0' })`);
  const slider = await page.waitFor('[aria-label="Step sheet"] input[type=range][aria-label^=Radius]');
  await page.settled();
  const rect = await slider.getRect();
  const [x, y] = [Math.round(rect.x + rect.width / 2), Math.round(rect.y + rect.height / 2)];
  const mouse = (type: string, at: number) =>
    devTools.sendDevToolsCommand('Input.dispatchMouseEvent', {
      ...{ type, x: at, y, button: 'left', clickCount: 1 },
      buttons: type === 'mouseReleased' ? 0 : 1,
    });
  await mouse('mousePressed', x);
  await mouse('mouseMoved', x + 1);
  await driver.sleep(1000);
  await page.run('rendered.clear(); commits = 0');
  for (let i = 1; i <= moves; i++) await mouse('mouseMoved', x + i);
  const counted = await page.run<[string, number][]>('return [...rendered]');
  const commits = await page.run<number>('return commits');
  await driver.actions().sendKeys(Key.ESCAPE).perform();
  await mouse('mouseReleased', x);
  const sum = counted.reduce((all, [, n]) => all + n, 0);
  console.log(
    `A value of ${steps} steps dragged: ${(sum / moves).toFixed(1)} components a move, ${(commits / moves).toFixed(1)} commits (goal 10).`,
  );
  for (const [name, n] of counted.sort((a, b) => b[1] - a[1]).slice(0, 30))
    console.log(`  ${(n / moves).toFixed(1)}  ${name.replace(/\s+/g, ' ')}`);
} finally {
  await browser.end();
  await zaf.stop();
  remove(data);
  remove(frames);
}
