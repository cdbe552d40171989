import { setMaxListeners } from 'node:events';
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Given } from '../../api/contract';
import type { joinFarm, NodeClaim, NodeJob } from '../../api/node';
import type { RequestError } from '../../api/request';
import { parseFinish } from '../../core/finish/validation';
import { ProcessEnded, type RenderPool } from '../../engine/node/pool';
import { openFarm } from './farm';
import { mediaFor, type PathMap } from './media';
import { mediaMirror } from './mirror';

const restMillis = 10_000;

/** What is still under way when the machine ends, and then its processes, get so long. */
const [endMillis, closeMillis] = [20_000, 5_000];

/** Waits for `work`, no longer than `millis`; the wait itself keeps the process alive, so that it ends by its own word. */
async function waitAtMost(work: Promise<unknown>, millis: number): Promise<void> {
  const over = new AbortController();
  await Promise.race([work, sleep(millis, undefined, { signal: over.signal })]).finally(() => over.abort());
}

const claimOf = ({ run, frame, attempt }: NodeClaim): NodeClaim => ({ run, frame, attempt });
const nameOf = ({ run, frame }: NodeClaim) => `frame ${frame} of export ${run}`;

export type MachineOptions = {
  server: string;
  token: string;
  /** A folder that it makes its own in. */
  work: string;
  map: PathMap;
  cacheBytes: number;
  self: Given<typeof joinFarm>['body'];
  /** What renders; closed at the end. */
  pool: RenderPool;
  /** Ends it. */
  stop: AbortController;
};

/**
 * Renders frames for a server until it is stopped, or removed there. Frames are taken as memory allows, one more than are rendered at a time, so that its
 * media come while others are rendered.
 * @throws {RequestError} where the server does not let it in.
 */
export async function runMachine(
  { server, token, map, cacheBytes, self, pool, stop, ...given }: MachineOptions,
  say: (text: string) => void,
): Promise<void> {
  // Every request listens for the end.
  setMaxListeners(0, stop.signal);
  const farm = openFarm(server, token, stop.signal, say);
  // A folder of its own, which goes with it.
  const work = join(given.work, `zafiro-node-${process.pid}`);
  const mirror = mediaMirror(join(work, 'media'), cacheBytes);
  const finished = join(work, 'finished');
  rmSync(finished, { recursive: true, force: true });
  mkdirSync(finished, { recursive: true });
  const held = new Map<NodeJob, AbortController>();
  let beatMillis = 0;
  let [isDraining, isRemoved] = [false, false];
  /** Nothing is taken while the disk is full. */
  let restsUntil = 0;

  const enter = async () => {
    beatMillis = await farm.join(self);
    say(`${self.name} renders for ${server}, ${self.places} frames at a time. Ctrl-C ends it.`);
  };

  async function render(job: NodeJob, lost: AbortSignal): Promise<void> {
    const out = join(finished, `${job.run}-${job.frame}-${job.attempt}`);
    try {
      const media = await mediaFor(job, map, mirror, farm.reader(job, lost));
      const { frame, settings, known } = job;
      const finish = parseFinish(job.finish);
      const done = await pool.render(
        { finish, media, frame, scale: 1, out, aside: true, settings, known },
        lost,
      );
      const isPlaced = await farm.deliver(job, done, out, lost);
      say(
        `${nameOf(job)}: ${isPlaced ? (done.kept ? 'right already' : `${done.millis} ms`) : 'another machine was faster'}`,
      );
    } catch (error) {
      if (stop.signal.aborted || lost.aborted) return;
      // It is another's by now, and nobody waits for it here.
      if ((error as RequestError).code === 'conflict') return;
      const { message } = error as Error;
      say(message);
      const code = (error as { code?: string }).code;
      if (code === 'disk-full') restsUntil = performance.now() + restMillis;
      // What is wrong here is no fault of the frame: it is tried elsewhere.
      const isHere = error instanceof ProcessEnded || code === 'exhausted';
      await farm.giveBack(job, code === 'disk-full' ? 'waiting' : isHere ? 'died' : 'failed', message);
    } finally {
      rmSync(out, { force: true });
    }
  }

  /** Says which frames are held, and lets go of those that are so no more. */
  async function beats() {
    while (!stop.signal.aborted) {
      await sleep(beatMillis, undefined, { signal: stop.signal }).catch(() => {});
      if (stop.signal.aborted) return;
      try {
        const { lost, draining, removed } = await farm.beat([...held.keys()].map(claimOf));
        [isDraining, isRemoved] = [draining, removed];
        for (const { run, frame, attempt } of lost)
          for (const [job, abort] of held)
            if (job.run === run && job.frame === frame && job.attempt === attempt) abort.abort();
        if (isRemoved) stop.abort();
      } catch {
        // The next may go through.
      }
    }
  }

  try {
    await enter();
    const beating = beats();
    const working = new Set<Promise<void>>();
    while (!stop.signal.aborted) {
      const most = pool.places() + 1 - held.size;
      const rests = isDraining || performance.now() < restsUntil;
      if (most <= 0 || rests) {
        await Promise.race([
          ...working,
          sleep(rests ? 1000 : 60_000, undefined, { signal: stop.signal }),
        ]).catch(() => {});
        continue;
      }
      const taken = await farm.take(most).catch(async (error: RequestError) => {
        if (stop.signal.aborted) return undefined;
        // The server knows nothing of this machine: its data are others than before.
        if (error.code !== 'not-found') throw error;
        await enter();
        return undefined;
      });
      if (!taken) continue;
      [isDraining, isRemoved] = [taken.draining, taken.removed];
      if (isRemoved) stop.abort();
      for (const job of taken.jobs) {
        const lost = new AbortController();
        held.set(job, lost);
        const rendering = render(job, lost.signal)
          .catch((error) => !stop.signal.aborted && say((error as Error).message))
          .then(() => {
            held.delete(job);
            working.delete(rendering);
          });
        working.add(rendering);
      }
    }
    await waitAtMost(Promise.all([...working, beating]), endMillis);
    if (isRemoved) say('The server has removed this machine.');
  } finally {
    stop.abort();
    await farm.leave();
    await waitAtMost(pool.close(), closeMillis);
    rmSync(work, { recursive: true, force: true });
  }
}
