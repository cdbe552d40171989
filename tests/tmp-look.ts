import { pathToFileURL } from 'node:url';
import { By, Key } from 'selenium-webdriver';
import { openBrowser } from './browser/chromium';
import { onPage } from './browser/page';

const browser = await openBrowser();
const page = onPage(() => browser);
try {
  const { default: run } = await import(pathToFileURL(process.argv[2]).href);
  await run({
    browser,
    page,
    By,
    Key,
    base: 'http://127.0.0.1:4750',
    shot: (n: string) => browser.shot(`/tmp/shots/${n}.png`),
  });
  console.log('errors', await browser.errors());
} catch (e) {
  console.error(e);
  await browser.shot('/tmp/shots/failed.png');
  console.log('errors', await browser.errors());
}
await browser.end();
