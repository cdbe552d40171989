import * as v from 'valibot';
import type { StepSpec } from '../steps/define';
import { after, declared, id, name } from './basic-schema';
import { animationSchema, valueSchema } from './track-schema';

/**
 * Schemas of steps, generated from their declarations: the document, edits, the clipboard, the CLI and the server all check values
 * by these and by nothing else. Each message is a whole sentence without its full stop.
 */

export const tapSchema = v.strictObject({
  strand: id,
  after,
  /** How a picture becomes a matte, where the slot takes a matte. */
  as: v.optional(v.picklist(['alpha', 'luminance'])),
});

const longestNote = 2000;
const note = v.pipe(
  v.string(),
  v.maxLength(
    longestNote,
    ({ input }) => `A note has at most ${longestNote} letters, this one has ${input.length}`,
  ),
);

/** Fields that every step has. */
export const stepFrame = {
  id,
  type: v.string(),
  name: v.optional(name),
  /** Words of the user about it. */
  note: v.optional(note),
  /** A linked copy: its values are those of this step. */
  follows: v.optional(id),
  bypass: v.optional(v.boolean(), false),
};

/** The values of a step by their declarations; what is left out takes its default. */
const valuesSchema = ({ name, values }: StepSpec) =>
  declared(
    Object.fromEntries(
      Object.entries(values).map(([key, spec]) => [
        key,
        v.optional(valueSchema(spec, `${spec.name} of ${name}`), spec.default),
      ]),
    ),
    (key) => `${name} has no value “${key}”`,
  );

const made = new WeakMap<StepSpec, v.GenericSchema>();

/** The whole of a step of one type. */
export function stepSchema(spec: StepSpec): v.GenericSchema {
  const known = made.get(spec);
  if (known) return known;
  const slots = Object.fromEntries(Object.keys(spec.slots).map((key) => [key, v.optional(tapSchema)]));
  const schema = v.strictObject({
    ...stepFrame,
    type: v.literal(spec.id),
    slots: v.optional(
      declared(slots, (key) => `${spec.name} has no slot “${key}”`),
      {},
    ),
    values: v.optional(valuesSchema(spec), {}),
    animation: v.optional(animationSchema(spec.name, spec.values)),
  });
  made.set(spec, schema);
  return schema;
}
