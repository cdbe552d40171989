import { stat } from 'node:fs/promises';
import { setTimeout as sleep } from 'node:timers/promises';
import { openFinish } from '../../core/finish/validation';
import { frameFile } from '../../engine/node/media';
import { codeOf } from '../../engine/node/media-file';
import { ProcessEnded, renderPool } from '../../engine/node/pool';
import type { FrameDone } from '../../engine/node/render-frame';
import { closeDatabase } from '../base/connect';
import { hasSpace } from '../base/free-space';
import { announce, nextMessage } from '../changes/bus';
import { forgetOldChanges } from '../changes/note';
import { exportsFollow } from '../exports/arrivals';
import { makeNextMovie, takeBackMovies } from '../exports/movies';
import { openFrameOrder } from '../exports/order';
import {
  type Claim,
  feedOrder,
  isAnythingOpen,
  leaseSeconds,
  mendOrder,
  placeFrame,
  renewLeases,
  renewMillis,
  reportDeath,
  reportFrame,
  takeBackLost,
  takeFrame,
} from '../exports/queue';
import { cleanVersions } from '../keep/clean';
import { tidy } from '../keep/tidy';
import { endReader } from '../media/reader/reader';
import { watchMedia } from '../media/watch';
import { hearOf, serverMachine } from '../nodes/machines';
import { openNotices } from '../notices/notices';

// Whoever reads the log may end first.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {});

/**
 * The process beside Next: has the frames of exports rendered, and registers frames of media that arrive or change. Whatever it holds when it
 * dies goes back to the queue when the lease runs out.
 */
const pool = renderPool();
let stopping = false;
const stop = () => {
  stopping = true;
  // Whoever waits for work sees that there is none to come.
  announce({ zafiro: 'exports' });
  announce({ zafiro: 'frames' });
  announce({ zafiro: 'ended' });
  announce({ zafiro: 'space', full: isFull });
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
process.on('disconnect', stop);

/** What nobody is told of is looked for so often, while frames are rendered and else. */
const [orderMillis, restMillis] = [1000, 4000];

const complain = (what: string) => (error: Error) =>
  void process.stderr.write(`zafiro ${what}: ${error.message}\n`);

/** Frames that are rendered here at a time; none where other machines do it all. */
const places = Math.min(pool.processes, Number(process.env.ZAFIRO_LOCAL_FRAMES ?? pool.processes));
const order = openFrameOrder();
const notices = openNotices(complain('notices'));

/** The files that a frame is made of, as they are now: whether one that failed has another chance. */
async function inputsOf({ job }: Claim): Promise<string> {
  const stamps = Object.keys(job.media).map(async (name) => {
    try {
      const { size, mtimeMs } = await stat(frameFile(job.media, name, job.frame).path);
      return `${size}/${mtimeMs}`;
    } catch {
      return '';
    }
  });
  return (await Promise.all(stamps)).join();
}

/** Nothing is begun while the disk is full; pages are informed. A frame that did not fit keeps the state for a while, since other frames would not fit either. */
let isFull = false;
let fullUntil = 0;
async function lookAtSpace() {
  const now = performance.now() < fullUntil || !(await hasSpace());
  if (now === isFull) return;
  isFull = now;
  announce({ zafiro: 'space', full: now });
}

/** Whether a disk takes nothing: said by who rendered, or by the disk itself. */
const isFullDisk = (error: unknown) =>
  (error as { code?: string }).code === 'disk-full' || codeOf(error) === 'disk-full';

/** How often the house is asked to take a frame that is rendered, a second apart, before it is rendered anew. */
const mostPlacings = 30;

/** Puts a rendered frame in its place; again where the database or the disk is away for a while. */
async function placed(claim: Claim, done: FrameDone, signal: AbortSignal): Promise<void> {
  for (let n = 1; ; n++)
    try {
      await placeFrame(claim, done);
      return;
    } catch (error) {
      if (n === mostPlacings || signal.aborted || isFullDisk(error)) throw error;
      complain('exports')(error as Error);
      await sleep(1000);
    }
}

async function renderClaim(claim: Claim) {
  const abort = new AbortController();
  const keep = setInterval(async () => {
    const lost = await renewLeases([claim], node).catch(() => []);
    if (lost.length > 0 || stopping) abort.abort();
  }, renewMillis);
  const inputs = await inputsOf(claim);
  let done: FrameDone | undefined;
  try {
    // Asked for by an older Zafiro, perhaps: what cannot be opened fails here, and holds up no other frame.
    const { finish } = openFinish(claim.job.finish);
    done = await pool.render({ ...claim.job, finish }, abort.signal);
    await placed(claim, done, abort.signal);
  } catch (error) {
    // What is another's by now is left to it.
    if (abort.signal.aborted) await reportFrame(claim, { state: stopping ? 'waiting' : 'cancelled' });
    else if (error instanceof ProcessEnded) await reportDeath(claim, error.message);
    else if (isFullDisk(error)) {
      fullUntil = performance.now() + 10_000;
      await lookAtSpace();
      await reportFrame(claim, { state: 'waiting' });
    }
    // It was rendered: what kept it from its place is no fault of the frame.
    else if (done !== undefined) {
      complain('exports')(error as Error);
      await reportFrame(claim, { state: 'waiting' });
      await sleep(1000);
    }
    // A file that has changed meanwhile was being written: it is read again.
    else if ((await inputsOf(claim)) !== inputs) await reportFrame(claim, { state: 'waiting' });
    else await reportFrame(claim, { state: 'failed', note: (error as Error).message, waitsForInput: true });
  } finally {
    clearInterval(keep);
  }
}

/** Renders one frame after the other; waits for word of the next, and looks now and then should a word be lost. */
async function exportLoop() {
  while (!stopping) {
    try {
      if (isFull) {
        await nextMessage('space', 5000);
        continue;
      }
      const claim = rests ? undefined : await takeFrame(order, node);
      if (claim) await renderClaim(claim);
      else if (!stopping) await nextMessage('frames', leaseSeconds * 1000);
    } catch (error) {
      // The database may be starting again; nothing is lost by asking later.
      complain('exports')(error as Error);
      await sleep(1000);
    }
  }
}

/** This machine takes nothing more until it is told otherwise. */
let rests = false;

/** Keeps the order of what waits as the rows say, and takes back what was lost; often while there is anything to lose, seldom else. */
async function keepOrder() {
  while (!stopping) {
    try {
      const state = await hearOf(node);
      rests = Boolean(state?.draining || state?.removed);
      const isBusy = await isAnythingOpen();
      if (isBusy) {
        await takeBackLost();
        await mendOrder(order);
      }
      // More may wait than are fed at a time.
      if ((await feedOrder(order)) === 0 && !stopping)
        await nextMessage('exports', isBusy ? orderMillis : restMillis);
    } catch (error) {
      complain('order')(error as Error);
      await sleep(1000);
    }
  }
}

/** Does something whenever frames have ended, a little later, so that what ends together is one. */
async function whenEnded(what: string, work: () => Promise<unknown>) {
  while (!stopping) {
    try {
      await work();
      if (!stopping) await nextMessage('ended', 60_000);
      await sleep(stopping ? 0 : 200);
    } catch (error) {
      complain(what)(error as Error);
      await sleep(1000);
    }
  }
}

/** Makes movies whose frames are all there, one at a time. */
async function makeMovies() {
  const abort = new AbortController();
  const watch = setInterval(() => stopping && abort.abort(), 200);
  try {
    while (!stopping && !isFull && (await makeNextMovie(abort.signal)));
  } finally {
    clearInterval(watch);
  }
}

/** The database may be starting. */
async function persist<T>(work: () => Promise<T>): Promise<T> {
  for (;;)
    try {
      return await work();
    } catch (error) {
      if (stopping) throw error;
      complain('exports')(error as Error);
      await sleep(1000);
    }
}

const node = await persist(() => serverMachine(places));
// What an earlier process of this machine had is nobody's now.
await persist(() => takeBackLost(node));
await persist(takeBackMovies);
await order.watchStalled();
const watching = await watchMedia(exportsFollow, complain('arrivals'));
const forget = () => forgetOldChanges().catch(complain('changes'));
await forget();
/** The keeper may have old versions of finishes go by themselves. */
const versionDays = Number(process.env.ZAFIRO_VERSION_DAYS) || undefined;
const tidied = async () => (versionDays ? await cleanVersions(versionDays) : 0) + (await tidy());
const tidyUp = () =>
  tidied().then((count) => count > 0 && process.stdout.write(`zafiro tidied: ${count}\n`), complain('tidy'));
void tidyUp();
const hourly = setInterval(() => void forget().then(tidyUp), 3_600_000);
await lookAtSpace();
const looking = setInterval(() => void lookAtSpace().catch(complain('space')), 2000);
await Promise.all([
  keepOrder(),
  whenEnded('movies', makeMovies),
  whenEnded('notices', notices.look),
  ...Array.from({ length: places }, exportLoop),
]);
clearInterval(hourly);
clearInterval(looking);
await watching.close();
await pool.close();
await Promise.all([order.close(), notices.close()]);
endReader();
await closeDatabase();
process.exit(0);
