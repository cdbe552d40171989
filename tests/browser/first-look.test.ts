import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import { startDemo } from '../server/demo';
import { type Instance, json, remove, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/** What somebody sees who opens the demo for the first time. */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();
const { button, pixels, run, saved, settled, waitFor } = onPage(() => browser);

beforeAll(async () => {
  zaf = await startDemo(1, data);
  browser = await openBrowser(true);
});
afterAll(async () => {
  await browser?.end();
  await zaf?.stop();
  remove(data);
});

const step = async () => {
  await saved();
  return (await json<SavedFinish>(`${zaf.address}/api/finishes/1`)).document.strands[0].steps[0];
};

test('a first look does real edits, which can be undone, and comes once', async () => {
  await browser.driver.get(`${zaf.address}/shots/1`);
  await waitFor('[aria-label="First look"]');
  await settled();
  const before = await pixels();
  await (await button('Take the light from emission')).click();
  await until('the link', async () => (await step()).slots.light !== undefined);
  await (await button('Show only the added light')).click();
  await until('the light alone', async () => (await step()).values.show === 'light');
  await until('another picture', async () => (await pixels()).mean !== before.mean);
  await (await button('Show the result, with a wipe')).click();
  await waitFor('[data-testid=wipe]');
  await (await button('Done')).click();
  expect((await step()).values.show).toBe('result');
  for (let i = 0; i < 3; i++) await (await button('Undo')).click();
  await until('the first document', async () => (await step()).slots.light === undefined);
  await browser.driver.navigate().refresh();
  await settled();
  expect(await run('return document.querySelector(\'[aria-label="First look"]\')')).toBeNull();
});
