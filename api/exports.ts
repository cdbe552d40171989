import * as v from 'valibot';
import { exportSettings, movieSettings } from '../core/formats/export-formats';
import { nothing, route, rowId, wholeNumber } from './contract';

/** Export runs, with a state for every frame. */

const { format, ...settings } = exportSettings.entries;

/** Which runs go before others; runs of one urgency take turns, frame by frame. */
export const urgencies = ['first', 'usual', 'last'] as const;
export type Urgency = (typeof urgencies)[number];

export const exportFrame = v.strictObject({
  frame: v.number(),
  /** `expected`: an export that stands waits for its files. */
  state: v.picklist(['waiting', 'rendering', 'done', 'failed', 'cancelled', 'expected']),
  note: v.nullable(v.string()),
  millis: v.nullable(v.number()),
  bytes: v.nullable(v.number()),
  /** How often it was begun, and the machine that had it last. */
  tries: v.number(),
  machine: v.nullable(v.string()),
});
export type ExportFrame = v.InferOutput<typeof exportFrame>;

export const exportRun = v.strictObject({
  id: v.number(),
  shot: v.number(),
  format,
  fileName: v.string(),
  cancelled: v.boolean(),
  paused: v.boolean(),
  /** Its frames are finished as their files come, and again when those are written anew. */
  standing: v.boolean(),
  urgency: v.picklist(urgencies),
  createdAt: v.string(),
  /** Where its frames are written; nothing where that is the store. */
  folder: v.nullable(v.string()),
  /** The movie that is made of its frames once all are done. */
  movie: v.nullable(
    v.strictObject({
      codec: movieSettings.entries.codec,
      state: v.picklist(['waiting', 'encoding', 'done', 'failed']),
      note: v.nullable(v.string()),
      bytes: v.nullable(v.number()),
    }),
  ),
  frames: v.array(exportFrame),
});
export type ExportRun = v.InferOutput<typeof exportRun>;

/** True once no frame waits or is rendered, and its movie is made. */
export const isOver = ({ frames, movie, cancelled }: Pick<ExportRun, 'frames' | 'movie' | 'cancelled'>) =>
  frames.every((f) => f.state !== 'waiting' && f.state !== 'rendering') &&
  (cancelled ||
    !movie ||
    movie.state === 'done' ||
    movie.state === 'failed' ||
    frames.some((f) => f.state === 'failed'));

/** Exports of a shot, newest first. */
export const listExports = route('GET', '/api/exports', {
  query: { shot: wholeNumber },
  answer: v.array(exportRun),
});

const fileName = v.pipe(
  v.string(),
  v.trim(),
  v.normalize('NFC'),
  v.regex(
    /^[\p{L}\p{N}_{][\p{L}\p{M}\p{N} ._{}-]{0,119}$/u,
    'A file name begins with a letter, a digit or an underscore. It has letters of any language, digits, spaces, dots, dashes and underscores, and may have {shot}, {finish}, {version}, {project}.',
  ),
);
const place = {
  /** A folder that exports may be written into, with {project}, {shot}, {finish} and {version}; the store without one. */
  into: v.optional(v.pipe(v.string(), v.maxLength(1000))),
  /** What {version} is. */
  version: v.optional(v.number(), 1),
};

/** Named settings, as the page has them. */
const preset = v.strictObject({
  name: v.pipe(v.string(), v.trim(), v.minLength(1, 'A preset has a name.'), v.maxLength(100)),
  settings: v.record(v.string(), v.union([v.string(), v.number(), v.boolean(), v.array(v.string())])),
});
export type ExportPreset = v.InferOutput<typeof preset>;
export const listPresets = route('GET', '/api/exports/presets', { answer: v.array(preset) });
export const savePreset = route('PUT', '/api/exports/presets', { body: preset, answer: nothing });
export const deletePreset = route('DELETE', '/api/exports/presets', {
  query: { name: v.string() },
  answer: nothing,
});

/** Folders that exports may be written into. */
export const listPlaces = route('GET', '/api/exports/places', {
  answer: v.strictObject({ roots: v.array(v.string()) }),
});
/** Where an export would go, and which of its frames are there already. */
export const lookAtPlace = route('POST', '/api/exports/places', {
  body: v.strictObject({
    shot: v.number(),
    finish: v.string(),
    name: fileName,
    format,
    frames: v.string(),
    into: v.string(),
    version: place.version,
  }),
  answer: v.strictObject({ path: v.string(), there: v.number(), of: v.number() }),
});

export const createExport = route('POST', '/api/exports', {
  body: v.strictObject({
    shot: rowId,
    document: v.unknown(),
    frames: v.string(),
    /** A named output in place of the finished picture. */
    output: v.optional(v.string()),
    format,
    ...settings,
    standing: v.optional(v.boolean(), false),
    /** A movie in place of frames. */
    movie: v.optional(movieSettings),
    name: fileName,
    ...place,
    /** Frames that are there already may be written over. */
    overwrites: v.optional(v.boolean(), false),
  }),
  answer: v.strictObject({ run: v.number() }),
});

const params = { run: wholeNumber };
export const cancelExport = route('POST', '/api/exports/:run/cancel', { params, answer: nothing });
export const pauseExport = route('POST', '/api/exports/:run/pause', {
  params,
  body: v.strictObject({ paused: v.boolean() }),
  answer: nothing,
});
/** Takes an export that is over off the list, with its frames in Zafiro's own store; those in other folders stay. */
export const removeExport = route('DELETE', '/api/exports/:run', { params, answer: nothing });
/** What failed or was cancelled is tried again. */
export const retryExport = route('POST', '/api/exports/:run/retry', { params, answer: nothing });
export const setUrgency = route('POST', '/api/exports/:run/urgency', {
  params,
  body: v.strictObject({ urgency: v.picklist(urgencies) }),
  answer: nothing,
});
/** The finished file, all of them as a zip, or the movie; `frames=yes` asks for the frames of a movie. */
export const downloadExport = route('GET', '/api/exports/:run/download', {
  params,
  query: { frame: v.optional(wholeNumber), frames: v.optional(v.literal('yes')) },
  answer: 'bytes',
});
