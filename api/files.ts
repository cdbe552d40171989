import * as v from 'valibot';
import { route } from './contract';
import { pass } from './media';

/** Files of the server's machine that may be imported, and files that a page sends. */

const foundSequence = v.strictObject({
  name: v.string(),
  frames: v.array(v.number()),
  gaps: v.array(v.tuple([v.number(), v.number()])),
  /** A whole path, its number as ####. */
  pattern: v.string(),
  folder: v.string(),
  bytes: v.number(),
});
export type FoundSequence = v.InferOutput<typeof foundSequence>;

const listing = v.strictObject({
  roots: v.array(v.string()),
  path: v.string(),
  /** The folder above, if it may be read. */
  above: v.nullable(v.string()),
  folders: v.array(v.strictObject({ name: v.string(), path: v.string() })),
  sequences: v.array(foundSequence),
  /** More files than are listed. */
  more: v.number(),
});
export type Listing = v.InferOutput<typeof listing>;
export const browse = route('GET', '/api/browse', {
  query: { path: v.optional(v.string()) },
  answer: listing,
});

/** The contents of a file; `content` identifies them. */
const look = v.strictObject({
  content: v.string(),
  format: v.string(),
  width: v.number(),
  height: v.number(),
  rate: v.optional(v.number()),
  passes: v.array(pass),
  /** Why some of it could not be read. */
  partial: v.optional(v.string()),
});
export type Look = v.InferOutput<typeof look>;
export const lookAtFirst = route('GET', '/api/look', {
  query: { pattern: v.string('Name the frames to look at.') },
  answer: look,
});

const params = { upload: v.string() };
export const beginUpload = route('POST', '/api/uploads', { answer: v.strictObject({ upload: v.string() }) });
/** The files received so far, so that an interrupted upload can continue, and their folder. */
export const readUpload = route('GET', '/api/uploads/:upload', {
  params,
  answer: v.strictObject({ folder: v.string(), files: v.record(v.string(), v.number()) }),
});
/** One file, as the body's bytes, its size in `x-zafiro-size`. Sending it again does no harm. */
export const sendFile = route('PUT', '/api/uploads/:upload/:name*', {
  params: { ...params, name: v.string() },
  answer: v.strictObject({ content: v.string(), bytes: v.number() }),
});
