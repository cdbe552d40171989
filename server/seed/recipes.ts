import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { shippedRecipes } from '../../demo/recipes/recipes';
import { database, rows } from '../base/connect';
import { importRecipe } from '../recipes/recipes';

/** Puts the recipes that come with the program into the library, each version once: who deleted one does not get it back. */
export async function seedRecipes(pictures = 'demo/recipes/pictures'): Promise<void> {
  const seeded = new Set(
    (await rows<{ name: string }>("SELECT name FROM seeded WHERE name LIKE 'recipe:%'")).map((s) => s.name),
  );
  for (const recipe of shippedRecipes()) {
    const name = `recipe:${recipe.id}:${recipe.edition}`.slice(0, 100);
    if (seeded.has(name)) continue;
    const picture = readFileSync(join(pictures, `${recipe.id}.png`)).toString('base64');
    await importRecipe({ ...recipe, picture }, 'comes with Zafiro');
    await database().query('INSERT INTO seeded (name) VALUES (?)', [name]);
  }
}
