import * as v from 'valibot';
import { recipeWords } from '../core/recipes/recipe';
import { rowId as id, nothing, route, wholeNumber } from './contract';

/** The library of recipes: every version of each, where they are used, and their pictures. */

const recipeId = v.pipe(v.string(), v.regex(/^[a-z0-9][a-z0-9.-]{0,199}$/, 'There is no such recipe.'));
const note = v.pipe(v.string(), v.trim(), v.maxLength(1000, 'A note has at most 1000 letters.'));
const params = { recipe: recipeId };

/** A recipe as lists show it. */
const recipeSummary = v.strictObject({
  id: recipeId,
  /** Its newest version. */
  edition: id,
  ...recipeWords,
  picture: v.boolean(),
  savedAt: v.string(),
  /** How many finishes use it. */
  uses: id,
});
export type RecipeSummary = v.InferOutput<typeof recipeSummary>;
export const listRecipes = route('GET', '/api/recipes', { answer: v.array(recipeSummary) });

/** Where a recipe is used: the newest version of a finish, and which versions of the recipe. */
const recipeUse = v.strictObject({
  shot: id,
  shotName: v.string(),
  project: v.string(),
  finish: id,
  finishName: v.string(),
  editions: v.array(id),
  /** How many of its uses follow newer versions. */
  linked: id,
});
export type RecipeUse = v.InferOutput<typeof recipeUse>;

export const recipeDetail = v.strictObject({
  ...recipeSummary.entries,
  versions: v.array(v.strictObject({ edition: id, note: v.string(), savedAt: v.string() })),
  usedIn: v.array(recipeUse),
});
export type RecipeDetail = v.InferOutput<typeof recipeDetail>;
export const readRecipe = route('GET', '/api/recipes/:recipe', { params, answer: recipeDetail });

/** One version as it is written to a file. The page checks it as the server does. */
export const readRecipeVersion = route('GET', '/api/recipes/:recipe/versions/:edition', {
  params: { ...params, edition: wholeNumber },
  answer: v.unknown(),
});

/** The picture of a recipe's version, a PNG. */
export const readRecipePicture = route('GET', '/api/recipes/:recipe/versions/:edition/picture', {
  params: { ...params, edition: wholeNumber },
  answer: 'bytes',
});

/**
 * Keeps a recipe: as a new one where `after` is not said, under a free id; else as the version after `after`. An error `conflict` names the newest version
 * where somebody else saved one in between.
 */
export const saveRecipe = route('POST', '/api/recipes', {
  body: v.strictObject({ recipe: v.unknown(), note: v.optional(note, ''), after: v.optional(id) }),
  answer: v.strictObject({ id: recipeId, edition: id }),
});

/** What an imported recipe became: a new one, a new version, or one that was here already. */
export const importRecipe = route('POST', '/api/recipes/imported', {
  body: v.strictObject({ recipe: v.unknown() }),
  answer: v.strictObject({
    id: recipeId,
    edition: id,
    name: v.string(),
    became: v.picklist(['recipe', 'version', 'known']),
  }),
});

/** Changes the words of a recipe, in its newest version. */
export const changeRecipe = route('PATCH', '/api/recipes/:recipe', {
  params,
  body: v.partial(v.strictObject(recipeWords)),
  answer: nothing,
});

export const deleteRecipe = route('DELETE', '/api/recipes/:recipe', { params, answer: nothing });
