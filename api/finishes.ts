import * as v from 'valibot';
import { finishSchema } from '../core/finish/schema';
import { rowId as id, nothing, route, wholeNumber } from './contract';

/** Finishes of a shot, and every version of them that was saved. */

const name = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, 'A name is missing.'),
  v.maxLength(200, 'A name has at most 200 letters.'),
);

export const savedFinish = v.strictObject({
  id,
  shot: id,
  version: id,
  document: finishSchema,
  /** Repairs that were made to open the stored document. */
  repairs: v.array(v.string()),
});
export type SavedFinish = v.InferOutput<typeof savedFinish>;

const params = { finish: wholeNumber };

export const readFinish = route('GET', '/api/finishes/:finish', { params, answer: savedFinish });

/**
 * Saves a document that was made from version `from`; committed when it is answered. `save` names this one save: asked for a second time,
 * because the first answer was lost, it is answered alike and nothing is saved twice. An error `conflict` names the newest version if
 * somebody else saved in between.
 */
export const saveFinish = route('PUT', '/api/finishes/:finish', {
  params,
  body: v.strictObject({
    from: id,
    label: v.pipe(
      v.string(),
      v.transform((s) => s.slice(0, 500)),
    ),
    save: v.pipe(v.string(), v.uuid('A save needs an id of its own.')),
    document: v.unknown(),
  }),
  answer: v.strictObject({ version: id }),
});

export const copyFinish = route('POST', '/api/finishes', {
  body: v.strictObject({ copy: id, name }),
  answer: v.strictObject({ finish: id }),
});

/** A document as another finish of a shot. Its name gets a number where the shot has that name already. */
export const addFinish = route('POST', '/api/shots/:shot/finishes', {
  params: { shot: wholeNumber },
  body: v.strictObject({
    document: v.unknown(),
    label: v.pipe(
      v.string(),
      v.transform((s) => s.slice(0, 500)),
    ),
  }),
  answer: v.strictObject({ finish: id }),
});

/** A saved version, and what its edit did. */
export const version = v.strictObject({
  version: id,
  label: v.string(),
  name: v.nullable(v.string()),
  savedAt: v.string(),
  /** Who saved it, where people sign in. */
  by: v.optional(v.string()),
});
export type Version = v.InferOutput<typeof version>;
export const listVersions = route('GET', '/api/finishes/:finish/versions', {
  params,
  answer: v.array(version),
});

const one = { ...params, version: wholeNumber };
export const readVersion = route('GET', '/api/finishes/:finish/versions/:version', {
  params: one,
  answer: finishSchema,
});
/** Names a version, or takes its name (null, or nothing). */
export const nameVersion = route('PATCH', '/api/finishes/:finish/versions/:version', {
  params: one,
  body: v.strictObject({
    name: v.nullable(v.pipe(v.string(), v.trim(), v.maxLength(200, 'A name has at most 200 letters.'))),
  }),
  answer: nothing,
});
