import * as v from 'valibot';
import { route, typedWords, wholeNumber } from './contract';
import { encoding, gapRule, mediaDetail } from './media';

/** Projects and shots. */

const summary = {
  id: v.number(),
  name: v.string(),
  first: v.number(),
  last: v.number(),
  rate: v.number(),
  width: v.number(),
  height: v.number(),
};

export const shotDetail = v.strictObject({
  ...summary,
  project: v.string(),
  media: v.array(mediaDetail),
  finishes: v.array(v.strictObject({ id: v.number(), name: v.string() })),
  /** The newest change of the shot that this holds: events go on from here. */
  seq: v.number(),
  /** Who asks may look at it and change nothing. */
  looksOnly: v.optional(v.boolean()),
});
export type ShotDetail = v.InferOutput<typeof shotDetail>;

export const readShot = route('GET', '/api/shots/:shot', {
  params: { shot: wholeNumber },
  answer: shotDetail,
});

/**
 * Deletes a shot with its finishes, versions and exports; the frames it was made of stay where they are. For 30 days it can be brought back; with
 * `forever` one that was deleted goes for good.
 */
export const deleteShot = route('DELETE', '/api/shots/:shot', {
  params: { shot: wholeNumber },
  query: { forever: v.optional(v.string()) },
  answer: v.strictObject({ ok: v.literal(true) }),
});

const chosenMedia = v.pipe(
  v.array(
    v.strictObject({
      pattern: typedWords('The path of the frames', 2000),
      gaps: v.optional(gapRule),
      encoding: v.optional(encoding),
    }),
  ),
  v.minLength(1, 'Choose the frames to import.'),
  v.maxLength(200, 'At most 200 sequences are imported at once.'),
);
export const addShot = route('POST', '/api/shots', {
  body: v.strictObject({
    project: typedWords('The project’s name'),
    shot: typedWords('The shot’s name'),
    media: chosenMedia,
    stacked: v.optional(v.boolean(), false),
  }),
  answer: v.strictObject({ shot: v.number() }),
});

/** More media for a shot that is there: the names that its finishes can use them by. */
export const addMedia = route('POST', '/api/shots/:shot/media', {
  params: { shot: wholeNumber },
  body: v.strictObject({ media: chosenMedia }),
  answer: v.strictObject({ names: v.array(v.string()) }),
});

const part = v.picklist(['ok', 'away', 'full']);
/** Answers once the server and its database do; `live` alone asks whether the process answers at all. */
export const readHealth = route('GET', '/api/health', {
  query: { only: v.optional(v.literal('live')) },
  answer: v.strictObject({
    ok: v.literal(true),
    parts: v.optional(v.strictObject({ database: part, redis: part, exports: part, disk: part })),
  }),
});
