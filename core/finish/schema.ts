import * as v from 'valibot';
import { recipeInput } from '../steps/recipe';
import { stepSpec, steps } from '../steps/registry';
import type { Value } from '../steps/shared/define';
import type { Track } from '../time/track';
import { id, name } from './basic-schema';
import type { Front } from './front';
import { headSchema } from './heads';
import { anyRecipeSchema, stepFrame, stepSchema, type tapSchema } from './step-schema';
import { guideSchema } from './track-schema';

/** The version of the finish format that this program writes; earlier ones are upgraded when they are read. */
export const finishFormat = 6;

export type Tap = v.InferOutput<typeof tapSchema>;

const frame = v.object(stepFrame);
export type Step = v.InferOutput<typeof frame> & {
  slots: Record<string, Tap>;
  values: Record<string, Value>;
  /** How values change over time, by their keys. */
  animation?: Record<string, Track>;
  /** Of a use of a recipe: where it came from, and its front. */
  recipe?: { id: string; version: number; linked: boolean };
  front?: Front[];
};

const unknownStep = v.object({
  type: v.pipe(
    v.string('A step needs a type'),
    v.check(
      () => false,
      ({ input }) => `There is no step “${input}”`,
    ),
  ),
});

/** A step by the declaration of its type. */
const step = v.lazy((input) => {
  const type = (input as { type?: unknown } | null)?.type;
  const spec = typeof type === 'string' ? stepSpec(type) : undefined;
  return spec ? stepSchema(spec) : unknownStep;
}) as unknown as v.GenericSchema<unknown, Step>;

const strandOf = <S extends v.GenericSchema<unknown, Step>>(steps: S) =>
  v.strictObject({
    id,
    name,
    kind: v.picklist(['picture', 'matte', 'data']),
    /** Made for a slot: it goes with the last link to it, as long as nobody put a step on it. */
    forSlot: v.optional(v.literal(true)),
    /** Its end can be exported under this name, beside the main strand's. */
    output: v.optional(
      v.pipe(
        v.string(),
        v.regex(/^[\w-]{1,60}$/, 'an output’s name has letters, digits, dashes and underscores'),
      ),
    ),
    /** Shown on the board as its head alone. */
    folded: v.optional(v.literal(true)),
    /** The group that it is shown in on the board. */
    group: v.optional(id),
    /** It belongs to a recipe: the step of its use. */
    inside: v.optional(id),
    head: headSchema,
    steps: v.array(steps),
  });

/** Colours of groups on the board. */
export const groupColours = ['blue', 'amber', 'green', 'rose', 'violet', 'teal'] as const;
const group = v.strictObject({ id, name, colour: v.picklist(groupColours) });
export type Group = v.InferOutput<typeof group>;

const finishOf = <S extends v.GenericSchema<unknown, Step>>(steps: S) =>
  v.strictObject({
    format: v.literal('zafiro-finish'),
    version: v.literal(finishFormat),
    id,
    name,
    main: id,
    /** Frames a second, by which modulators go; 24 if it is not said. */
    rate: v.optional(v.pipe(v.number(), v.minValue(0.1), v.maxValue(1000))),
    /** Places that values can follow. */
    guides: v.optional(v.pipe(v.array(guideSchema), v.maxLength(200, 'A finish has at most 200 guides'))),
    /** Groups of strands, as the board shows them. */
    groups: v.optional(v.pipe(v.array(group), v.maxLength(100, 'A finish has at most 100 groups'))),
    strands: v.pipe(v.array(strandOf(steps)), v.minLength(1, 'a finish needs a strand')),
    /** Advice that is not to be given again, by its key. */
    dismissed: v.optional(v.array(v.pipe(v.string(), v.maxLength(300)))),
  });

/** The structure of a finish, each step by its declaration. */
export const finishSchema = finishOf(step);
export const strandSchema = finishSchema.entries.strands.pipe[0].item;

/** The same with every type of step spelled out, for the JSON Schema that is published. */
export const publishedFinishSchema = () =>
  finishOf(
    v.variant('type', [
      ...steps.map(stepSchema),
      stepSchema(recipeInput),
      anyRecipeSchema(),
    ] as never) as v.GenericSchema<unknown, Step>,
  );

export type Finish = v.InferOutput<typeof finishSchema>;
export type Strand = Finish['strands'][number];
