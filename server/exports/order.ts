import { type Job, Queue, Worker } from 'bullmq';
import { openRedis, redisPrefix } from '../base/redis';

/**
 * The order in which frames that wait are handed out, kept in Redis by BullMQ. Runs that go first come before the usual ones, those before runs that go last; runs
 * of one urgency take turns, frame by frame. It holds nothing that the rows of the database do not say: a job is a hint that a frame
 * may be had, and whoever takes it asks the row.
 */

/** A frame that waits. */
export type Waiting = { run: number; frame: number };
/** A frame to be put into the order: `deaths` is how often it ended its process. */
export type ToOrder = Waiting & { urgency: number; deaths: number };

const name = 'frames';
/** Turns that there are for each urgency; BullMQ's numbers of priority go to 2^21. */
const turns = 2 ** 19;
/** A frame that ended a process comes some turns later. */
const turnsPerDeath = 50;

const idOf = ({ run, frame }: Waiting) => `${run}-${frame}`;
const clockKey = `${redisPrefix}:${name}:clock`;
/** A frame that was taken, and whose taker died before it had the row, is found after this time. */
const stalledMillis = 5000;

export type FrameOrder = ReturnType<typeof openFrameOrder>;

export function openFrameOrder() {
  const redis = openRedis();
  const prefix = redisPrefix;
  const queue = new Queue<Waiting>(name, { connection: redis, prefix });
  // Without a function of its own: frames are taken by hand, for this machine or another.
  const taker = new Worker<Waiting>(name, undefined, {
    connection: redis,
    prefix,
    autorun: false,
    lockDuration: stalledMillis,
    stalledInterval: stalledMillis,
    maxStalledCount: 1_000_000,
  });
  queue.on('error', () => {});
  taker.on('error', () => {});
  const token = `${process.pid}-${Math.random().toString(36).slice(2)}`;
  /** The turn after the last frame of each run, by run. */
  const turnOf = new Map<number, number>();
  const clocks = async () => (await redis.hgetall(clockKey)) as Record<string, string>;

  return {
    /** Puts frames into the order, in theirs; those that are in it stay where they are. */
    async add(frames: readonly ToOrder[]): Promise<void> {
      if (frames.length === 0) return;
      const [now, held] = await Promise.all([clocks(), queue.count()]);
      if (held === 0) {
        turnOf.clear();
        await redis.del(clockKey);
      }
      const jobs = frames.map(({ run, frame, urgency, deaths }) => {
        // A run that is new begins at the turn that is being handed out.
        const clock = held === 0 ? 0 : Number(now[urgency] ?? 0);
        const turn = Math.max(turnOf.get(run) ?? 0, clock);
        if (deaths === 0) turnOf.set(run, turn + 1);
        const at = Math.min(turns - 1, turn + turnsPerDeath * deaths);
        return {
          name: 'frame',
          data: { run, frame },
          opts: {
            jobId: idOf({ run, frame }),
            priority: 1 + urgency * turns + at,
            removeOnComplete: true,
            removeOnFail: true,
          },
        };
      });
      for (let i = 0; i < jobs.length; i += 1000) await queue.addBulk(jobs.slice(i, i + 1000));
    },

    /** The next frame that may be had; undefined where none waits. It is out of the order once `have` has resolved, whatever it says. */
    async next<T>(have: (waiting: Waiting) => Promise<T>): Promise<{ taken: T } | undefined> {
      const job = (await taker.getNextJob(token, { block: false })) as Job<Waiting> | undefined;
      if (!job) return;
      const given = job.opts.priority! - 1;
      await redis.hset(clockKey, String(Math.floor(given / turns)), String(given % turns));
      const taken = await have(job.data);
      await job.moveToCompleted('', token, false);
      return { taken };
    },

    /** Takes frames out of the order. */
    async remove(frames: readonly Waiting[]): Promise<void> {
      for (const frame of frames) {
        turnOf.delete(frame.run);
        await queue.remove(idOf(frame)).catch(() => {});
      }
    },

    /** How many frames are in it. */
    count: () => queue.count(),
    /** Finds frames whose taker died between the order and the row. In one process. */
    watchStalled: () => taker.startStalledCheckTimer(),
    async close() {
      await Promise.allSettled([taker.close(true), queue.close()]);
      redis.disconnect();
    },
  };
}
