import { execFileSync, spawn } from 'node:child_process';
import { createServer } from 'node:net';
import puppeteer from 'puppeteer-core';
import { Builder, By, Key } from 'selenium-webdriver';
import { until } from '../server/instance';
import { openBrowser } from './chromium';

/** What the smoke test does in every browser engine, whatever drives it. */
export type Visitor = {
  go(address: string): Promise<void>;
  run<T>(script: string, ...args: unknown[]): Promise<T>;
  /** Drags what a selector finds from its middle, by so many pixels to the right, in steps. */
  drag(css: string, by: number): Promise<void>;
  /** Space, with nothing under the caret. */
  space(): Promise<void>;
  end(): Promise<void>;
};

type Driver = Awaited<ReturnType<Builder['build']>>;
/** The first look is not part of this. */
const known = `localStorage.setItem('zafiro-first-look', '1')`;

const bySelenium = (driver: Driver, end: () => Promise<unknown>): Visitor => ({
  async go(address) {
    await driver.get(address);
    await driver.executeScript(known);
    await driver.navigate().refresh();
  },
  run: (script, ...args) => driver.executeScript(script, ...args),
  async drag(css, by) {
    const origin = await driver.findElement(By.css(css));
    const drag = driver.actions().move({ origin, x: 0, y: 0 }).press();
    for (let i = 1; i <= 4; i++) drag.move({ origin, x: Math.round((by * i) / 4), y: 0, duration: 40 });
    await drag.release().perform();
  },
  async space() {
    await driver.executeScript('document.activeElement?.blur()');
    await driver.actions().sendKeys(Key.SPACE).perform();
  },
  end: async () => void (await end()),
});

async function chromium(): Promise<Visitor> {
  const browser = await openBrowser();
  return bySelenium(browser.driver, () => browser.end());
}

/** Debian's Firefox, by WebDriver BiDi. */
async function firefox(): Promise<Visitor> {
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: '/usr/bin/firefox-esr',
    headless: true,
  });
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  return {
    async go(address) {
      await page.goto(address);
      await page.evaluate(known);
      await page.reload();
    },
    run: <T>(script: string, ...args: unknown[]) =>
      page.evaluate(`(function () { ${script} }).apply(null, ${JSON.stringify(args)})`) as Promise<T>,
    async drag(css, by) {
      const box = (await (await page.$(css))!.boundingBox())!;
      const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + by, y, { steps: 4 });
      await page.mouse.up();
    },
    async space() {
      await page.evaluate('document.activeElement?.blur()');
      await page.keyboard.press(' ');
    },
    end: () => browser.close(),
  };
}

const freePort = () =>
  new Promise<number>((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });

/** WebKit's own small browser as Debian packs it, on a screen that nobody sees. */
async function webkit(): Promise<Visitor> {
  const files = execFileSync('dpkg', ['-L', 'libwebkit2gtk-4.1-0'], { encoding: 'utf8' }).split('\n');
  const binary = files.find((f) => f.endsWith('/MiniBrowser'))!;
  const port = await freePort();
  const screen = spawn(
    'xvfb-run',
    ['-a', '-s', '-screen 0 1400x1000x24', 'WebKitWebDriver', `--port=${port}`],
    {
      detached: true,
      stdio: 'ignore',
      // Its sandbox does not start as the administrator, whom containers run as.
      env: { ...process.env, WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS: '1' },
    },
  );
  const server = `http://127.0.0.1:${port}`;
  await until('WebKit’s driver', () =>
    fetch(`${server}/status`).then(
      (r) => r.ok,
      () => false,
    ),
  );
  const driver = await new Builder()
    .usingServer(server)
    .withCapabilities({
      browserName: 'MiniBrowser',
      'webkitgtk:browserOptions': { binary, args: ['--automation'] },
    })
    .build();
  await driver.manage().window().setRect({ width: 1280, height: 860 });
  return bySelenium(driver, async () => {
    await driver.quit().finally(() => process.kill(-screen.pid!, 'SIGTERM'));
  });
}

export const engines = { Chromium: chromium, Firefox: firefox, WebKit: webkit };
