import { execFile } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { SavedFinish } from '../../api/finishes';
import type { RecipeDetail, RecipeSummary } from '../../api/recipes';
import type { ShotDetail } from '../../api/shots';
import type { Recipe } from '../../core/recipes/recipe';
import { addRecipe } from '../../core/recipes/use';
import { shippedRecipes } from '../../demo/recipes/recipes';
import { saveOf } from '../browser/page';
import { importShot, saveFrames } from '../browser/small-shot';
import { databaseOf, type Instance, json, remove, root, startInstance, temporaryFolder } from './instance';

/** The library against a real server: versions, conflicts, imports into another data folder, where recipes are used, and the command line. */
let zaf: Instance;
const data = temporaryFolder();
const frames = temporaryFolder();
const run = promisify(execFile);

beforeAll(async () => {
  process.env.ZAFIRO_MEDIA_ROOTS = frames;
  saveFrames(frames, [() => [0.2, 0.2, 0.2]]);
  zaf = await startInstance('start', data);
});
afterAll(async () => {
  delete process.env.ZAFIRO_MEDIA_ROOTS;
  await zaf?.stop();
  remove(data);
  remove(frames);
});

const at = (path: string) => `${zaf.address}/api/recipes${path}`;
const list = () => json<RecipeSummary[]>(at(''));
const detail = (id: string) => json<RecipeDetail>(at(`/${id}`));
const version = (id: string, edition: number) => json<Recipe>(at(`/${id}/versions/${edition}`));
const post = (path: string, body: object) =>
  fetch(at(path), {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'content-type': 'application/json' },
  });
const cli = (...args: string[]) =>
  run(join(root, 'zafiro'), ['recipe', ...args], { env: { ...process.env, ZAFIRO_DATA: data }, cwd: frames });

test('all recipes that come with the program are there, with their pictures', async () => {
  const all = await list();
  expect(all.map((r) => r.id).sort()).toEqual(
    shippedRecipes()
      .map((r) => r.id)
      .sort(),
  );
  for (const { id, edition, picture } of all) {
    expect([id, edition, picture]).toEqual([id, 1, true]);
    const png = await fetch(at(`/${id}/versions/1/picture`));
    expect(png.headers.get('content-type')).toBe('image/png');
    const bytes = Buffer.from(await png.arrayBuffer());
    expect(bytes.toString('base64')).toBe((await version(id, 1)).picture);
  }
});

test('versions follow one another; two who save the next one do not overwrite each other', async () => {
  const { picture: _, ...soft } = await version('soft-night', 1);
  const save = (after?: number) =>
    post('', { recipe: { ...soft, name: 'Softer night' }, note: 'Softer', after });
  const [one, two] = await Promise.all([save(1), save(1)]);
  const [ok, refused] = one.status === 200 ? [one, two] : [two, one];
  expect(await ok.json()).toEqual({ id: 'soft-night', edition: 2 });
  expect([refused.status, (await refused.json()).error]).toMatchObject([
    409,
    { code: 'conflict', newest: 2 },
  ]);
  expect((await detail('soft-night')).versions.map((v) => [v.edition, v.note])).toEqual([
    [2, 'Softer'],
    [1, 'comes with Zafiro'],
  ]);
  // As one of its own it gets an id that is free.
  expect(await (await save()).json()).toEqual({ id: 'soft-night-2', edition: 1 });
  expect((await version('soft-night-2', 1)).id).toBe('soft-night-2');
});

test('words are changed in the newest version; what is wrong is refused by name', async () => {
  const change = (body: object) =>
    fetch(at('/soft-night-2'), {
      method: 'PATCH',
      body: JSON.stringify(body),
      headers: { 'content-type': 'application/json' },
    });
  expect((await change({ description: 'Ours.', tags: ['night'] })).status).toBe(200);
  expect((await list()).find((r) => r.id === 'soft-night-2')).toMatchObject({
    description: 'Ours.',
    tags: ['night'],
    name: 'Softer night',
  });
  const wrong = await post('', { recipe: { format: 'zafiro-recipe', version: 5 }, note: '' });
  expect([wrong.status, (await wrong.json()).error.message]).toEqual([
    422,
    'The recipe has nothing inside (inside).',
  ]);
  expect((await fetch(at('/nobody'))).status).toBe(404);
  expect((await fetch(at('/nobody'), { method: 'DELETE' })).status).toBe(404);
});

test('it says where a recipe is used, in which versions', async () => {
  const shot = await importShot(zaf.address, 'one', [join(frames, 'hall.####.exr')]);
  const { finishes } = await json<ShotDetail>(`${zaf.address}/api/shots/${shot}`);
  const address = `${zaf.address}/api/finishes/${finishes[0].id}`;
  const saved = await json<SavedFinish>(address);
  const used = addRecipe(
    saved.document,
    await version('soft-night', 1),
    { strand: 'main', index: 0 },
    { linked: true },
  );
  await json(address, { method: 'PUT', body: saveOf(saved.version, used.edit.apply(saved.document)) });
  expect((await detail('soft-night')).usedIn).toEqual([
    {
      shot,
      shotName: 'one',
      project: 'Tests',
      finish: finishes[0].id,
      finishName: finishes[0].name,
      editions: [1],
      linked: 1,
    },
  ]);
  expect((await list()).find((r) => r.id === 'soft-night')!.uses).toBe(1);
});

test('a finish that was saved before its recipes were written down is counted too, and written down then', async () => {
  const c = await mysql.createConnection(databaseOf(data));
  try {
    await c.query('UPDATE finish SET recipes = NULL');
    expect((await list()).find((r) => r.id === 'soft-night')!.uses).toBe(1);
    const [[{ missing }]] = await c.query<mysql.RowDataPacket[]>(
      'SELECT COUNT(*) AS missing FROM finish WHERE recipes IS NULL',
    );
    expect(missing).toBe(0);
  } finally {
    await c.end();
  }
});

test('the command line exports, checks and imports; from one data folder into another', async () => {
  const { stdout } = await cli('export', 'soft-night', '--out', 'night.zafiro-recipe.json');
  expect(stdout).toBe('night.zafiro-recipe.json\n');
  const file = join(frames, 'night.zafiro-recipe.json');
  const recipe = JSON.parse(readFileSync(file, 'utf8')) as Recipe;
  expect(recipe).toEqual(await version('soft-night', 2));
  const checked = (await cli('check', file)).stdout;
  expect(checked).toContain('Softer night, soft-night version 2');
  expect(checked).toMatch(/front: Exposure, Temperature, Colour, Lamps, Corners, Grain/);
  expect(checked).toContain('slots: Lamps (emission pass)');

  const other = temporaryFolder();
  const second = await startInstance('start', other);
  try {
    const there = (...args: string[]) =>
      run(join(root, 'zafiro'), ['recipe', ...args], { env: { ...process.env, ZAFIRO_DATA: other } });
    // The other library has its version 1; this is its next one.
    expect((await there('import', file)).stdout).toBe(
      'Softer night has a new version: soft-night, version 2\n',
    );
    expect((await there('import', file)).stdout).toBe(
      'Softer night is here already: soft-night, version 2\n',
    );
    const got = await json<Recipe>(`${second.address}/api/recipes/soft-night/versions/2`);
    expect(got).toEqual(recipe);
    expect((await there('list')).stdout).toMatch(/^soft-night +version 2, used 0 × {2}Softer night$/m);
  } finally {
    await second.stop();
    remove(other);
  }
});

test('the command line refuses what it cannot do, by name', async () => {
  const fails = async (...args: string[]) => {
    const { code, stderr } = await cli(...args).then(
      () => ({ code: 0, stderr: '' }),
      (error) => error as { code: number; stderr: string },
    );
    return [code, stderr];
  };
  expect(await fails('export', 'nobody')).toEqual([1, 'zafiro: This recipe is not there any more.\n']);
  expect(await fails('check', 'missing.json')).toEqual([
    1,
    'zafiro: missing.json cannot be read. Name a file that is there.\n',
  ]);
  writeFileSync(join(frames, 'no.json'), '{');
  expect(await fails('import', 'no.json')).toEqual([
    1,
    'zafiro: no.json: no.json is not JSON. Export the recipe again.\n',
  ]);
  expect((await fails('bake'))[0]).toBe(2);
});

test('a deleted recipe is gone from the library, and finishes go on', async () => {
  await json(at('/soft-night'), { method: 'DELETE' });
  expect((await list()).some((r) => r.id === 'soft-night')).toBe(false);
});
