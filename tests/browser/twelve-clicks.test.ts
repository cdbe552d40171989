import { execFile } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { Key, type WebElement } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { ExportRun } from '../../api/exports';
import { readExr } from '../../core/formats/exr/read';
import { halvesToFloats } from '../../core/formats/half';
import { nodeZlib } from '../../engine/node/zlib';
import { type Instance, json, remove, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';

/**
 * From the empty shelf to an exported, finished frame of a file that nobody here made: a scene that Debian's POV-Ray traces into an OpenEXR file. Every
 * click and every Enter is counted.
 */
let zaf: Instance;
let browser: Browser;
const data = temporaryFolder();
const frames = temporaryFolder();
const page = onPage(() => browser);
const { attribute, button, settled, text, waitFor } = page;

/** Two balls over a floor; one of them shines nine times as bright as white. */
const scene = `#version 3.7;
global_settings { assumed_gamma 1.0 }
camera { location <0, 1.6, -5> look_at <0, 0.8, 0> angle 42 }
light_source { <4, 6, -4> color rgb 1.4 }
plane { y, 0 pigment { checker color rgb 0.16 color rgb 0.34 scale 0.6 } }
sphere { <-0.7, 0.7, 0> 0.7 pigment { color rgb <0.8, 0.5, 0.2> } finish { specular 0.9 roughness 0.01 reflection 0.3 metallic } }
sphere { <0.9, 0.9, 0.6> 0.28 pigment { color rgb 1 } finish { emission 9 ambient 0 diffuse 0 } }`;

beforeAll(async () => {
  const folder = join(frames, 'traced');
  mkdirSync(folder);
  writeFileSync(join(folder, 'scene.pov'), scene);
  await promisify(execFile)(
    'povray',
    ['+Iscene.pov', '+Oballs.0001.exr', '+FE', '+W320', '+H180', '-A', '-D'],
    { cwd: folder },
  );
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  zaf = await startInstance('start', data);
  browser = await openBrowser();
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

/** Sums of red, green and blue. */
function lightOf(path: string): number[] {
  const { samples } = readExr(readFileSync(path), nodeZlib, ['R', 'G', 'B']);
  const numbers = (name: string) => {
    const found = samples.get(name)!;
    return found instanceof Uint16Array ? halvesToFloats(found) : (found as Float32Array);
  };
  return ['R', 'G', 'B'].map((name) => numbers(name).reduce((sum, v) => sum + v, 0));
}

test('twelve clicks lead from the empty shelf to an exported frame that glows', async () => {
  let clicks = 0;
  const click = async (element: WebElement | Promise<WebElement>) => {
    clicks++;
    await (await element).click();
  };
  const enter = async (words: string) => {
    clicks++;
    await browser.driver.actions().sendKeys(words, Key.ENTER).perform();
  };
  await browser.driver.get(zaf.address);
  await until('the empty shelf', async () => (await text('main')).includes('No shots yet'));
  await click(browser.driver.findElement({ css: 'main a[href="/import"]' }));
  await click(button('traced'));
  await waitFor('[data-sequence]');
  await click(button('Import'));
  await waitFor('[data-testid=viewer]');
  await settled();
  await click(waitFor('[aria-label="Add a step after Frame"]'));
  await waitFor('[aria-label="Search steps"]');
  await enter('bloom');
  await waitFor('[data-step=bloom]');
  await settled();
  await click(button('Export…'));
  await click(button('Start export'));
  await until('exported', async () => (await attribute('[data-export]', 'data-over')) === 'true');
  expect(clicks).toBeLessThanOrEqual(12);

  const [run] = await json<ExportRun[]>(`${zaf.address}/api/exports?shot=1`);
  expect(run.frames.map((f) => [f.frame, f.state])).toEqual([[1, 'done']]);
  const before = lightOf(join(frames, 'traced/balls.0001.exr'));
  const after = lightOf(join(data, 'exports', String(run.id), run.fileName.replace(/#+/, '0001')));
  // The bloom laid light over the frame, and took none away.
  after.forEach((light, c) => {
    expect(light).toBeGreaterThan(before[c] * 1.005);
  });
});
