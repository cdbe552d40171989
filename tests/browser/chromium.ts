import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, type WebDriver } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome';

export type Browser = {
  driver: WebDriver;
  /** Where files are saved that a page hands out. */
  downloads: string;
  shot(path: string): Promise<void>;
  end(): Promise<void>;
};

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
  '--enable-unsafe-swiftshader',
  '--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost',
];

/** Debian's Chromium, headless, with a page of 1280 by 800. `fresh` leaves it as a newcomer's, with the first look to come. */
export async function openBrowser(fresh = false): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), 'zafiro-chromium-'));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...flags, `--user-data-dir=${profile}`);
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
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
  return {
    driver,
    downloads,
    async shot(path) {
      writeFileSync(path, Buffer.from(await driver.takeScreenshot(), 'base64'));
    },
    async end() {
      await driver.quit();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}
