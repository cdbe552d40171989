import { rename, rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { ExportFormat } from '../../core/formats/export-formats';
import { parsePattern } from '../../core/formats/frame-pattern';
import {
  addToRecord,
  keyOfStanding,
  type RecordLine,
  readRecord,
  recordOf,
} from '../../engine/node/frame-record';
import type { FrameDone, FrameJob } from '../../engine/node/render-frame';
import { makeFolder } from '../../engine/node/write-file';
import { type Connection, database, type Row, rows } from '../base/connect';
import { announce } from '../changes/bus';
import { changing } from '../changes/note';
import { decodedPlace } from '../media/reader/decoded';
import { frameRoots } from '../media/roots';
import { isHeardOf } from '../nodes/machines';
import { deliver } from './delivered';
import type { FrameOrder, ToOrder, Waiting } from './order';
import { fileOf } from './runs';

/**
 * The frames of exports as rows: the truth about what waits, who has it, and what became of it. Redis holds the order in which those that wait are
 * handed out (`order.ts`) and nothing else.
 */

/** How long a frame is a machine's before another may have it; renewed while it is worked on. */
export const leaseSeconds = 6;
export const renewMillis = 500;
/** A frame that ended its process this often is given up: nothing else was in it. */
const mostDeaths = 2;
/** A frame that was lost with its machine this often is given up: it may be what ends them. */
const mostLosses = 10;
/** Letters that are kept of why a frame failed; the first say it. */
const mostNote = 16_000;
/** A frame to render. */
export type Claim = {
  run: number;
  shot: number;
  frame: number;
  attempt: number;
  node: number;
  /** Where the file goes; until it is put there it has another name. */
  out: string;
  /** The record of the frames beside it. */
  record: string;
  job: FrameJob;
};

/** What names a claim to whoever holds it. */
export type ClaimId = Pick<Claim, 'run' | 'frame' | 'attempt'>;

/** The name that a file has until it is put in its place. */
export const asideOf = (out: string, attempt: number) => `${out}.${attempt}.part`;

/** The key of the frame that stands in the place of one that is to be rendered, if it is there. */
export const standingKey = async ({ record, frame, out }: Pick<Claim, 'record' | 'frame' | 'out'>) =>
  keyOfStanding((await readRecord(record)).get(frame), out);

/** Takes a frame that waits for a machine; undefined where it waits no more, or this machine is not to have it. */
async function claimRow({ run, frame }: Waiting, node: number): Promise<Claim | undefined> {
  const claimed = await changing(async (c, note) => {
    const [[found]] = await c.query<Row[]>(
      `SELECT f.attempt, f.state, f.deaths, f.node_id, r.paused, r.cancelled, ${runOfFrame}
       WHERE f.run_id = ? AND f.frame = ? FOR UPDATE`,
      [run, frame],
    );
    if (found?.state !== 'waiting' || found.paused || found.cancelled) {
      // What goes on later is put into the order again.
      if (found)
        await c.query('UPDATE export_frame SET queued = FALSE WHERE run_id = ? AND frame = ?', [run, frame]);
      return;
    }
    // What ended a process here is tried elsewhere, if there is anybody else.
    if (found.deaths > 0 && found.node_id === node) {
      const [[{ others }]] = await c.query<Row[]>(
        `SELECT COUNT(*) AS others FROM render_node
         WHERE id <> ? AND NOT draining AND NOT removed AND ${isHeardOf}`,
        [node],
      );
      if (Number(others) > 0) {
        await c.query('UPDATE export_frame SET queued = FALSE WHERE run_id = ? AND frame = ?', [run, frame]);
        return;
      }
    }
    await c.query(
      `UPDATE export_frame SET state = 'rendering', attempt = attempt + 1, waits_for_input = FALSE, queued = FALSE, node_id = ?,
         lease_until = NOW(3) + INTERVAL ? SECOND WHERE run_id = ? AND frame = ?`,
      [node, leaseSeconds, run, frame],
    );
    note(found.shot, { what: 'export', subject: run, part: frame });
    return found;
  });
  if (!claimed) return;
  return claimFrom(claimed as RunOfFrame, { run, frame, attempt: claimed.attempt + 1 }, node);
}

/** A claim with what is known of the file in its place; what is left of those who had it before is gone. */
async function looked(claim: Claim): Promise<Claim> {
  const known = await renewing(claim, async () => {
    for (let n = 1; n < claim.attempt; n++) await rm(asideOf(claim.out, n), { force: true });
    return standingKey(claim);
  });
  return { ...claim, job: { ...claim.job, known } };
}

/** What of its run a frame's claim is made of. */
type RunOfFrame = Row & {
  shot: number;
  document: FrameJob['finish'];
  media: FrameJob['media'];
  format: ExportFormat;
  settings: FrameJob['settings'] | null;
  folder: string;
  file_name: string;
};
const runOfFrame =
  'r.shot_id AS shot, r.document, r.media, r.format, r.settings, r.folder, r.file_name FROM export_frame f JOIN export_run r ON r.id = f.run_id';

function claimFrom(
  { shot, document, media, format, settings, folder, file_name }: RunOfFrame,
  { run, frame, attempt }: ClaimId,
  node: number,
): Claim {
  const out = `${folder}/${fileOf(file_name, frame)}`;
  return {
    ...{ run, shot, frame, attempt, node, out },
    record: recordOf(parsePattern(`${folder}/${file_name}`)),
    job: {
      finish: document,
      media,
      frame,
      scale: 1,
      out: asideOf(out, attempt),
      aside: true,
      settings: settings ?? { format },
      roots: frameRoots(),
      decoded: decodedPlace(),
    },
  };
}

/** A claim that a machine says it has; undefined where it has it no more. */
export async function claimOf(id: ClaimId, node: number): Promise<Claim | undefined> {
  const [found] = await rows<RunOfFrame>(
    `SELECT ${runOfFrame} WHERE f.run_id = ? AND f.frame = ? AND f.attempt = ? AND f.node_id = ?
       AND f.state = 'rendering' AND NOT r.cancelled`,
    [id.run, id.frame, id.attempt, node],
  );
  return found && claimFrom(found, id, node);
}

/** The next frame that waits, taken for a machine. */
export async function takeFrame(order: FrameOrder, node: number): Promise<Claim | undefined> {
  for (;;) {
    const found = await order.next((waiting) => claimRow(waiting, node));
    if (!found) return;
    // Once the order has let go of it: the disk may take its time.
    if (found.taken) return looked(found.taken);
  }
}

/** Keeps the leases of claims; gives those that are their holder's no more: cancelled, or another's by now. */
export async function renewLeases(claims: readonly ClaimId[], node: number): Promise<ClaimId[]> {
  if (claims.length === 0) return [];
  const mine = claims.map((c) => [c.run, c.frame, c.attempt]);
  await database().query(
    `UPDATE export_frame f JOIN export_run r ON r.id = f.run_id
     SET f.lease_until = NOW(3) + INTERVAL ? SECOND
     WHERE (f.run_id, f.frame, f.attempt) IN (?) AND f.node_id = ? AND f.state = 'rendering' AND NOT r.cancelled`,
    [leaseSeconds, mine, node],
  );
  const held = await rows<ClaimId>(
    `SELECT f.run_id AS run, f.frame, f.attempt FROM export_frame f JOIN export_run r ON r.id = f.run_id
     WHERE (f.run_id, f.frame, f.attempt) IN (?) AND f.node_id = ? AND f.state = 'rendering' AND NOT r.cancelled`,
    [mine, node],
  );
  const isHeld = (c: ClaimId) =>
    held.some((h) => h.run === c.run && h.frame === c.frame && h.attempt === c.attempt);
  return claims.filter((c) => !isHeld(c));
}

/** Keeps the lease of a claim that nobody holds yet while files are waited for, on a disk that may take its time. */
async function renewing<T>(claim: Claim, work: () => Promise<T>): Promise<T> {
  const keep = setInterval(() => void renewLeases([claim], claim.node).catch(() => []), renewMillis);
  try {
    return await work();
  } finally {
    clearInterval(keep);
  }
}

/**
 * Sets a frame's row while it is still the claim's; one whose files have changed since it was taken waits again, however it ended. Gives whether it was the
 * claim's.
 */
async function setFrame(
  c: Connection,
  { run, frame, attempt }: ClaimId,
  { state, ...set }: { state: string } & Record<string, unknown>,
): Promise<boolean> {
  const [done] = await c.query(
    `UPDATE export_frame SET ?, state = IF(stale AND ? <> 'cancelled', 'waiting', ?), stale = FALSE, queued = FALSE, lease_until = NULL
     WHERE run_id = ? AND frame = ? AND attempt = ? AND state = 'rendering'`,
    [set, state, state, run, frame, attempt],
  );
  return (done as { affectedRows: number }).affectedRows > 0;
}

export type FrameEnd = {
  state: 'failed' | 'cancelled' | 'waiting';
  note?: string;
  /** It failed for want of its input, and is rendered once that changes. */
  waitsForInput?: boolean;
};

/** Notes how a claimed frame ended without a file. A frame that another process took over meanwhile is left to it. */
export async function reportFrame(claim: Claim, end: FrameEnd): Promise<void> {
  await rm(claim.job.out, { force: true });
  await changing(async (c, note) => {
    await setFrame(c, claim, {
      state: end.state,
      note: end.note?.slice(0, mostNote) ?? null,
      waits_for_input: end.waitsForInput ?? false,
      ended_at: new Date(),
    });
    if (end.state === 'failed')
      await c.query('UPDATE render_node SET problem = ?, problem_at = NOW(3) WHERE id = ?', [
        end.note?.slice(0, mostNote) ?? null,
        claim.node,
      ]);
    note(claim.shot, { what: 'export', subject: claim.run, part: claim.frame });
  });
  announce({ zafiro: end.state === 'waiting' ? 'exports' : 'ended' });
}

/** A frame ended its process for the reason `why`: it is tried once more after the others, elsewhere if it can be, then given up. */
export async function reportDeath(claim: Claim, why: string): Promise<void> {
  const { run, frame, attempt } = claim;
  await database().query(
    "UPDATE export_frame SET deaths = deaths + 1 WHERE run_id = ? AND frame = ? AND attempt = ? AND state = 'rendering'",
    [run, frame, attempt],
  );
  const [found] = await rows<{ deaths: number }>(
    'SELECT deaths FROM export_frame WHERE run_id = ? AND frame = ?',
    [run, frame],
  );
  if (!found || found.deaths < mostDeaths) await reportFrame(claim, { state: 'waiting' });
  else
    await reportFrame(claim, {
      state: 'failed',
      note: `${why} It was tried ${found.deaths} times.`,
      waitsForInput: true,
    });
}

/**
 * Puts the file of a claimed frame in its place, if the frame is still the claim's; gives whether it was. Files are moved outside of transactions, so
 * that a disk which does not answer holds no rows; whoever has the claim renews its lease meanwhile. Two who have rendered one frame put the same bytes there.
 */
export async function placeFrame(
  claim: Claim,
  done: Pick<FrameDone, 'key' | 'bytes' | 'digest' | 'millis' | 'note' | 'kept'>,
): Promise<boolean> {
  const { run, frame, out, job, node } = claim;
  if (!done.kept) {
    if ((await renewLeases([claim], node)).length > 0) {
      await rm(job.out, { force: true });
      return false;
    }
    const line: RecordLine = { frame, key: done.key, digest: done.digest, bytes: done.bytes };
    try {
      await makeFolder(dirname(out));
      await deliver(job.out);
      await rename(job.out, out);
    } catch (error) {
      // Put there already, by a try of which the database has not heard.
      const isGone = (error as NodeJS.ErrnoException).code === 'ENOENT';
      if (!isGone || !(await keyOfStanding(line, out, true))) throw error;
    }
    await addToRecord(claim.record, line);
    await deliver(claim.record);
  }
  const placed = await changing(async (c, note) => {
    const isMine = await setFrame(c, claim, {
      state: 'done',
      note: done.note?.slice(0, mostNote) ?? null,
      millis: done.millis,
      // What stays as it was has its size and digest from then.
      ...(done.kept ? {} : { bytes: done.bytes, digest: done.digest }),
      content_key: done.key,
      deaths: 0,
      losses: 0,
      waits_for_input: false,
      ended_at: new Date(),
    });
    if (!isMine) return false;
    await c.query(
      'UPDATE render_node SET frames_done = frames_done + 1, millis_spent = millis_spent + ? WHERE id = ?',
      [done.millis, node],
    );
    note(claim.shot, { what: 'export', subject: run, part: frame });
    return true;
  });
  announce({ zafiro: 'ended' });
  return placed;
}

/** Frames whose machine is not heard of any more wait again, or are given up. Gives how many were lost. `node` alone, whose claims are all void, if named. */
export async function takeBackLost(node?: number): Promise<number> {
  const lost = await changing(async (c, note) => {
    const [found] = await c.query<Row[]>(
      `SELECT f.run_id, f.frame, f.losses, r.shot_id, n.name FROM export_frame f JOIN export_run r ON r.id = f.run_id
         LEFT JOIN render_node n ON n.id = f.node_id
       WHERE f.state = 'rendering' AND ${
         // One that runs out long after any lease was given while the clock was ahead.
         node === undefined
           ? `(f.lease_until < NOW(3) OR f.lease_until > NOW(3) + INTERVAL ${10 * leaseSeconds} SECOND)`
           : 'f.node_id = ?'
       }
       FOR UPDATE SKIP LOCKED`,
      [node],
    );
    for (const { run_id, frame, losses, shot_id, name } of found) {
      const isTooMany = losses + 1 >= mostLosses;
      await c.query(
        `UPDATE export_frame SET state = ?, losses = losses + 1, queued = FALSE, stale = FALSE, lease_until = NULL, note = ?
         WHERE run_id = ? AND frame = ?`,
        [
          isTooMany ? 'failed' : 'waiting',
          isTooMany
            ? `Frame ${frame}: it was lost ${losses + 1} times with the machine that rendered it, last ${name}. See whether that has enough memory, then try again.`
            : null,
          run_id,
          frame,
        ],
      );
      note(shot_id, { what: 'export', subject: run_id, part: frame });
    }
    return found.length;
  });
  if (lost > 0) {
    announce({ zafiro: 'exports' });
    announce({ zafiro: 'ended' });
  }
  return lost;
}

/** Frames of runs whose urgency has changed leave the order, to take their new place. */
async function moveRuns(order: FrameOrder): Promise<void> {
  const moved = await rows<{ id: number }>('SELECT id FROM export_run WHERE moved');
  for (const { id } of moved) {
    // Before its frames are looked at: what is moved again meanwhile is moved again.
    await database().query('UPDATE export_run SET moved = FALSE WHERE id = ?', [id]);
    const frames = await rows<Waiting>(
      "SELECT run_id AS run, frame FROM export_frame WHERE run_id = ? AND state = 'waiting'",
      [id],
    );
    await order.remove(frames);
    await database().query("UPDATE export_frame SET queued = FALSE WHERE run_id = ? AND state = 'waiting'", [
      id,
    ]);
  }
}

/** Puts rows that wait into the order, those that it does not have; gives how many. */
export async function feedOrder(order: FrameOrder): Promise<number> {
  await moveRuns(order);
  const waiting = await rows<ToOrder>(
    `SELECT f.run_id AS run, f.frame, f.deaths, r.urgency FROM export_frame f JOIN export_run r ON r.id = f.run_id
     WHERE f.state = 'waiting' AND NOT f.queued AND NOT r.paused AND NOT r.cancelled
     ORDER BY f.run_id, f.deaths, f.frame LIMIT 5000`,
  );
  if (waiting.length === 0) return 0;
  await order.add(waiting);
  await database().query(
    "UPDATE export_frame SET queued = TRUE WHERE state = 'waiting' AND (run_id, frame) IN (?)",
    [waiting.map((w) => [w.run, w.frame])],
  );
  announce({ zafiro: 'frames' });
  return waiting.length;
}

/** Whether any frame waits or is rendered. */
export async function isAnythingOpen(): Promise<boolean> {
  const [{ open }] = await rows<{ open: number }>(
    "SELECT EXISTS (SELECT 1 FROM export_frame WHERE state IN ('waiting', 'rendering')) AS open",
  );
  return Boolean(open);
}

/** Frames that may be between the order and their row. */
const mostUnderWay = 100;

/** Where the order holds less than the rows say, as after the loss of Redis, all are put into it once more. Gives whether. */
export async function mendOrder(order: FrameOrder): Promise<boolean> {
  const [{ waiting }] = await rows<{ waiting: number }>(
    "SELECT COUNT(*) AS waiting FROM export_frame WHERE state = 'waiting' AND queued",
  );
  const held = await order.count();
  if (Number(waiting) - held <= (held === 0 ? 0 : mostUnderWay)) return false;
  await database().query("UPDATE export_frame SET queued = FALSE WHERE state = 'waiting'");
  return true;
}
