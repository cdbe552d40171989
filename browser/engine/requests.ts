/**
 * What the page wants of its engine, by purpose, most urgent first. The page counts its requests up in memory that the engine's
 * worker sees while it computes, so a request that is overtaken ends within one piece of a kernel.
 */
export const purposes = [
  'viewer',
  'pick',
  'start',
  'keys',
  'journey',
  'histogram',
  'scopes',
  'thumbnails',
  'tries',
  'coverage',
  'middles',
  'ready',
] as const;
export type Purpose = (typeof purposes)[number];

/** Two numbers for each purpose: the newest request asked for, and the newest that has ended. */
export type Counters = Int32Array;

export const newCounters = (): Counters => {
  const bytes = purposes.length * 2 * 4;
  return new Int32Array(
    typeof SharedArrayBuffer === 'undefined' ? new ArrayBuffer(bytes) : new SharedArrayBuffer(bytes),
  );
};

const asked = (p: Purpose) => purposes.indexOf(p) * 2;
const ended = (p: Purpose) => asked(p) + 1;

/** Counts a request; the engine gets its number. */
export const ask = (c: Counters, p: Purpose): number => Atomics.add(c, asked(p), 1) + 1;
/** On a host without shared memory the worker learns of a request only with its message. */
export const learn = (c: Counters, p: Purpose, number: number) => {
  if (Atomics.load(c, asked(p)) < number) Atomics.store(c, asked(p), number);
};
export const finish = (c: Counters, p: Purpose, number: number) => {
  if (Atomics.load(c, ended(p)) < number) Atomics.store(c, ended(p), number);
};

/** A newer request of the same purpose has come. */
export const isOvertaken = (c: Counters, p: Purpose, number: number) => Atomics.load(c, asked(p)) !== number;
/** Something more urgent waits. */
export const mustYield = (c: Counters, p: Purpose) =>
  purposes
    .slice(0, purposes.indexOf(p))
    .some((other) => Atomics.load(c, asked(other)) > Atomics.load(c, ended(other)));
