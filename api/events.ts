import * as v from 'valibot';
import { route, wholeNumber } from './contract';
import { exportRun } from './exports';
import { version } from './finishes';
import { frameState } from './media';

/**
 * What changes in a shot while it is looked at, on one stream of Server-Sent Events: frames that arrive or change, exports that go on, versions
 * that are saved. Each message has the number of the newest change in it as its id; a page that was away asks for what came after the last
 * that it has.
 */

const event = v.variant('type', [
  v.strictObject({ type: v.literal('frames'), media: v.number(), frames: v.array(frameState) }),
  /** How a media is read, which finishes there are: to be asked for anew. */
  v.strictObject({ type: v.literal('shot') }),
  /** A run, with those of its frames that have changed. */
  v.strictObject({ type: v.literal('export'), run: exportRun }),
  v.strictObject({ type: v.literal('version'), finish: v.number(), version }),
  /** The server's disk is full, or has room again: exports wait meanwhile. */
  v.strictObject({ type: v.literal('disk'), full: v.boolean() }),
  /** Too much was missed: everything is to be asked for anew. */
  v.strictObject({ type: v.literal('missed') }),
]);
export type ShotEvent = v.InferOutput<typeof event>;

export const eventMessage = v.strictObject({ seq: v.number(), events: v.array(event) });
export type EventMessage = v.InferOutput<typeof eventMessage>;

export const followShot = route('GET', '/api/shots/:shot/events', {
  params: { shot: wholeNumber },
  query: { after: v.optional(wholeNumber) },
  answer: 'bytes',
});
