import { statSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { openFinish } from '../../core/finish/validation';
import { frameFile } from '../../engine/node/media';
import { ProcessEnded, renderPool } from '../../engine/node/pool';
import { announce, nextMessage } from '../changes/bus';
import { forgetOldChanges } from '../changes/changes';
import { closeDatabase } from '../db/connect';
import { hasSpace } from '../free-space';
import { endReader } from '../media/reader/reader';
import { watchMedia } from '../media/watch';
import { tidy } from '../tidy';
import { type Claim, claimFrame, leaseSeconds, renewLease, reportDeath, reportFrame } from './queue';

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
  announce({ zafiro: 'space', full: isFull });
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
process.on('disconnect', stop);

const complain = (what: string) => (error: Error) =>
  void process.stderr.write(`zafiro ${what}: ${error.message}\n`);

/** The files that a frame is made of, as they are now: whether one that failed has another chance. */
function inputsOf({ job }: Claim): string {
  const stamps = Object.keys(job.media).map((name) => {
    try {
      const { size, mtimeMs } = statSync(frameFile(job.media, name, job.frame).path);
      return `${size}/${mtimeMs}`;
    } catch {
      return '';
    }
  });
  return stamps.join();
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

async function renderClaim(claim: Claim) {
  const abort = new AbortController();
  const keep = setInterval(async () => {
    const held = await renewLease(claim).catch(() => true);
    if (!held || stopping) abort.abort();
  }, 500);
  const inputs = inputsOf(claim);
  try {
    // Asked for by an older Zafiro, perhaps: what cannot be opened fails here, and holds up no other frame.
    const { finish } = openFinish(claim.job.finish);
    const { millis, bytes, note } = await pool.render({ ...claim.job, finish }, abort.signal);
    await reportFrame(claim, { state: 'done', millis, bytes, note });
  } catch (error) {
    if (abort.signal.aborted) await reportFrame(claim, { state: stopping ? 'waiting' : 'cancelled' });
    else if (error instanceof ProcessEnded) await reportDeath(claim, error.message);
    else if ((error as { code?: string }).code === 'disk-full') {
      fullUntil = performance.now() + 10_000;
      await lookAtSpace();
      await reportFrame(claim, { state: 'waiting' });
    }
    // A file that has changed meanwhile was being written: it is read again.
    else if (inputsOf(claim) !== inputs) await reportFrame(claim, { state: 'waiting' });
    else await reportFrame(claim, { state: 'failed', note: (error as Error).message, waitsForInput: true });
  } finally {
    clearInterval(keep);
  }
}

/** Waits for word of work, or until a lease may have run out. */
async function exportLoop() {
  while (!stopping) {
    try {
      if (isFull) {
        await nextMessage('space', 5000);
        continue;
      }
      const claim = await claimFrame();
      if (claim) await renderClaim(claim);
      else if (!stopping) await nextMessage('exports', leaseSeconds * 1000);
    } catch (error) {
      // The database may be starting again; nothing is lost by asking later.
      complain('exports')(error as Error);
      await sleep(1000);
    }
  }
}

const watching = await watchMedia(complain('arrivals'));
const forget = () => forgetOldChanges().catch(complain('changes'));
await forget();
const tidyUp = () =>
  tidy().then((count) => count > 0 && process.stdout.write(`zafiro tidied: ${count}\n`), complain('tidy'));
void tidyUp();
const hourly = setInterval(() => void forget().then(tidyUp), 3_600_000);
await lookAtSpace();
const looking = setInterval(() => void lookAtSpace().catch(complain('space')), 2000);
await Promise.all(Array.from({ length: pool.processes }, exportLoop));
clearInterval(hourly);
clearInterval(looking);
await watching.close();
await pool.close();
endReader();
await closeDatabase();
process.exit(0);
