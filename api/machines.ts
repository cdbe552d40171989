import * as v from 'valibot';
import { nothing, route, wholeNumber } from './contract';

/** Machines that render, as the page of machines shows them. */

const machine = v.strictObject({
  id: v.number(),
  name: v.string(),
  /** The server's own. */
  isServer: v.boolean(),
  cores: v.number(),
  megabytes: v.number(),
  places: v.number(),
  build: v.string(),
  draining: v.boolean(),
  /** It was heard of lately. */
  isHere: v.boolean(),
  joinedAt: v.string(),
  seenAt: v.string(),
  framesDone: v.number(),
  /** Of a frame, on average; nothing where none is done. */
  meanMillis: v.nullable(v.number()),
  /** What it renders just now. */
  holds: v.array(v.strictObject({ run: v.number(), fileName: v.string(), frame: v.number() })),
  problem: v.nullable(v.string()),
  problemAt: v.nullable(v.string()),
});
export type Machine = v.InferOutput<typeof machine>;

export const listMachines = route('GET', '/api/machines', {
  answer: v.strictObject({
    machines: v.array(machine),
    /** What another machine is told so that it joins. */
    joining: v.strictObject({ address: v.string(), isForOthers: v.boolean(), token: v.string() }),
  }),
});

const params = { machine: wholeNumber };
/** A machine that is drained ends what it has, and takes nothing more until it is told otherwise. */
export const drainMachine = route('POST', '/api/machines/:machine/drain', {
  params,
  body: v.strictObject({ draining: v.boolean() }),
  answer: nothing,
});
/** It leaves, and what it had goes to others. */
export const removeMachine = route('POST', '/api/machines/:machine/remove', { params, answer: nothing });
/** Another token: machines that have the old one are let in no more. */
export const renewToken = route('POST', '/api/machines/token', { answer: nothing });
