import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, logging, type WebDriver } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome';
import { makePatient } from './patient';

export type Browser = {
  driver: WebDriver;
  /** Where files are saved that a page hands out. */
  downloads: string;
  shot(path: string): Promise<void>;
  /** Errors of pages since the last time: uncaught ones, unhandled rejections, and what was written by `console.error`. */
  errors(): Promise<string[]>;
  /** From now on an error that fits is part of what is tested. */
  expectError(words: RegExp): void;
  end(): Promise<void>;
};

/** The browsers that are open: after each test none of them may have an error (`no-errors.ts`). */
export const openBrowsers = new Set<Browser>();

/** A request that the server refuses, or that a test holds back: the page answers for what it shows of it. */
const ofNetwork = /Failed to load resource|net::ERR_/;

const flags = [
  '--headless=new',
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-default-apps',
  '--no-default-browser-check',
  '--hide-scrollbars',
  '--force-device-scale-factor=1',
  '--window-size=1280,800',
  '--disable-gpu',
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
];

/** Debian's Chromium, headless, with a page of 1280 by 800. `fresh` leaves it as a newcomer's, with the first look to come. */
export async function openBrowser(fresh = false): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), 'zafiro-chromium-'));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...flags, `--user-data-dir=${profile}`);
  const logs = new logging.Preferences();
  logs.setLevel(logging.Type.BROWSER, logging.Level.SEVERE);
  options.setLoggingPrefs(logs);
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  makePatient(driver);
  const metrics = { width: 1280, height: 800, deviceScaleFactor: 1, mobile: false };
  const devTools = driver as unknown as { sendDevToolsCommand(c: string, p: object): Promise<void> };
  await devTools.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', metrics);
  const downloads = join(profile, 'downloads');
  mkdirSync(downloads);
  await devTools.sendDevToolsCommand('Browser.setDownloadBehavior', {
    behavior: 'allow',
    downloadPath: downloads,
  });
  if (!fresh) {
    // One who knows the program: no first look, and all values of a sheet.
    const known = JSON.stringify(JSON.stringify({ state: { showsRare: true }, version: 0 }));
    const source = `try {
      localStorage.setItem('zafiro-first-look', '1');
      localStorage.getItem('zafiro-workspace') ?? localStorage.setItem('zafiro-workspace', ${known});
    } catch {}`;
    await devTools.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source });
  }
  const expected: RegExp[] = [ofNetwork];
  const browser: Browser = {
    driver,
    downloads,
    async errors() {
      const entries = await driver.manage().logs().get(logging.Type.BROWSER);
      return entries.map((e) => e.message).filter((m) => !expected.some((words) => words.test(m)));
    },
    expectError(words) {
      expected.push(words);
    },
    async shot(path) {
      writeFileSync(path, Buffer.from(await driver.takeScreenshot(), 'base64'));
    },
    async end() {
      openBrowsers.delete(browser);
      await driver.quit();
      rmSync(profile, { recursive: true, force: true });
    },
  };
  openBrowsers.add(browser);
  return browser;
}
