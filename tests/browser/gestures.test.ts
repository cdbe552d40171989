import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { By, Key, Origin } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import { addStep, newFinish } from '../../core/finish/edits';
import type { Strand } from '../../core/finish/finish';
import { formatNumber } from '../../ui/parts/format-value';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage, saveOf } from './page';
import { importShot, writeFrames } from './small-shot';

/**
 * Whatever somebody does with real keys and hands, in two windows, left, come back to and reloaded: at the end the screen, the store and the
 * database show the same document.
 */
let zaf: Instance;
let browser: Browser;
let shot: number;
let windows: string[];
const data = temporaryFolder();
const frames = temporaryFolder();
const { find, press, run, waitFor } = onPage(() => browser);

const first = addStep('main', 0, 'bloom', 'bloom').apply(
  newFinish('finish', 'First finish', { type: 'pass', media: 'hall', pass: '' }),
);

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  shot = await importShot(zaf.address, 'hall', [writeFrames(frames, 'hall', [1, 2])]);
  browser = await openBrowser();
  await json(`${zaf.address}/api/finishes/1`, { method: 'PUT', body: saveOf(1, first) });
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await waitFor('[data-value=amount]');
  const one = await browser.driver.getWindowHandle();
  await browser.driver.switchTo().newWindow('window');
  await browser.driver.get(`${zaf.address}/shots/${shot}`);
  await waitFor('[data-value=amount]');
  windows = [one, await browser.driver.getWindowHandle()];
});

afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

type Gesture = { what: (typeof gestures)[number]; n: number; window: 0 | 1 };
const gestures = [
  'number',
  'slider key',
  'drag',
  'drag, Escape',
  'note',
  'note, Escape',
  'switch',
  'undo',
  'redo',
  'bypass',
  'duplicate',
  'remove',
  'select',
  'passes and back',
  'reload',
] as const;
const sequence = fc.array(
  fc.record({
    what: fc.constantFrom(...gestures),
    n: fc.nat(999),
    // Mostly in one, as people do.
    window: fc.constantFrom<0 | 1>(0, 0, 0, 1),
  }),
  { minLength: 2, maxLength: 6 },
);

const chord = (key: string, ...held: string[]) => {
  const keys = browser.driver.actions();
  for (const k of held) keys.keyDown(k);
  keys.sendKeys(key);
  for (const k of held) keys.keyUp(k);
  return keys.perform();
};
/** Something on the sheet of the chosen step; nothing is chosen where there are no steps. */
const has = (css: string) => run<boolean>('return document.querySelector(arguments[0]) !== null', css);

async function drag(css: string, by: number, escapes: boolean) {
  await run(`document.querySelector(arguments[0]).scrollIntoView({ block: 'center' })`, css);
  const [x, y, width, height] = await run<number[]>(
    `const r = document.querySelector(arguments[0]).getBoundingClientRect(); return [r.left, r.top, r.width, r.height];`,
    css,
  );
  const [cx, cy] = [Math.round(x + width / 2), Math.round(y + height / 2)];
  const hand = browser.driver.actions({ async: true });
  await hand
    .move({ x: cx, y: cy, origin: Origin.VIEWPORT, duration: 0 })
    .press()
    .move({ x: cx + by, y: cy, origin: Origin.VIEWPORT, duration: 20 })
    .perform();
  if (escapes) await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
  await browser.driver.actions({ async: true }).release().perform();
}

async function doGesture({ what, n }: Gesture) {
  const note = 'textarea[aria-label=Note]';
  switch (what) {
    case 'number': {
      if (!(await has('[data-value=amount]'))) return;
      const field = await find('[data-value=amount]');
      await field.click();
      await field.sendKeys(
        Key.chord(Key.CONTROL, 'a'),
        String(n / 500),
        n % 7 === 0 ? Key.ESCAPE : Key.ENTER,
      );
      return;
    }
    case 'slider key': {
      if (!(await has('input[type=range][aria-label=Amount]'))) return;
      const slider = await find('input[type=range][aria-label=Amount]');
      await run('arguments[0].focus()', slider);
      await slider.sendKeys([Key.PAGE_UP, Key.PAGE_DOWN, Key.HOME, Key.END, Key.ARROW_RIGHT][n % 5]);
      return;
    }
    case 'drag':
    case 'drag, Escape':
      if (await has('[data-testid=histogram]'))
        await drag('[data-testid=histogram]', (n % 160) - 80, what !== 'drag');
      return;
    case 'note':
    case 'note, Escape': {
      // The other window may be about to take the step away.
      const [field] = await browser.driver.findElements(By.css(note));
      if (!field) return;
      await field.click();
      await field.sendKeys(`note ${n}`, ...(what === 'note' ? [] : [Key.ESCAPE]));
      return;
    }
    case 'switch':
      if (await has('aside[aria-label="Step sheet"] label input[type=checkbox].toggle'))
        await (await find('aside[aria-label="Step sheet"] label input[type=checkbox].toggle')).click();
      return;
    case 'undo':
      await run('document.activeElement?.blur()');
      return chord('z', Key.CONTROL);
    case 'redo':
      await run('document.activeElement?.blur()');
      return chord('z', Key.CONTROL, Key.SHIFT);
    case 'bypass':
      return press('y');
    case 'duplicate':
      await run('document.activeElement?.blur()');
      if ((await browser.driver.findElements(By.css('[data-step]'))).length < 4) await press('d');
      return;
    case 'remove':
      if ((await browser.driver.findElements(By.css('[data-step]'))).length > 1) await press(Key.DELETE);
      return;
    case 'select':
      return press(n % 2 ? Key.ARROW_UP : Key.ARROW_DOWN);
    case 'passes and back':
      await (await find('a[href*="/passes"]')).click();
      // Asked whether to leave what is not saved, one leaves.
      await until('the passes', async () => {
        const [leave] = await browser.driver.findElements(
          By.xpath(`//dialog[@open]//button[text()='Leave']`),
        );
        await leave?.click();
        return has('[aria-label^="Passes of"]');
      });
      await browser.driver.navigate().back();
      await waitFor('[aria-label="Strand board"]');
      return;
    case 'reload':
      await browser.driver.navigate().refresh();
      // A page that still saves asks whether it may go.
      await browser.driver
        .switchTo()
        .alert()
        .then((alert) => alert.accept())
        .catch(() => {});
      await waitFor('[aria-label="Strand board"]');
  }
}

/** What a window shows, and what its store holds. */
type Seen = {
  state: string;
  version: number;
  finish: string;
  selected?: string;
  amount: string | null;
  board: string[];
};
const seen = () =>
  run<Seen | null>(`
    const session = window.zafiroSession;
    if (!session) return null;
    const { finish, selected } = session.store.getState();
    return {
      finish: JSON.stringify(finish), selected, version: session.autosave.version(),
      state: document.querySelector('[data-save]')?.dataset.save,
      amount: document.querySelector('[data-value=amount]')?.value ?? null,
      board: [...document.querySelectorAll('[data-step]')].map((e) => e.dataset.step),
    };`);

/** The steps that the board shows of a strand. */
const onBoard = ({ folded, steps }: Strand) =>
  folded
    ? ''
    : steps
        .map((s) => s.id)
        .sort()
        .join();

/** Where both windows edited at once, somebody chooses. */
async function chooseTheOther() {
  const [choice] = await browser.driver.findElements(By.xpath(`//button[text()='Take the other']`));
  // It may be gone again by now.
  await choice?.click().catch(() => {});
}

async function agreed(list: readonly Gesture[]) {
  for (const window of windows) {
    await browser.driver.switchTo().window(window);
    // What stands in a field that nobody has left is committed a moment later.
    await browser.driver.sleep(0);
    let last = '';
    const same = async () => {
      await chooseTheOther();
      const { document, version } = await json<SavedFinish>(`${zaf.address}/api/finishes/1`);
      const now = await seen();
      const step = document.strands[0].steps.find((s) => s.id === now?.selected);
      const amount = step ? formatNumber(step.values.amount as number) : null;
      last = JSON.stringify({ window: windows.indexOf(window), version, document, now, list });
      return (
        now?.state === 'saved' &&
        isDeepStrictEqual(JSON.parse(now.finish), document) &&
        [...now.board].sort().join() === onBoard(document.strands[0]) &&
        now.amount === amount
      );
    };
    await until('one document everywhere', same, 15).catch((error) => {
      throw new Error(`${error.message} ${last}`);
    });
  }
}

test('200 sequences of gestures end with one document everywhere', async () => {
  for (const list of fc.sample(sequence, { numRuns: 200, seed: 20_261_127 })) {
    for (const gesture of list) {
      await browser.driver.switchTo().window(windows[gesture.window]);
      await doGesture(gesture);
      await chooseTheOther();
    }
    for (const window of windows) {
      await browser.driver.switchTo().window(window);
      await run('document.activeElement?.blur()');
    }
    await agreed(list);
  }
  // Most of them changed something.
  expect((await json<SavedFinish>(`${zaf.address}/api/finishes/1`)).version).toBeGreaterThan(200);
}, 900_000);
