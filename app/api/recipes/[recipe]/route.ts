import { changeRecipe as changeRoute, deleteRecipe as deleteRoute, readRecipe } from '@/api/recipes';
import { answer } from '@/server/answer';
import { changeRecipe, deleteRecipe, recipeDetail } from '@/server/recipes/recipes';

export const GET = answer(readRecipe, ({ params }) => recipeDetail(params.recipe));

export const PATCH = answer(changeRoute, async ({ params, body }) => {
  await changeRecipe(params.recipe, body);
  return {};
});

export const DELETE = answer(deleteRoute, async ({ params }) => {
  await deleteRecipe(params.recipe);
  return {};
});
