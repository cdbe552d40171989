import { openBrowser } from '../tests/browser/chromium';

const browser = await openBrowser();
const { driver } = browser;
const size = async (width: number, height: number) =>
  (driver as any).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });
const [url, ...steps] = process.argv.slice(2);
await driver.get(url);
await driver.sleep(9000);
for (const step of steps) {
  if (step.startsWith('key:')) await driver.actions().sendKeys(step.slice(4)).perform();
  else if (step.startsWith('size:')) {
    const [w, h] = step.slice(5).split('x').map(Number);
    await size(w, h);
  } else if (step.startsWith('shot:')) {
    await driver.sleep(1500);
    await browser.shot(step.slice(5));
  } else if (step.startsWith('wait:')) await driver.sleep(Number(step.slice(5)));
  else if (step.startsWith('js:')) console.log(await driver.executeScript(step.slice(3)));
}
const logs = await driver
  .manage()
  .logs()
  .get('browser')
  .catch(() => []);
for (const l of logs) if (l.level.name === 'SEVERE') console.log(l.message);
await browser.end();
