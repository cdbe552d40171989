import { changeRecipe as changeRoute, deleteRecipe as deleteRoute, readRecipe } from '@/api/recipes';
import { projectsSeen } from '@/server/access/rights';
import { answer } from '@/server/http/answer';
import { changeRecipe, deleteRecipe, recipeDetail } from '@/server/recipes/recipes';

export const GET = answer(readRecipe, async ({ params, who }) =>
  recipeDetail(params.recipe, await projectsSeen(who)),
);

export const PATCH = answer(changeRoute, async ({ params, body }) => {
  await changeRecipe(params.recipe, body);
  return {};
});

export const DELETE = answer(deleteRoute, async ({ params, who }) => {
  await deleteRecipe(params.recipe, who);
  return {};
});
