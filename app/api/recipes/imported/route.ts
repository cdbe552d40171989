import { importRecipe as route } from '@/api/recipes';
import { answer } from '@/server/http/answer';
import { importRecipe } from '@/server/recipes/recipes';

/** Takes in a recipe from a file. */
export const POST = answer(route, ({ body, who }) => importRecipe(body.recipe, undefined, who.account));
