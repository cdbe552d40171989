import { readRecipeVersion } from '@/api/recipes';
import { answer } from '@/server/http/answer';
import { loadRecipe } from '@/server/recipes/recipes';

/** A version of a recipe, as it is written to a file. */
export const GET = answer(readRecipeVersion, ({ params }) => loadRecipe(params.recipe, params.edition));
