import { By, Key, type WebElement, until as when } from 'selenium-webdriver';
import { until } from '../server/instance';
import type { Browser } from './chromium';

/** What tests do with a page, whoever opened it. */
export function onPage(browser: () => Browser) {
  const run = <T>(script: string, ...args: unknown[]) => browser().driver.executeScript<T>(script, ...args);
  const waitFor = (css: string) => browser().driver.wait(when.elementLocated(By.css(css)), 60_000);
  /** An attribute of what a selector finds just now: asked in one go, since React may replace the element in between. */
  const attribute = (css: string, name: string) =>
    run<string | null>(
      `return document.querySelector(arguments[0])?.getAttribute(arguments[1]) ?? null`,
      css,
      name,
    );
  return {
    run,
    waitFor,
    attribute,
    find: (css: string) => browser().driver.findElement(By.css(css)),
    button: (label: string): Promise<WebElement> =>
      browser().driver.wait(
        when.elementLocated(
          By.xpath(`//button[contains(@aria-label, '${label}') or contains(., '${label}')]`),
        ),
        20_000,
      ) as unknown as Promise<WebElement>,
    /** Chooses in a native list by a part of what is written; keys would stop at the first letter that fits. */
    choose: (css: string, words: string) =>
      run(
        `const list = document.querySelector(arguments[0]);
         const option = [...list.options].find((o) => o.textContent.includes(arguments[1]));
         Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, option.value);
         list.dispatchEvent(new Event('change', { bubbles: true }));`,
        css,
        words,
      ),
    /** Where a pixel of a frame of that size lies on the page, with the picture fitted in. */
    onScreen: async (frame: { width: number; height: number }, x: number, y: number) => {
      const [left, top, wide, high] = await run<number[]>(
        `const r = document.querySelector('[data-testid=viewer]').getBoundingClientRect();
         return [r.left, r.top, r.width, r.height];`,
      );
      const k = Math.min((wide - 24) / frame.width, (high - 24) / frame.height);
      return {
        x: Math.round(left + (wide - frame.width * k) / 2 + x * k),
        y: Math.round(top + (high - frame.height * k) / 2 + y * k),
      };
    },
    /** Keys, with nothing under the caret. */
    press: async (...keys: string[]) => {
      await run('document.activeElement?.blur()');
      await browser()
        .driver.actions()
        .sendKeys(...keys)
        .perform();
    },
    /**
     * A double click in the middle of an element, or beside that. Its two clicks are one double click by their count, as a mouse sends it: by their moments
     * they would be two single ones wherever a loaded machine takes half a second over the first.
     */
    doubleClick: async (element: WebElement, beside = { x: 0, y: 0 }) => {
      const at = await run<{ x: number; y: number }>(
        `arguments[0].scrollIntoView({ block: 'nearest' });
         const r = arguments[0].getBoundingClientRect();
         return { x: r.left + r.width / 2, y: r.top + r.height / 2 };`,
        element,
      );
      const devTools = browser().driver as unknown as {
        sendDevToolsCommand(command: string, parameters: object): Promise<void>;
      };
      const mouse = { x: at.x + beside.x, y: at.y + beside.y, button: 'left' };
      const send = (type: string, clickCount: number) =>
        devTools.sendDevToolsCommand('Input.dispatchMouseEvent', { ...mouse, type, clickCount });
      await send('mouseMoved', 0);
      for (const count of [1, 2]) {
        await send('mousePressed', count);
        await send('mouseReleased', count);
      }
    },
    /** Ctrl+Z, with nothing under the caret. A chord in one text does not press the control key here. */
    undo: async () => {
      await run('document.activeElement?.blur()');
      await browser().driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    },
    text: (css: string) => run<string>(`return document.querySelector(arguments[0])?.textContent ?? ''`, css),
    /** Waits until the viewer shows the full-size picture of all edits. */
    settled: async () => {
      // What was done just now may not have reached the screen yet: then it would seem settled.
      await browser().driver.executeAsyncScript(
        'const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 50)))',
      );
      await until(
        'the full picture',
        async () => (await attribute('[data-testid=shown][data-scale="1"]', 'data-busy')) === 'false',
        30,
      );
    },
    saved: () => until('saved', async () => (await attribute('[data-save]', 'data-save')) === 'saved'),
    /** Mean of red, green and blue of the canvas, and one pixel row through its middle. */
    pixels: () =>
      run<{ mean: number; row: number[] }>(`
        const canvas = document.querySelector('[data-testid=viewer]');
        const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
        let sum = 0;
        for (let i = 0; i < data.length; i += 4) sum += data[i] + data[i + 1] + data[i + 2];
        const row = Array.from(canvas.getContext('2d').getImageData(0, canvas.height >> 1, canvas.width, 1).data);
        return { mean: sum / (data.length * 0.75), row };`),
  };
}

/** The body of a save that somebody else makes. */
export const saveOf = (from: number, document: unknown, label = 'elsewhere'): string =>
  JSON.stringify({ from, label, save: crypto.randomUUID(), document });
