import type { PictureCache } from '../../core/evaluate/cache';
import { type FrameSource, Overtaken, type Run } from '../../core/evaluate/run';
import type { Runtime } from '../../core/kernels/runtime';
import {
  type Counters,
  finish as finished,
  isOvertaken,
  learn,
  mustYield,
  newCounters,
  type Purpose,
  purposes,
} from './requests';

/**
 * The jobs of the engine's worker: one at a time, the most urgent first. A job that has to make way begins anew later, with what the cache kept;
 * one that is overtaken ends, and what it was fetching with it.
 */

type Job = {
  purpose: Purpose;
  number: number;
  abort: AbortController;
  run(): Promise<void>;
  drop(): void;
};

/** Ends after every message that has already come in. */
const breathe = () =>
  new Promise<void>((done) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      done();
    };
    port2.postMessage(0);
  });

export function jobQueue() {
  let counters: Counters = newCounters();
  const waiting: Job[] = [];
  let current: Job | undefined;

  const isPointless = (job: Job) => isOvertaken(counters, job.purpose, job.number);
  /** Asked from within kernels: whether the running job is to stop. */
  const isStopped = () =>
    current !== undefined && (isPointless(current) || mustYield(counters, current.purpose));

  /** Works through the jobs; none of them throws anything but `Overtaken`. */
  async function workOff() {
    if (current) return;
    for (;;) {
      waiting.sort((a, b) => purposes.indexOf(a.purpose) - purposes.indexOf(b.purpose));
      current = waiting.shift();
      if (!current) return;
      const job: Job = current;
      let yields = false;
      if (isPointless(job)) job.drop();
      else {
        try {
          await job.run();
        } catch {
          if (isPointless(job)) job.drop();
          else {
            job.abort = new AbortController();
            waiting.push(job);
            yields = true;
          }
        }
      }
      current = undefined;
      if (yields) await breathe();
      else finished(counters, job.purpose, job.number);
    }
  }

  /** Queues work; `undefined` stands for "overtaken": the newer request will answer. */
  function add<T>(
    purpose: Purpose,
    number: number,
    engine: Promise<{ runtime: Runtime; source: FrameSource; cache: PictureCache }>,
    work: (run: Run) => Promise<T>,
  ): Promise<T | undefined> {
    learn(counters, purpose, number);
    // What is being fetched for a job that this one overtakes, or that makes way, is not waited for.
    if (current && isStopped()) current.abort.abort(new Overtaken());
    return new Promise((resolve, reject) => {
      const job: Job = {
        purpose,
        number,
        abort: new AbortController(),
        drop: () => resolve(undefined),
        run: async () => {
          try {
            const { signal } = job.abort;
            resolve(await work({ ...(await engine), overtaken: isStopped, breathe, signal }));
          } catch (error) {
            if (error instanceof Overtaken) throw error;
            reject(error);
          }
        },
      };
      waiting.push(job);
      workOff();
    });
  }

  return {
    add,
    isStopped,
    setCounters(shared: Counters) {
      counters = shared;
    },
  };
}

export type JobQueue = ReturnType<typeof jobQueue>;
/** Queues work of a purpose on the engine. */
export type Queue = <T>(
  purpose: Purpose,
  number: number,
  work: (run: Run) => Promise<T>,
) => Promise<T | undefined>;
