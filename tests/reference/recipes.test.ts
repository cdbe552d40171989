import { execFile } from 'node:child_process';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { PictureCache } from '../../core/evaluate/cache';
import { evaluate } from '../../core/evaluate/run';
import { findStep } from '../../core/finish/finish';
import { programVersion } from '../../core/finish/program';
import { contentsOf, inputIdOf } from '../../core/finish/uses';
import { setValues } from '../../core/finish/value-edits';
import { differences } from '../../core/recipes/differences';
import { freeRecipe } from '../../core/recipes/free';
import { openRecipe } from '../../core/recipes/recipe';
import { scaledRecipe } from '../../core/recipes/scale';
import { layers, patternOf } from '../../demo/moth-and-comet/layers';
import { size as mothSize } from '../../demo/moth-and-comet/paint';
import { size as hallSize } from '../../demo/orrery-hall/render';
import { onHall, onMoth } from '../../demo/recipes/on-shots';
import { shippedRecipes } from '../../demo/recipes/recipes';
import { fileSource } from '../../engine/node/file-source';
import { plainRuntime } from '../runtime';
import { remove, root, temporaryFolder } from '../server/instance';

/** Every recipe that comes with the program, on the first frames of both demo shots. */
const folder = temporaryFolder();
const run = promisify(execFile);

beforeAll(async () => {
  for (const name of ['orrery-hall', 'moth-and-comet']) {
    mkdirSync(join(folder, name));
    // Nice: others that run beside it wait for frames too.
    await run('nice', ['-n', '10', 'node', join(root, 'dist', `${name}.mjs`), join(folder, name), '1']);
  }
}, 300_000);
afterAll(() => remove(folder));

const recipes = shippedRecipes();

describe.each(recipes.map((r) => [r.name, r] as const))('%s', (_, recipe) => {
  test('is a recipe by its own format, with words for people and a picture', () => {
    const picture = readFileSync(join(root, 'demo/recipes/pictures', `${recipe.id}.png`)).toString('base64');
    const file = JSON.parse(JSON.stringify({ ...recipe, picture }));
    expect(openRecipe(file)).toEqual({ recipe: { ...recipe, picture }, repairs: [] });
    expect(recipe.description.length).toBeGreaterThan(60);
    expect(recipe.tags.length).toBeGreaterThan(0);
    expect(recipe.front.length).toBeGreaterThan(2);
    // Whoever uses it is told what each slot is for.
    for (const { id, head } of recipe.inside.strands)
      if (head.type === 'input' && id !== recipe.inside.main) expect(head.description).toBeTruthy();
  });

  test.each([
    ['the hall', () => onHall(recipe)],
    ['the drawings', () => onMoth(recipe)],
  ] as const)(
    'on %s: amount 0 is the input, 1 the look, 0.5 half-way; freed it is the same',
    async (name, make) => {
      const { finish, use } = make();
      const { width } = name === 'the hall' ? hallSize : mothSize;
      expect(differences(finish, use, scaledRecipe(recipe, width))).toEqual([]);
      const runtime = plainRuntime(512);
      const source = fileSource({
        orrery_hall: { pattern: join(folder, 'orrery-hall/orrery_hall.####.exr') },
        ...Object.fromEntries(
          layers.map((l) => [l.name, { pattern: join(folder, 'moth-and-comet', patternOf(l)) }]),
        ),
      });
      const cache = new PictureCache(runtime.arena, 2 ** 28);
      const picture = (doc: typeof finish, strand: string, after: string) =>
        evaluate(
          { finish: doc, point: { strand, after }, frame: 1, scale: 0.5 },
          { runtime, source, cache },
          (p) => p.data.slice(),
        );
      const { strand } = contentsOf(finish, use);
      const at = (amount: number) =>
        picture(setValues(finish, use, { amount }).apply(finish), strand.id, use);
      const input = await picture(finish, strand.id, inputIdOf(use));
      const [none, half, all] = [await at(0), await at(0.5), await at(1)];
      expect(Buffer.compare(Buffer.from(none.buffer), Buffer.from(input.buffer))).toBe(0);
      let [sum, worst] = [0, 0];
      for (let i = 0; i < all.length; i++) {
        sum += Math.abs(all[i] - input[i]);
        worst = Math.max(worst, Math.abs(half[i] - (input[i] + all[i]) / 2) / (1 + Math.abs(all[i])));
      }
      // It does something that is seen, and nothing that is no number.
      expect(sum / all.length).toBeGreaterThan(5e-4);
      expect(worst).toBeLessThan(2e-6);
      expect(all.every(Number.isFinite)).toBe(true);
      const free = freeRecipe(finish, use).apply(finish);
      // With a mask a join stands in its place.
      expect(findStep(free, use)?.step.type).not.toBe('recipe');
      const whole = await picture(finish, 'main', 'end');
      expect(
        Buffer.compare(Buffer.from((await picture(free, 'main', 'end')).buffer), Buffer.from(whole.buffer)),
      ).toBe(0);
    },
  );
});

test('ids are free of each other, and the program says its version', () => {
  expect(new Set(recipes.map((r) => r.id)).size).toBe(recipes.length);
  expect(JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')).version).toBe(programVersion);
});
