import { afterEach, expect } from 'vitest';
import { openBrowsers } from './chromium';

/** An error that nobody handled, or one on the console, fails the test in which it came. */
afterEach(async () => {
  const found: string[] = [];
  for (const browser of openBrowsers) found.push(...(await browser.errors().catch(() => [])));
  expect(found).toEqual([]);
});
