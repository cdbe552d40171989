import { setTimeout as sleep } from 'node:timers/promises';
import { renderPool } from '../../engine/node/pool';
import { closeDatabase } from '../db/connect';
import { allMedia } from '../media/frames';
import { endReader } from '../media/reader/reader';
import { registerArrivals } from '../media/register';
import { type Claim, claimFrame, renewLease, reportFrame } from './exports';

/**
 * The process beside Next: renders the frames of exports, and looks for frames of media that arrive or change.
 * Whatever it holds when it dies goes back to the queue when the lease runs out.
 */
const pool = renderPool();
let stopping = false;
const stop = () => {
  stopping = true;
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
process.on('disconnect', stop);

/** The database may be starting again; nothing is lost by asking later. */
async function patiently(what: string, work: () => Promise<unknown>) {
  try {
    return await work();
  } catch (error) {
    process.stderr.write(`zafiro ${what}: ${(error as Error).message}\n`);
    await sleep(1000);
  }
}

async function renderClaim(claim: Claim) {
  const abort = new AbortController();
  const keep = setInterval(async () => {
    const held = await renewLease(claim).catch(() => true);
    if (!held || stopping) abort.abort();
  }, 500);
  try {
    const { millis, bytes, note } = await pool.render(claim.job, abort.signal);
    await reportFrame(claim, { state: 'done', millis, bytes, note });
  } catch (error) {
    if (abort.signal.aborted) await reportFrame(claim, { state: stopping ? 'waiting' : 'cancelled' });
    else await reportFrame(claim, { state: 'failed', note: (error as Error).message });
  } finally {
    clearInterval(keep);
  }
}

async function exportLoop() {
  while (!stopping) {
    await patiently('exports', async () => {
      const claim = await claimFrame();
      if (claim) await renderClaim(claim);
      else await sleep(300);
    });
  }
}

async function arrivalLoop() {
  while (!stopping) {
    await patiently('arrivals', async () => {
      for (const media of await allMedia()) await registerArrivals(media);
    });
    await sleep(1000);
  }
}

await Promise.all([arrivalLoop(), ...Array.from({ length: pool.threads }, exportLoop)]);
await pool.close();
endReader();
await closeDatabase();
process.exit(0);
