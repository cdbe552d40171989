import * as v from 'valibot';
import { nothing, route } from './contract';
import { exportFrame, exportRun } from './exports';

/** Exports of all shots, as the queue shows them. */

const { id, shot, fileName, format, cancelled, paused, standing, urgency, createdAt, movie } =
  exportRun.entries;

const queuedRun = v.strictObject({
  id,
  shot,
  fileName,
  format,
  cancelled,
  paused,
  standing,
  urgency,
  createdAt,
  movie,
  shotName: v.string(),
  project: v.string(),
  /** How many frames are in each state. */
  counts: v.record(exportFrame.entries.state, v.number()),
  /** Of the last minutes; nothing while it cannot be said. */
  framesPerMinute: v.nullable(v.number()),
  secondsLeft: v.nullable(v.number()),
  /** The first frames that failed, and those that were begun more than once. */
  notable: v.array(exportFrame),
});
export type QueuedRun = v.InferOutput<typeof queuedRun>;

/** Runs that are not over, in the order in which they go, then the newest of those that are. */
export const readQueue = route('GET', '/api/queue', {
  answer: v.strictObject({ runs: v.array(queuedRun), diskFull: v.boolean() }),
});

/** An address that is told when exports end. Empty: none. */
export const readWebhook = route('GET', '/api/queue/webhook', {
  answer: v.strictObject({ url: v.string(), secret: v.string() }),
});
export const setWebhook = route('PUT', '/api/queue/webhook', {
  body: v.strictObject({ url: v.pipe(v.string(), v.trim(), v.maxLength(1000)) }),
  answer: nothing,
});
/** Sends a message now, to see whether it is taken. */
export const tryWebhook = route('POST', '/api/queue/webhook', { answer: nothing });
