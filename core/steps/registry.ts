import type { StepSpec } from './define';
import { bloom } from './light/bloom';

/** Every step there is: adding one means adding its file and a line here. */
export const steps: readonly StepSpec[] = [bloom];

const byId = new Map(steps.map((s) => [s.id, s]));

/** The declaration of step `id`; undefined where this version of Zafiro has no such step. */
export const stepSpec = (id: string): StepSpec | undefined => byId.get(id);
