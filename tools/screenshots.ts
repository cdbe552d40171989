import { By, Key, until } from 'selenium-webdriver';
import { openBrowser } from '../tests/browser/chromium';

/**
 * Takes the pictures of docs/screenshots from a running demo whose 24 frames are here and whose finish is as it was seeded:
 * `npx tsx tools/screenshots.ts http://127.0.0.1:4750 docs/screenshots /a/folder/of/sequences`.
 */
const [address, folder, renders] = process.argv.slice(2);
const { driver, shot, end } = await openBrowser();
const located = (css: string) => driver.wait(until.elementLocated(By.css(css)), 60_000);
const click = async (xpath: string) =>
  (await driver.wait(until.elementLocated(By.xpath(xpath)), 20_000)).click();
const settled = async () => {
  await driver.sleep(400);
  await driver.wait(
    until.elementLocated(By.css('[data-testid=shown][data-busy=false][data-scale="1"]')),
    60_000,
  );
  // The thumbnails come after the picture.
  await driver.sleep(2500);
};
const keys = async (text: string) => {
  await driver.executeScript('document.activeElement.blur()');
  await (await located('body')).sendKeys(text);
};

/** Exports of both shots, so that the queue has something to show. */
async function someExports() {
  const ask = async (method: string, path: string, body?: unknown) => {
    const response = await fetch(address + path, { method, body: body ? JSON.stringify(body) : undefined });
    if (!response.ok) throw new Error(await response.text());
    return response.json();
  };
  const start = async (shot: number, finish: number, name: string, more = {}) => {
    const { document } = await ask('GET', `/api/finishes/${finish}`);
    const wanted = { shot, document, frames: '1-24', format: 'exr', name, ...more };
    return (await ask('POST', '/api/exports', wanted)).run;
  };
  await start(1, 2, 'light_in_the_hall_v1');
  await start(2, 5, 'comet_on_fire_v1', { standing: true });
  const movie = { codec: 'h264', rate: 24 };
  const urgent = await start(1, 4, 'radiant_globe_dailies', { movie });
  await ask('POST', `/api/exports/${urgent}/urgency`, { urgency: 'first' });
  const last = await start(1, 3, 'morning_mist_v1');
  await ask('POST', `/api/exports/${last}/urgency`, { urgency: 'last' });
}

/** An outline and an ellipse drawn over the orrery, seen as a tint; taken back afterwards. */
async function drawnShapes(canvas: Awaited<ReturnType<typeof located>>) {
  await driver.executeScript(`
    const list = document.querySelector('[data-slot=mask]');
    const option = [...list.options].find((o) => o.textContent.startsWith('Shapes'));
    Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list, option.value);
    list.dispatchEvent(new Event('change', { bubbles: true }));`);
  // The step stays in sight; its new matte is one jump away.
  await click("//button[@aria-label='Go to the source of Mask']");
  const draw = async (tool: string, points: [number, number][]) => {
    await click(`//button[@aria-label='Draw: ${tool}']`);
    await located('[data-testid=draw]');
    const [[x, y], ...rest] = points;
    const actions = driver.actions().move({ origin: canvas, x, y }).press();
    for (const [px, py] of rest) actions.move({ origin: canvas, x: px, y: py, duration: 30 });
    await actions.release().perform();
    await driver.sleep(400);
  };
  await draw('ellipse', [
    [-160, -15],
    [-130, 10],
    [-80, 55],
  ]);
  await draw(
    'freehand',
    Array.from({ length: 40 }, (_, i): [number, number] => {
      const turn = (i / 40) * 2 * Math.PI;
      return [
        Math.round(15 + 150 * Math.cos(turn)),
        Math.round(-40 + 55 * Math.sin(turn) + 12 * Math.cos(2 * turn)),
      ];
    }),
  );
  await keys('m');
  await settled();
  await driver.actions().move({ origin: canvas, x: 15, y: -40 }).click().perform();
  await driver.sleep(4000);
  await shot(`${folder}/shapes.png`);
  await keys('mmm');
  for (let i = 0; i < 3; i++) await click("//button[contains(@aria-label, 'Undo')]");
  await click("//*[@data-step='bloom']");
  await settled();
}

try {
  await driver.get(address);
  await located('a[href^="/shots/1?"] img');
  await driver.sleep(800);
  await shot(`${folder}/projects.png`);

  await driver.get(`${address}/import`);
  const path = await located('input[name=path]');
  await driver.sleep(800);
  await path.clear();
  await path.sendKeys(renders, Key.ENTER);
  await driver.sleep(2500);
  await shot(`${folder}/import.png`);

  await driver.get(`${address}/shots/1/passes`);
  await located('[data-pass=depth] img');
  await driver.wait(async () => !(await (await located('main')).getText()).includes('Being read'), 120_000);
  await driver.sleep(800);
  await shot(`${folder}/passes.png`);

  await driver.get(`${address}/shots/1?finish=2`);
  await located('[data-testid=viewer]');
  await settled();
  await driver.sleep(6000);
  await shot(`${folder}/shot.png`);

  await driver.get(`${address}/shots/1?finish=3`);
  await located('[data-testid=viewer]');
  await settled();
  await click("//*[@data-step='mist']");
  await settled();
  await driver.sleep(6000);
  await shot(`${folder}/mist.png`);
  await driver.get(`${address}/shots/1?finish=4`);
  await located('[data-testid=viewer]');
  await settled();
  await click("//*[@data-step='radiant-object']");
  await keys('u');
  await settled();
  await driver.sleep(6000);
  await shot(`${folder}/recipe.png`);

  await driver.get(`${address}/recipes`);
  await click("//li//button[contains(., 'Radiant object')]");
  await driver.sleep(1500);
  await shot(`${folder}/recipes.png`);

  await driver.get(`${address}/sheet`);
  await driver.wait(until.elementLocated(By.css('[data-ready=true]')), 60_000);
  await driver.executeScript(
    `const list = [...document.querySelectorAll('[data-shot] select')];
     for (const [i, words] of ['Light in the hall', 'Comet on fire'].entries()) {
       const option = [...list[i].options].find((o) => o.textContent === words) ?? list[i].options[0];
       Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(list[i], option.value);
       list[i].dispatchEvent(new Event('change', { bubbles: true }));
     }`,
  );
  await click("//button[contains(., 'Choose all')]");
  await (await located('[aria-label="Add a recipe"]')).sendKeys('Soft night', Key.ENTER);
  await click("//button[.='Both']");
  await driver.sleep(15_000);
  await shot(`${folder}/sheet.png`);

  const shotAndWait = async (path: string, name: string) => {
    await driver.get(`${address}${path}`);
    await located('[data-testid=viewer]');
    await settled();
    await (await located('[aria-label^="Frame 7"]')).click();
    await settled();
    await driver.sleep(8000);
    await shot(`${folder}/${name}.png`);
  };
  await driver.get(`${address}/shots/1?finish=2`);
  await located('[data-testid=viewer]');
  await settled();
  for (const [frame, key] of [
    [4, 'i'],
    [20, 'o'],
    [12, 'b'],
  ] as const) {
    await (await located(`[aria-label^="Frame ${frame}"]`)).click();
    await keys(key);
  }
  await keys('c');
  await driver.sleep(20_000);
  await keys(' ');
  await driver.sleep(2500);
  await shot(`${folder}/play.png`);
  await keys(' ');
  await keys('c');

  await shotAndWait('/shots/2', 'drawings-after');
  await keys('t');
  await click("//button[.='Curves']");
  await click("(//button[@aria-pressed and starts-with(@aria-label, 'Key of')])[last()]");
  await driver.sleep(6000);
  await shot(`${folder}/time.png`);
  await keys('t');
  await driver.get(`${address}/shots/1`);
  await located('[data-testid=viewer]');
  await settled();
  const canvas = await located('[data-testid=viewer]');
  await drawnShapes(canvas);
  await driver.actions().move({ origin: canvas, x: -126, y: 22 }).perform();

  await click("//button[contains(., 'Export…')]");
  await click("//button[contains(., 'Start export')]");
  await driver.sleep(5000);
  await shot(`${folder}/export.png`);
  await click("//button[@aria-label='Close']");

  await someExports();
  await driver.get(`${address}/queue`);
  await driver.sleep(12_000);
  await shot(`${folder}/queue.png`);
  await driver.get(`${address}/machines`);
  await driver.sleep(2000);
  await shot(`${folder}/machines.png`);
  await driver.get(`${address}/handbook/steps/bloom`);
  await located('article img');
  await driver.sleep(800);
  await shot(`${folder}/handbook.png`);

  // The board of many strands, in the middle and fitted in.
  await driver.get(`${address}/shots/2`);
  await located('[data-testid=viewer]');
  await settled();
  await keys('g');
  await keys('z');
  await settled();
  await shot(`${folder}/board.png`);
  await keys('g');
} finally {
  await end();
}
