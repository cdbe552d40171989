import * as v from 'valibot';
import { rowId as id, nothing, route, typedWords, wholeNumber } from './contract';

/** The shelf: projects, their shots and finishes; what was deleted of late; what is being exported; free space. */

const time = v.nullable(v.string());

/** A finish of a shot, the version it has now, and the version that its poster was made of, if there is one. */
const shelfFinish = v.strictObject({
  id,
  name: v.string(),
  version: id,
  poster: v.nullable(id),
  savedAt: v.string(),
});
export type ShelfFinish = v.InferOutput<typeof shelfFinish>;

const shelfShot = v.strictObject({
  id,
  name: v.string(),
  first: v.number(),
  last: v.number(),
  rate: v.number(),
  width: v.number(),
  height: v.number(),
  /** Its first frame that is here, as it was imported. */
  frame: v.nullable(v.strictObject({ media: id, frame: v.number(), content: v.string() })),
  /** The layers of that frame, the lowest first, of a shot of drawings that has no finished picture yet. */
  layers: v.array(v.strictObject({ media: id, frame: v.number(), content: v.string(), opacity: v.number() })),
  arrived: v.number(),
  expected: v.number(),
  archived: v.boolean(),
  addedAt: v.string(),
  openedAt: time,
  /** The finish that was open last. */
  openedFinish: v.nullable(id),
  finishes: v.array(shelfFinish),
  /** Frames of its exports that are done, and all of them, of runs that are not over. */
  exporting: v.nullable(v.strictObject({ done: v.number(), of: v.number() })),
});
export type ShelfShot = v.InferOutput<typeof shelfShot>;

const shelfProject = v.strictObject({
  id,
  name: v.string(),
  archived: v.boolean(),
  /** True where whoever asks may look and change nothing. */
  looksOnly: v.boolean(),
  addedAt: v.string(),
  shots: v.array(shelfShot),
});
export type ShelfProject = v.InferOutput<typeof shelfProject>;

/** What was deleted, and when it goes for good. */
const deleted = v.strictObject({
  type: v.picklist(['project', 'shot', 'finish']),
  id,
  name: v.string(),
  /** What it belonged to. */
  of: v.string(),
  deletedAt: v.string(),
  goesAt: v.string(),
});
export type Deleted = v.InferOutput<typeof deleted>;

export const shelf = v.strictObject({
  projects: v.array(shelfProject),
  deleted: v.array(deleted),
  /** Who looks at it, where people sign in, and whether there is a project that they may change. */
  who: v.optional(v.strictObject({ name: v.string(), isAdmin: v.boolean(), edits: v.boolean() })),
  /** Bytes that are free on the disk of the data folder, and its size. */
  free: v.number(),
  disk: v.number(),
});
export type Shelf = v.InferOutput<typeof shelf>;
export const readShelf = route('GET', '/api/shelf', { answer: shelf });

const project = { project: wholeNumber };
export const addProject = route('POST', '/api/projects', {
  body: v.strictObject({ name: typedWords('The project’s name') }),
  answer: v.strictObject({ project: id }),
});
export const changeProject = route('PATCH', '/api/projects/:project', {
  params: project,
  body: v.strictObject({
    name: v.optional(typedWords('The project’s name')),
    archived: v.optional(v.boolean()),
  }),
  answer: nothing,
});
/** Deletes a project with its shots: for 30 days they can be brought back; with `forever` at once and for good. */
export const deleteProject = route('DELETE', '/api/projects/:project', {
  params: project,
  query: { forever: v.optional(v.string()) },
  answer: nothing,
});
export const restoreProject = route('POST', '/api/projects/:project/restore', {
  params: project,
  answer: nothing,
});

const shot = { shot: wholeNumber };
/** Renames a shot, moves it into another project, or archives it. */
export const changeShot = route('PATCH', '/api/shots/:shot', {
  params: shot,
  body: v.strictObject({
    name: v.optional(typedWords('The shot’s name')),
    project: v.optional(id),
    archived: v.optional(v.boolean()),
  }),
  answer: nothing,
});
/** A copy of a shot: the same media, and the newest version of each of its finishes. */
export const copyShot = route('POST', '/api/shots/:shot/copy', {
  params: shot,
  answer: v.strictObject({ shot: id }),
});
export const restoreShot = route('POST', '/api/shots/:shot/restore', { params: shot, answer: nothing });
/** What goes with a shot that is deleted. */
export const readBelongings = route('GET', '/api/shots/:shot/belongings', {
  params: shot,
  answer: v.strictObject({
    finishes: v.number(),
    versions: v.number(),
    exports: v.number(),
    exportedFrames: v.number(),
    /** Media that were uploaded, and go; and those that are read where they lie, and stay. */
    uploaded: v.array(v.string()),
    inPlace: v.array(v.string()),
  }),
});
/** A shot was opened, with one of its finishes. */
export const openedShot = route('POST', '/api/shots/:shot/opened', {
  params: shot,
  body: v.strictObject({ finish: id }),
  answer: nothing,
});

const finish = { finish: wholeNumber };
/** Deletes a finish: for 30 days it can be brought back. The last one of a shot stays. */
export const deleteFinish = route('DELETE', '/api/finishes/:finish', {
  params: finish,
  query: { forever: v.optional(v.string()) },
  answer: nothing,
});
export const restoreFinish = route('POST', '/api/finishes/:finish/restore', {
  params: finish,
  answer: nothing,
});

const mostPoster = 400_000;
/** The finished picture of a version, as WebP of at most 300 KB. */
export const savePoster = route('PUT', '/api/finishes/:finish/poster', {
  params: finish,
  body: v.strictObject({
    version: id,
    webp: v.pipe(
      v.string(),
      v.maxLength(mostPoster, 'This picture is too large for a poster.'),
      v.regex(/^UklGR[A-Za-z0-9+/]*={0,2}$/, 'A poster is a WebP picture in Base64.'),
    ),
  }),
  answer: nothing,
});
export const readPoster = route('GET', '/api/finishes/:finish/poster', {
  params: finish,
  query: { version: v.optional(v.string()) },
  answer: 'bytes',
});
