import { importRecipe } from '@/api/recipes';
import { request } from '@/api/request';
import { fetchRecipe } from '@/browser/recipes';
import { saveFile } from '../parts/save-file';
import { t } from '../words/words';

/** Recipes as files. */

export const recipeFileEnding = '.zafiro-recipe.json';

/** Hands a version of a recipe to the browser as a file. @throws {Error} in words. */
export async function exportRecipe(id: string, edition: number): Promise<void> {
  const recipe = await fetchRecipe(id, edition);
  saveFile(`${id}${recipeFileEnding}`, `${JSON.stringify(recipe, null, 1)}\n`, 'application/json');
}

/** What became of the files that were given, one sentence each. */
export type Imported = {
  name: string;
  words: string;
  failed: boolean;
  id?: string;
  edition?: number;
  recipe?: string;
};

/** Takes recipes from files into the library; what cannot be taken says why. */
export async function importFiles(files: readonly File[]): Promise<Imported[]> {
  const out: Imported[] = [];
  for (const file of files) {
    try {
      const text = await file.text();
      let recipe: unknown;
      try {
        recipe = JSON.parse(text);
      } catch {
        throw new Error(t`This file is not JSON. Export the recipe again.`);
      }
      const { name, edition, became, id } = await request(importRecipe, { body: { recipe } });
      const words =
        became === 'recipe'
          ? t`${name} is in the library.`
          : became === 'version'
            ? t`${name} was here already: this is its version ${edition}.`
            : t`${name} is here already, as version ${edition}.`;
      out.push({ name: file.name, words, failed: false, id, edition, recipe: name });
    } catch (error) {
      out.push({ name: file.name, words: `${file.name}: ${(error as Error).message}`, failed: true });
    }
  }
  return out;
}
