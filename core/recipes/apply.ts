import { andThen, type Edit } from '../finish/edit';
import { type Finish, mainStrand, specOf } from '../finish/finish';
import { spanOf, usesOf } from '../finish/uses';
import { overridden } from './differences';
import { takeBack } from './front-edits';
import type { Recipe } from './recipe';
import { addRecipe, updateUse } from './use';

/** Recipes on many shots. */

/** Where a recipe comes on the main strand: at its end, or before what lens and film do there. */
export const places = { end: 'At the end', camera: 'Before lens and finish' } as const;
export type Place = keyof typeof places;

function indexAt(doc: Finish, place: Place): number {
  const main = mainStrand(doc);
  if (place === 'end') return main.steps.length;
  let index = main.steps.length;
  // From the end up, past all that a camera does last.
  while (index > 0) {
    const [first] = spanOf(main, index - 1);
    const stage = specOf(main.steps[index - 1])?.stage;
    if (stage !== 'lens' && stage !== 'finish') break;
    index = first;
  }
  return index;
}

/** A recipe on the main strand of a finish, as it is used there. */
export const appliedRecipe = (doc: Finish, recipe: Recipe, place: Place, width: number) =>
  addRecipe(doc, recipe, { strand: doc.main, index: indexAt(doc, place) }, { linked: true, width });

/** The uses of a recipe that follow newer versions and have an older one. */
export const outdatedUses = (doc: Finish, recipe: Pick<Recipe, 'id' | 'edition'>): string[] =>
  usesOf(doc).flatMap((use) =>
    use.recipe?.id === recipe.id && use.recipe.linked && use.recipe.version < recipe.edition ? [use.id] : [],
  );

/** A version of a recipe in the place of all older ones that follow it; undefined where there are none. */
export function updatedUses(doc: Finish, recipe: Recipe): Edit | undefined {
  const [first, ...others] = outdatedUses(doc, recipe);
  if (first === undefined) return undefined;
  return others.reduce((done, id) => andThen(done, () => updateUse(id, recipe)), updateUse(first, recipe));
}

/** What a finish has of its own on the fronts of its recipes: the step of each use, its name, and the controls. */
export const ownValues = (doc: Finish): { use: string; name: string; controls: string[] }[] =>
  usesOf(doc).flatMap((use) => {
    const controls = use.recipe ? overridden(use) : [];
    return controls.length > 0 ? [{ use: use.id, name: use.name ?? 'Recipe', controls }] : [];
  });

/** Gives all values of a use that are the finish's own back to the recipe. */
export function takenBack(doc: Finish, useId: string): Edit | undefined {
  const own = ownValues(doc).find((o) => o.use === useId);
  if (!own) return undefined;
  const [first, ...others] = own.controls;
  return others.reduce(
    (done, id) => andThen(done, (d: Finish) => takeBack(d, useId, id)),
    takeBack(doc, useId, first),
  );
}
