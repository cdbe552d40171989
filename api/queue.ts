import * as v from 'valibot';
import { route } from './contract';
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
