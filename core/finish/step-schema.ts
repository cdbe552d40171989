import * as v from 'valibot';
import { recipe } from '../steps/recipe';
import type { StepSpec } from '../steps/shared/define';
import { after, declared, id, name, whole } from './basic-schema';
import { frontSchema, recipeSpec } from './front';
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
  /** The complement of the matte, where the slot takes a matte. */
  invert: v.optional(v.literal(true)),
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

/** Fields that a use of a recipe has besides. */
const recipeFrame = {
  /** The recipe of the library that it came from, which of its versions, and whether it follows newer ones. */
  recipe: v.optional(v.strictObject({ id, version: v.pipe(whole, v.minValue(1)), linked: v.boolean() })),
  front: v.optional(frontSchema, []),
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

/** The whole of a step of one type; a use of a recipe by its front. */
export const stepSchema = (spec: StepSpec): v.GenericSchema =>
  spec.id === recipe.id
    ? v.lazy((given) => {
        const front = v.safeParse(frontSchema, (given as { front?: unknown } | null)?.front ?? []);
        return schemaOf(recipeSpec(front.success ? front.output : []), recipeFrame);
      })
    : schemaOf(spec);

/** Of a recipe whatever its front is, for the JSON Schema that is published. */
export const anyRecipeSchema = () => {
  const any = v.record(v.string(), v.any());
  return v.strictObject({
    ...stepFrame,
    ...recipeFrame,
    type: v.literal(recipe.id),
    slots: v.optional(v.strictObject({ mask: v.optional(tapSchema) }), {}),
    values: v.optional(any, {}),
    animation: v.optional(any),
  });
};

function schemaOf(spec: StepSpec, more: v.ObjectEntries = {}): v.GenericSchema {
  const known = made.get(spec);
  if (known) return known;
  const slots = Object.fromEntries(Object.keys(spec.slots).map((key) => [key, v.optional(tapSchema)]));
  const schema = v.strictObject({
    ...stepFrame,
    ...more,
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
