import { stepSpec } from '../steps/registry';
import type { Values } from '../steps/shared/define';
import type { StartFacts } from '../steps/shared/start-facts';
import { andThen, type Edit } from './edit';
import { type Finish, findStep } from './finish';
import { setValues } from './value-edits';

/** The values of a step that its declaration takes from the picture: none where it takes none, and none that were set before. */
export function startValues(doc: Finish, stepId: string, facts: StartFacts): Values {
  const step = findStep(doc, stepId)?.step;
  const spec = step && stepSpec(step.type);
  if (!spec?.start) return {};
  const fresh = Object.entries(spec.start(facts));
  return Object.fromEntries(fresh.filter(([key]) => step?.values[key] === spec.values[key].default));
}

/** Steps that are new in a document and take values from the picture. */
export function startingSteps(before: Finish, after: Finish): string[] {
  const known = new Set(before.strands.flatMap((s) => s.steps.map((t) => t.id)));
  const steps = after.strands.flatMap((s) => s.steps);
  return steps.filter(({ id, type }) => !known.has(id) && stepSpec(type)?.start).map((s) => s.id);
}

/** The steps that an edit adds, one of them with the values that come from the picture: one step back. */
export const startedFrom = (added: Edit, stepId: string, facts: StartFacts): Edit =>
  andThen(added, (doc) => setValues(doc, stepId, startValues(doc, stepId, facts)));
