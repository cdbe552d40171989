import { setMaxListeners } from 'node:events';
import { mkdirSync, rmSync } from 'node:fs';
import { availableParallelism, hostname, tmpdir, totalmem } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import type { NodeClaim, NodeJob } from '../../api/node';
import type { RequestError } from '../../api/request';
import { parseFinish } from '../../core/finish/validation';
import { buildOf } from '../../engine/node/build-id';
import { ProcessEnded, renderPool } from '../../engine/node/pool';
import { named } from '../finish-options';
import { UsageError } from '../usage';
import { openFarm } from './farm';
import { mediaFor, type PathMap } from './media';
import { mediaMirror } from './mirror';

const usage =
  'zafiro node --server URL --token T [--name N] [--map /THERE=/HERE]… [--frames N] [--work FOLDER] [--cache GIGABYTES]';

const restMillis = 10_000;

const claimOf = ({ run, frame, attempt }: NodeClaim): NodeClaim => ({ run, frame, attempt });
const nameOf = ({ run, frame }: NodeClaim) => `frame ${frame} of export ${run}`;

/**
 * `zafiro node`: makes this machine render for a server, until it is stopped. Frames are taken as memory allows, one more than are rendered at a time, so
 * that its media come while others are rendered.
 */
export async function node(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      server: { type: 'string' },
      token: { type: 'string', default: process.env.ZAFIRO_NODE_TOKEN },
      name: { type: 'string', default: hostname() },
      map: { type: 'string', multiple: true, default: [] },
      frames: { type: 'string', default: String(availableParallelism()) },
      work: { type: 'string', default: tmpdir() },
      cache: { type: 'string', default: '20' },
    },
  });
  if (positionals.length > 0 || !values.server || !values.token) throw new UsageError(`Use: ${usage}`);
  if (!URL.canParse(values.server))
    throw new UsageError('--server takes an address such as http://10.0.0.5:4751.');
  const [places, gigabytes] = [Number(values.frames), Number(values.cache)];
  if (!Number.isInteger(places) || places < 1 || places > 64)
    throw new UsageError('--frames takes a number from 1 to 64.');
  if (!(gigabytes > 0)) throw new UsageError('--cache takes a number of gigabytes above 0.');
  const map: PathMap = Object.entries(named('map', values.map)).map(([there, here]) => ({
    there: there.replace(/\/+$/, ''),
    here: resolve(here),
  }));

  const stop = new AbortController();
  // Every request listens for the end.
  setMaxListeners(0, stop.signal);
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => stop.abort());
  const say = (text: string) => process.stdout.write(`${text}\n`);
  const farm = openFarm(values.server, values.token, stop.signal, say);
  // A folder of its own, which goes with it.
  const work = join(resolve(values.work), `zafiro-node-${process.pid}`);
  const mirror = mediaMirror(join(work, 'media'), gigabytes * 2 ** 30);
  const finished = join(work, 'finished');
  rmSync(finished, { recursive: true, force: true });
  mkdirSync(finished, { recursive: true });
  const pool = renderPool(places);
  const held = new Map<NodeJob, AbortController>();
  let beatMillis = 0;
  let [isDraining, isRemoved] = [false, false];
  /** Nothing is taken while the disk is full. */
  let restsUntil = 0;

  const self = {
    name: values.name.slice(0, 100),
    cores: availableParallelism(),
    megabytes: Math.round(totalmem() / 2 ** 20),
    places,
    build: buildOf(fileURLToPath(new URL('.', import.meta.url))),
  };
  const enter = async () => {
    beatMillis = await farm.join(self);
    say(`${self.name} renders for ${values.server}, ${places} frames at a time. Ctrl-C ends it.`);
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
    await Promise.all([...working, beating]);
    if (isRemoved) say('The server has removed this machine.');
  } finally {
    stop.abort();
    await farm.leave();
    await pool.close();
    rmSync(work, { recursive: true, force: true });
  }
  return 0;
}
