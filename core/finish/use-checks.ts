import { type Finish, FinishError, findStep, type Strand, specOf, stepName } from './finish';
import { inputIdOf, isInput, isUse, usesAround } from './uses';

/** How deep recipes stand inside one another at most. */
const deepest = 5;

/** @throws {FinishError} where a recipe has no beginning or end, belongs to nothing, or its front drives what it must not. */
export function checkUses(doc: Finish): void {
  const uses = new Set<string>();
  for (const strand of doc.strands) {
    checkPairs(strand);
    for (const step of strand.steps) if (isUse(step)) uses.add(step.id);
  }
  if (uses.size === 0 && !doc.strands.some((s) => s.inside) && !doc.guides?.some((g) => g.inside)) return;
  for (const { id, name, inside } of [...doc.strands, ...(doc.guides ?? [])])
    if (inside !== undefined && !uses.has(inside))
      throw new FinishError(`${name} belongs to a recipe that is not there`, `${id}`, 'Remove “inside”.');
  for (const use of uses) checkDepth(doc, use);
  checkFronts(doc);
}

/** Every input has its use further down, and they do not cross. */
function checkPairs({ id, steps }: Strand): void {
  const open: string[] = [];
  const wrong = (step: string) =>
    new FinishError(
      'A recipe has a beginning without an end, or crosses another one',
      `strand ${id}, step ${step}`,
      'Move all of the recipe, or free it.',
    );
  for (const step of steps) {
    if (isInput(step)) open.push(step.id);
    if (isUse(step) && open.pop() !== inputIdOf(step.id)) throw wrong(step.id);
  }
  if (open.length > 0) throw wrong(open[0]);
}

function checkDepth(doc: Finish, use: string): void {
  const around = usesAround(doc, use);
  if (around.includes(use)) throw new FinishError('A recipe is inside itself', `step ${use}`, 'Free it.');
  if (around.length >= deepest)
    throw new FinishError(
      `Recipes stand inside one another ${deepest} deep at most`,
      `step ${use}`,
      'Free one of those around it.',
    );
}

/** A front drives values of steps inside, each of its own type, and no value twice. */
function checkFronts(doc: Finish): void {
  const taken = new Set<string>();
  for (const strand of doc.strands)
    for (const use of strand.steps)
      for (const { name, value, drives } of use.front ?? [])
        for (const drive of drives) {
          const at = `strand ${strand.id}, step ${use.id}`;
          const step = findStep(doc, drive.step)?.step;
          // What a step had on the front goes with the step.
          if (!step) continue;
          const spec = specOf(step)?.values[drive.value];
          const what = `${spec?.name ?? drive.value} of ${stepName(step)}`;
          if (!usesAround(doc, drive.step).includes(use.id))
            throw new FinishError(
              `${name} drives ${what}, which is not inside`,
              at,
              'Take it off the front.',
            );
          if (spec?.type !== value.type)
            throw new FinishError(`${name} cannot drive ${what}`, at, 'Take it off the front.');
          const key = `${drive.step}/${drive.value}`;
          if (taken.has(key)) throw new FinishError(`${what} is driven twice`, at, 'Take it off one front.');
          taken.add(key);
        }
}
