import { By, WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Browser, openBrowser } from './chromium';

let browser: Browser;
const show = (body: string) => browser.driver.get(`data:text/html,${encodeURIComponent(body)}`);
const run = <T>(script: string) => browser.driver.executeScript<T>(script);

beforeAll(async () => {
  browser = await openBrowser();
});
afterAll(() => browser.end());

test('what is replaced after it was found is found again, alone and beneath another', async () => {
  await show('<ul><li>a<b>one</b></li><li>b<b>two</b></li></ul>');
  const item = (await browser.driver.findElements(By.css('li')))[1];
  const word = await item.findElement(By.css('b'));
  await run(`document.querySelector('ul').innerHTML = '<li>c</li><li>d<b>three</b></li>'`);
  expect(await item.getText()).toBe('dthree');
  expect(await word.getText()).toBe('three');
  expect(await browser.driver.executeScript('return arguments[0].tagName', word)).toBe('B');
});

test('what never comes back fails, with the reason', async () => {
  await show('<button>Go</button>');
  const button = await browser.driver.findElement(By.css('button'));
  expect(button).toBeInstanceOf(WebElement);
  await run(`document.querySelector('button').remove()`);
  await expect(button.click()).rejects.toThrow(/stale element/);
});

test('a click waits until what covers the button has gone', async () => {
  await show(`<button onclick="document.title = 'pressed'" style="width: 90px">Go</button>
    <div style="position: fixed; inset: 0; background: gray"></div>
    <script>setTimeout(() => document.querySelector('div').remove(), 600)</script>`);
  await browser.driver.findElement(By.css('button')).click();
  expect(await browser.driver.getTitle()).toBe('pressed');
});
