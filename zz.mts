import { By, until } from 'selenium-webdriver';
import { openBrowser } from './tests/browser/chromium.ts';

const b = await openBrowser();
const d = b.driver;
const shots: [string, string, string][] = JSON.parse(process.argv[2]);
for (const [url, css, png] of shots) {
  await d.get('http://127.0.0.1:4802' + url);
  await d.sleep(5000);
  for (const c of css.split('||').filter(Boolean)) {
    try {
      if (c.startsWith('scroll:'))
        await d.executeScript(`document.querySelector('${c.slice(7)}').scrollTop=520`);
      else if (c.startsWith('hover:'))
        await d
          .actions()
          .move({ origin: await d.findElement(By.css(c.slice(6))) })
          .perform();
      else await (await d.wait(until.elementLocated(By.css(c)), 8000)).click();
      await d.sleep(1200);
    } catch (e) {
      console.log(c, (e as Error).message.slice(0, 100));
    }
  }
  await b.shot(png);
}
await b.end();
