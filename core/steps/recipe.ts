import { defineStep } from './shared/define';
import { keep, keepSlots } from './shared/lay';
import { faded } from './shared/masked-by';
import { number } from './shared/numbers';

/**
 * The two steps between which the steps of a recipe stand. They are not in the palette: a recipe brings them.
 */

/** Where a recipe begins: the picture that comes to it. Changes nothing. */
export const recipeInput = defineStep({
  id: 'recipe-input',
  name: 'Recipe input',
  stage: 'prepare',
  anywhere: true,
  accepts: ['picture', 'matte', 'data'],
  description: 'The picture that comes to a recipe.',
  version: 1,
  slots: {},
  values: {},
  neutral: () => true,
  reach: () => 0,
  run: (_, picture) => picture,
});

/**
 * Where a recipe ends: input + m·a·(result − input), with the mask m and the master amount a. The plan gives it the picture that came to the recipe
 * as `input`. Its values are, beside the amount, those on the recipe's front.
 */
export const recipe = defineStep({
  id: 'recipe',
  name: 'Recipe',
  stage: 'prepare',
  anywhere: true,
  accepts: ['picture', 'matte', 'data'],
  description: 'A set of steps with chosen controls on its front and one master amount.',
  version: 1,
  slots: keepSlots,
  values: {
    ...keep,
    amount: number('ratio', 'change', 'Amount', 'Fades all of it: 0 gives the picture that came to it.', 1, {
      from: 0,
      to: 1,
      soft: [0, 1],
    }),
  },
  summaryValue: 'amount',
  neutral: () => false,
  reach: () => 0,
  run(workspace, result, slots, { amount, invert }) {
    const { input, mask } = slots as { input?: typeof result; mask?: typeof result };
    return faded(workspace, input ?? result, result, { mask, invert, amount });
  },
});
