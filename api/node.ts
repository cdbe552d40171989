import * as v from 'valibot';
import { encodings } from '../core/colour/encoding';
import { exportSettings } from '../core/formats/export-formats';
import { gapRules } from '../core/formats/gap-rules';
import { passKinds } from '../core/formats/pass-kinds';
import { nothing, route, wholeNumber } from './contract';

/**
 * What the server and a machine that renders for it agree on. Each request carries the token (`Authorization: Bearer`). A machine joins, takes
 * frames, says now and then which it holds, reads their media from a shared folder or from here, and delivers the files.
 */

const count = v.pipe(v.number(), v.integer(), v.minValue(0));
const keysOf = <K extends string>(of: Record<K, unknown>) => Object.keys(of) as [K, ...K[]];

export const joinFarm = route('POST', '/api/node', {
  body: v.strictObject({
    name: v.pipe(v.string(), v.minLength(1, 'A machine has a name.'), v.maxLength(100)),
    cores: count,
    megabytes: count,
    /** Frames that it takes at a time. */
    places: v.pipe(count, v.minValue(1)),
    build: v.string(),
  }),
  answer: v.strictObject({ node: v.number(), beatMillis: v.number() }),
});

const claim = v.strictObject({ run: count, frame: v.pipe(v.number(), v.integer()), attempt: count });
export type NodeClaim = v.InferOutput<typeof claim>;

const mediaSpec = v.strictObject({
  pattern: v.string(),
  encoding: v.optional(v.picklist(keysOf(encodings))),
  gaps: v.optional(v.picklist(keysOf(gapRules))),
  kinds: v.optional(v.record(v.string(), v.picklist(keysOf(passKinds)))),
});

const job = v.strictObject({
  ...claim.entries,
  finish: v.unknown(),
  media: v.record(v.string(), mediaSpec),
  settings: exportSettings,
  /** The key of the frame that is there already. */
  known: v.optional(v.string()),
  /** What it is made of: which frame of which media is asked for, and the file that stands for it, as the server sees it. */
  files: v.array(
    v.strictObject({
      media: v.string(),
      frame: v.number(),
      path: v.string(),
      size: v.number(),
      modified: v.number(),
    }),
  ),
});
export type NodeJob = v.InferOutput<typeof job>;

/** What a machine is told with every answer: to take nothing more, or to end. */
const told = { draining: v.boolean(), removed: v.boolean() };

const params = { node: wholeNumber };
/** Waits a while where there is nothing to be had. */
export const takeFrames = route('POST', '/api/node/:node/take', {
  params,
  body: v.strictObject({ most: v.pipe(count, v.maxValue(64)) }),
  answer: v.strictObject({ jobs: v.array(job), ...told }),
});
export const beat = route('POST', '/api/node/:node/beat', {
  params,
  body: v.strictObject({ held: v.array(claim) }),
  /** Those that it holds no more. */
  answer: v.strictObject({ lost: v.array(claim), ...told }),
});

const claimParams = { ...params, run: wholeNumber, frame: wholeNumber, attempt: wholeNumber };
const at = '/api/node/:node/frames/:run/:frame/:attempt';
/** A file that the frame is made of, or one that lies beside it; its bytes, with its time in `x-zafiro-modified`. */
export const readFrameFile = route('GET', `${at}/file`, {
  params: claimParams,
  query: { media: v.string(), at: wholeNumber, beside: v.optional(v.string()) },
  answer: 'bytes',
});

/** Frames of large panoramas have more bytes than addresses have numbers. */
const byteCount = v.pipe(v.string(), v.regex(/^\d{1,15}$/, 'A count of bytes.'), v.transform(Number));

const digest = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/));
/** The file is the body. `kept` without one: what is there is right. */
export const deliverFrame = route('PUT', at, {
  params: claimParams,
  query: {
    key: v.string(),
    millis: wholeNumber,
    bytes: byteCount,
    digest: v.optional(digest),
    kept: v.optional(v.literal('yes')),
    note: v.optional(v.string()),
  },
  answer: v.strictObject({ placed: v.boolean() }),
});
export const giveBackFrame = route('POST', at, {
  params: claimParams,
  body: v.strictObject({
    /** `died`: it ended its process; `waiting`: nothing is wrong with it. */
    state: v.picklist(['failed', 'died', 'waiting']),
    note: v.optional(v.pipe(v.string(), v.maxLength(20_000))),
  }),
  answer: nothing,
});
export const leaveFarm = route('POST', '/api/node/:node/leave', { params, answer: nothing });
