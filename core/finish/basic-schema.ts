import * as v from 'valibot';
import { limits } from '../formats/limits';

/** What schemas of the document are made of. */

export const name = v.pipe(v.string(), v.trim(), v.minLength(1, 'a name is missing'), v.maxLength(200));
export const finite = v.pipe(v.number(), v.finite());
export const whole = v.pipe(v.number(), v.integer());
export const id = v.pipe(
  v.string(),
  v.regex(/^[a-z0-9][a-z0-9.-]{0,199}$/, 'an id is small letters, digits, dashes and dots'),
);
export const share = v.pipe(finite, v.minValue(0), v.maxValue(1));
/** After a step of a strand, after its head, or at its end. */
export const after = v.union([v.literal('head'), v.literal('end'), id]);

export const offset = v.pipe(v.tuple([finite, finite]), v.readonly());
const point = v.strictObject({
  x: finite,
  y: finite,
  /** Handles of the cubics that come in and go out, from the point. */
  in: v.optional(offset),
  out: v.optional(offset),
  /** Softness here, beside the shape's. */
  feather: v.optional(v.pipe(finite, v.minValue(0))),
});
/** Points of a closed path of cubics. */
export const path = v.pipe(
  v.array(point),
  v.minLength(2, 'A path needs two points'),
  v.maxLength(limits.pathPoints),
  v.readonly(),
);

/** A record whose keys are exactly those declared: what an object inherits, such as `toString`, is none of them. */
export const declared = <T extends v.GenericSchema>(
  entries: Record<string, T>,
  unknown: (key: string) => string,
) =>
  v.strictObject(Object.assign(Object.create(null), entries) as Record<string, T>, (issue) =>
    issue.expected === 'never' ? unknown(JSON.parse(issue.received)) : 'This is no object',
  );
