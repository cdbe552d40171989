import { type Edit, edit, freeId, tapsOf } from '../finish/edit';
import { type Finish, FinishError, type Step } from '../finish/finish';
import { inputIdOf, isInput, isUse, spanOf } from '../finish/uses';
import { recipe, recipeInput } from '../steps/recipe';
import { defaultsOf } from '../steps/shared/define';
import { closeUse, type PassKindOf } from './close';

/** Steps of one strand, from the first to the last that is chosen, with all of the recipes among them. */
export function chosenSpan(doc: Finish, strandId: string, stepIds: readonly string[]): [number, number] {
  const strand = doc.strands.find((s) => s.id === strandId);
  const indexes = strand?.steps.flatMap((s, i) => (stepIds.includes(s.id) ? spanOf(strand, i) : [])) ?? [];
  if (!strand || indexes.length === 0)
    throw new FinishError('A recipe needs a step', 'edit', 'Choose one or more steps of a strand.');
  let [first, last] = [Math.min(...indexes), Math.max(...indexes)];
  for (let i = first; i <= last; i++) {
    if (!isInput(strand.steps[i]) && !isUse(strand.steps[i])) continue;
    const [from, to] = spanOf(strand, i);
    if (from < first || to > last) {
      [first, last] = [Math.min(first, from), Math.max(last, to)];
      i = first;
    }
  }
  return [first, last];
}

/**
 * Makes chosen steps of a strand, and all between them, one recipe: no picture changes. Its master amount and front come last; what is linked from
 * elsewhere becomes its slots. @throws {FinishError} where nothing is chosen.
 */
export function makeRecipe(
  doc: Finish,
  strandId: string,
  stepIds: readonly string[],
  name: string,
  passKind?: PassKindOf,
): { edit: Edit; id: string } {
  chosenSpan(doc, strandId, stepIds);
  const id = freeId(doc, 'recipe');
  return {
    id,
    edit: {
      ...edit(`make the recipe ${name}`, (draft) => {
        const [first, last] = chosenSpan(draft, strandId, stepIds);
        const strand = draft.strands.find((s) => s.id === strandId)!;
        const end = strand.steps[last].id;
        const bare = { bypass: false, slots: {} } as const;
        const use: Step = {
          ...bare,
          id,
          type: recipe.id,
          name,
          front: [],
          values: defaultsOf(recipe.values) as Step['values'],
        };
        strand.steps.splice(last + 1, 0, use);
        strand.steps.splice(first, 0, { ...bare, id: inputIdOf(id), type: recipeInput.id, values: {} });
        // What takes the last step's picture takes what the recipe gives.
        for (const tap of tapsOf(draft)) if (tap.strand === strandId && tap.after === end) tap.after = id;
        closeUse(draft, id, passKind);
      }),
      opens: true,
    },
  };
}
