import { stepSpec } from '../steps/registry';
import type { StartFacts } from '../steps/start';
import { andThen, type Edit } from './edit';
import { type Finish, findStep } from './finish';
import { setValues } from './value-edits';

/** The values of a step that its declaration takes from the picture: none where it takes none. */
export const startValues = (doc: Finish, stepId: string, facts: StartFacts) =>
  stepSpec(findStep(doc, stepId)?.step.type ?? '')?.start?.(facts) ?? {};

/** The step that an edit adds, with the values that come from the picture: one step back. */
export const startedFrom = (added: Edit, stepId: string, facts: StartFacts): Edit =>
  andThen(added, (doc) => setValues(doc, stepId, startValues(doc, stepId, facts)));
