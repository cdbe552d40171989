import * as v from 'valibot';
import { stepSpec } from '../core/steps/registry';
import { nothing, route } from './contract';

/** Presets of steps: values under a name, for every shot. They stand in the library beside the recipes. */

const step = v.pipe(
  v.string('Say which step the preset is of.'),
  v.check((type) => stepSpec(type) !== undefined, 'There is no such step.'),
);
const name = v.pipe(
  v.string('A preset has a name.'),
  v.trim(),
  v.minLength(1, 'A preset has a name.'),
  v.maxLength(100, 'A name has at most 100 letters.'),
);
const value = v.union([
  v.number(),
  v.string(),
  v.boolean(),
  v.pipe(v.array(v.union([v.number(), v.array(v.number())])), v.maxLength(4096)),
]);
const preset = v.strictObject({
  step,
  name,
  /** Its values by their keys. One that the step does not have any more is left out when the preset is taken. */
  values: v.pipe(
    v.record(v.string(), value),
    v.check((values) => JSON.stringify(values).length <= 700_000, 'These are too many values for a preset.'),
  ),
});
export type StepPreset = v.InferOutput<typeof preset>;

export const listStepPresets = route('GET', '/api/step-presets', {
  query: { step: v.optional(step) },
  answer: v.array(preset),
});
/** Keeps a preset; one of the same name is replaced. */
export const saveStepPreset = route('PUT', '/api/step-presets', { body: preset, answer: nothing });
export const deleteStepPreset = route('DELETE', '/api/step-presets', {
  query: { step, name: v.string() },
  answer: nothing,
});
