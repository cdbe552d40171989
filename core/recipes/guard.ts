import { type Finish, FinishError, type Step, type Strand, stepName } from '../finish/finish';
import { contentsOf, isUse, usesAround } from '../finish/uses';

/** A strand as far as it belongs to the recipe: what is linked to a slot belongs to the shot, as does how it is drawn. */
const ownOf = ({ folded: _, head, ...strand }: Strand) => ({
  ...strand,
  head: head.type === 'input' ? { ...head, from: undefined } : head,
});

const isSame = (a: Strand, b: Strand): boolean =>
  a === b ||
  (a.steps === b.steps &&
    JSON.stringify({ ...ownOf(a), steps: 0 }) === JSON.stringify({ ...ownOf(b), steps: 0 }));

/** What of a use another document has changed: a step or a strand inside. */
function changedIn(before: Finish, after: Finish, useId: string): Step | Strand | undefined {
  const [was, is] = [contentsOf(before, useId), contentsOf(after, useId)];
  const steps =
    is.steps.find((s, i) => s !== was.steps[i]) ?? (was.steps.length > is.steps.length ? was.use : undefined);
  if (steps) return steps;
  const strands = new Map(was.strands.map((s) => [s.id, s]));
  return (
    is.strands.find((s) => !strands.has(s.id) || !isSame(strands.get(s.id)!, s)) ??
    (was.strands.length > is.strands.length ? was.use : undefined)
  );
}

/**
 * Recipes stay as they are until somebody edits them: `editing` is the use whose inside may change.
 * @throws {FinishError} naming what was changed inside another one.
 */
export function guardRecipes(before: Finish, after: Finish, editing: string | undefined): void {
  const then = new Set(before.strands.flatMap((s) => s.steps.filter(isUse).map((u) => u.id)));
  if (then.size === 0) return;
  const opened = editing === undefined ? [] : usesAround(after, editing);
  for (const { steps } of after.strands)
    for (const use of steps) {
      if (!isUse(use) || !then.has(use.id)) continue;
      if (use.id === editing || opened.includes(use.id)) continue;
      if (editing !== undefined && usesAround(after, use.id).includes(editing)) continue;
      const changed = changedIn(before, after, use.id);
      if (!changed) continue;
      const name = 'type' in changed ? stepName(changed) : changed.name;
      throw new FinishError(
        changed === use || changed.id === use.id
          ? `This would change what is inside ${name}`
          : `${name} is inside ${stepName(use)}`,
        `step ${use.id}`,
        'Press “Edit inside” on the sheet of the recipe first.',
      );
    }
}
