import { listRecipes as listRoute, saveRecipe as saveRoute } from '@/api/recipes';
import { answer } from '@/server/http/answer';
import { listRecipes, saveRecipe } from '@/server/recipes/recipes';

export const GET = answer(listRoute, () => listRecipes());

export const POST = answer(saveRoute, ({ body, who }) =>
  saveRecipe(body.recipe, body.note, body.after, who.account),
);
