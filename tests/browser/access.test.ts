import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Secret, TOTP } from 'otpauth';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Instance, remove, root, startInstance, temporaryFolder, until } from '../server/instance';
import { type Browser, openBrowser } from './chromium';
import { onPage } from './page';
import { writeFrames } from './small-shot';

/** Signing in and out as a user does, another account and what it may see, a second factor, tokens, the record; and axe-core on each of these pages. */
const data = temporaryFolder();
const frames = temporaryFolder();
const axe = readFileSync(`${root}/node_modules/axe-core/axe.min.js`, 'utf8');
let zaf: Instance;
let browser: Browser;
const page = onPage(() => browser);
const { attribute, button, choose, find, run, settled, saved, text, waitFor } = page;
const password = 'a long night in the hall';
const second = 'moths around a lantern';

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  writeFrames(frames, 'hall', [1, 2]);
  const made = spawnSync(join(root, 'zafiro'), ['user', 'add', 'Ada', '--admin'], {
    input: `${password}\n`,
    encoding: 'utf8',
    env: { ...process.env, ZAFIRO_DATA: data },
  });
  expect(made.stderr).not.toContain('zafiro:');
  zaf = await startInstance('start', data, ['--host', '0.0.0.0']);
  browser = await openBrowser();
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await browser?.end();
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const go = (path: string) => browser.driver.get(`${zaf.address}${path}`);
const type = (name: string, words: string) => find(`[name="${name}"]`).sendKeys(words);
const at = async (path: string) =>
  until(path, async () => new URL(await browser.driver.getCurrentUrl()).pathname === path, 30);
async function clean(what: string) {
  await browser.driver.sleep(400);
  await run(axe);
  const found = await browser.driver.executeAsyncScript(`
    const done = arguments[arguments.length - 1];
    axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) => done(violations.map((v) => ({
      id: v.id, nodes: v.nodes.map((n) => n.html.slice(0, 200)) }))));`);
  expect(found, what).toEqual([]);
}
async function signIn(name: string, words: string) {
  await waitFor('[name=password]');
  await type('name', name);
  await type('password', words + Key.ENTER);
}

test('a page leads to where one signs in, a wrong password is said, and the right one leads back', async () => {
  await go('/recipes');
  await at('/sign-in');
  await clean('sign in');
  await signIn('Ada', 'not the password');
  await until('said', async () => (await text('[role=alert]')).includes('Name, password or code is wrong'));
  await find('[name=password]').clear();
  await type('password', password + Key.ENTER);
  await at('/recipes');
  await waitFor('ul[aria-label=Recipes] li');
});

test('another account is made, and sees what a role lets it see', async () => {
  await go('/import');
  await waitFor('main');
  // A shot, made by the administrator.
  await run(
    `return fetch('/api/shots', { method: 'POST', headers: { 'content-type': 'application/json' },
       body: JSON.stringify({ project: 'Orrery', shot: 'Hall', media: [{ pattern: arguments[0] }] }) }).then((r) => r.json())`,
    join(frames, 'hall.####.exr'),
  );
  await go('/people');
  await waitFor('table');
  await clean('people');
  await type('name', 'Mina');
  await type('password', second + Key.ENTER);
  await until('Mina', async () => (await text('table')).includes('Mina'));
  await go('/');
  await waitFor('[data-shot]');
  await run(`document.querySelector('[aria-label="More for the project Orrery"]').click()`);
  await (await button('People …')).click();
  await waitFor('dialog[open] select');
  await clean('people of a project');
  await choose('[aria-label="What Mina may do"]', 'may edit');
  await until('kept', async () =>
    run<boolean>(`return document.querySelector('[aria-label="What Mina may do"]').value === 'edit'`),
  );
  await go('/account');
  await waitFor('main form');
  await (await button('Sign out')).click();
  await at('/sign-in');
  await signIn('Mina', second);
  await at('/');
  await until('the shot', async () => (await text('main')).includes('Hall'));
  await go('/people');
  expect(await text('main')).toContain('Nothing is here');
});

test('a session that ends while one edits: one signs in again on the spot, and the edit is saved', async () => {
  await go('/');
  await (await waitFor('[data-shot] a')).click();
  await settled();
  await page.press('a');
  await waitFor('dialog[open]');
  await browser.driver.actions().sendKeys('Bloom', Key.ENTER).perform();
  await until('its sheet', async () => (await text('aside[aria-label="Step sheet"]')).includes('Threshold'));
  await saved();
  await browser.driver.manage().deleteAllCookies();
  const amount = await waitFor('[data-value=amount]');
  await run('arguments[0].scrollIntoView({ block: "center" })', amount);
  await amount.sendKeys(Key.chord(Key.CONTROL, 'a'), '1.7', Key.ENTER);
  await waitFor('dialog[open] [name=password]');
  expect(await text('dialog[open]')).toContain('What you did here is kept');
  expect(await attribute('[data-save]', 'data-save')).toBe('failed');
  await clean('signed out');
  await signIn('Mina', second);
  await saved();
  await go(await browser.driver.getCurrentUrl().then((url) => new URL(url).pathname));
  await settled();
  expect(await run<string>(`return document.querySelector('[data-value=amount]').value`)).toBe('1.70');
  await (await button('History')).click();
  await until('by whom', async () => (await text('aside[aria-label=History]')).includes('by Mina'));
});

test('a second factor is set up, asked for, and ended; a token is shown once', async () => {
  await go('/account');
  await waitFor('main form');
  await clean('account');
  await find(
    'form:has(> label [autocomplete=current-password]):has(> span[role=status]) [name=password]',
  ).sendKeys(second + Key.ENTER);
  const secret = await until('the secret', async () => (await text('[data-testid=secret]')).trim(), 20);
  await clean('a second factor');
  const totp = new TOTP({ secret: Secret.fromBase32(secret), digits: 6, period: 30 });
  await type('code', totp.generate({ timestamp: Date.now() - 30_000 }) + Key.ENTER);
  await until('set', async () => (await text('main')).includes('It is asked for'));
  await find('form [name=name]').sendKeys('a script');
  await (await button('Make a token')).click();
  await until('the token', async () => (await text('[data-testid=token]')).startsWith('zaf_'));
  await go('/account');
  await waitFor('main form');
  expect(await text('main')).toContain('a script');
  expect(await text('main')).not.toContain('zaf_');
  await (await button('Sign out everywhere')).click();
  await at('/sign-in');
  await signIn('Mina', second);
  await waitFor('[name=code]');
  await clean('the code');
  await type('code', totp.generate() + Key.ENTER);
  await at('/');
});

test('the record says who did what', async () => {
  await go('/account');
  await (await button('Sign out')).click();
  await at('/sign-in');
  await signIn('Ada', password);
  await at('/');
  await go('/record');
  await waitFor('table');
  await clean('record');
  const words = await text('table');
  for (const did of [
    'signed in',
    'failed to sign in',
    'saved a finish',
    'made a token',
    'set a second factor',
  ])
    expect(words).toContain(did);
  await browser.shot(join(root, 'dist', 'record.png'));
});

test('who may look sees all of a shot and changes nothing', async () => {
  await run(
    `const ask = (path, method, body) => fetch(path, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }).then((r) => r.json());
     return ask('/api/people', 'POST', { name: 'Lou', password: 'look but do not touch' })
       .then(({ id }) => ask('/api/projects/1/members', 'PUT', { account: id, role: 'look' }));`,
  );
  await go('/account');
  await (await button('Sign out')).click();
  await at('/sign-in');
  await signIn('Lou', 'look but do not touch');
  await at('/');
  await (await waitFor('[data-shot] a')).click();
  await settled();
  await until('said', async () => (await text('[data-save]')).includes('looking only'));
  // What may not be changed is not offered, with the reason.
  const amount = await waitFor('[data-value=amount]');
  expect(await amount.isEnabled()).toBe(false);
  expect(
    await browser.driver.findElements(By.css('[aria-label^="Add a step"], [aria-label="Add a strand"]')),
  ).toEqual([]);
  await find('body').sendKeys('a');
  await until('why', async () =>
    (await text('body')).includes('You may look at this project, not change it'),
  );
  await (await button('Export…')).click();
  await until('no form', async () => (await text('[aria-label=Exports]')).includes('not change it'));
  expect(await browser.driver.findElements(By.css('[aria-label=Exports] form'))).toEqual([]);
  await page.press(Key.ESCAPE);
  expect(await attribute('[data-save]', 'data-save')).toBe('looks');
  expect(await text('header')).not.toContain('not saved');
  await clean('looking only');
  await go('/');
  await waitFor('[data-shot]');
  expect(await text('header')).toContain('You may look at these projects');
  expect(await text('header')).not.toContain('New project');
  expect(await text('header')).not.toContain('Import frames');
  expect(await browser.driver.findElements(By.css('[aria-label^="More for"]'))).toEqual([]);
  await clean('a shelf to look at');
});
