import type { FrameJob } from '../../engine/node/render-frame';
import { announce } from '../changes/bus';
import { changing } from '../changes/changes';
import { type Connection, database, type Row } from '../db/connect';
import { decodedPlace } from '../media/decoded';
import { mediaRoots } from '../media/roots';
import { fileOf } from './runs';

/** The queue of frames to render, as the process that renders them sees it: claimed, held by a lease, reported. */

/** How long a claimed frame may take before another process may have it; renewed while it is worked on. */
export const leaseSeconds = 6;
/** A frame that ended its process this often is given up: nothing else was in it. */
const mostDeaths = 2;
/** Letters that are kept of why a frame failed; the first say it. */
const mostNote = 16_000;

/** A frame to render. */
export type Claim = { run: number; shot: number; frame: number; attempt: number; job: FrameJob };

/** Order in which frames are claimed: waiting frames, then frames with an expired lease, whose process died. */
const queues = ["state = 'waiting'", "state = 'rendering' AND lease_until < NOW(3)"];

/**
 * Takes the next waiting frame, or else one whose lease ran out; frames that another process holds are passed over, and those that ended their
 * process come last.
 */
export async function claimFrame(): Promise<Claim | undefined> {
  return changing(async (c, note) => {
    // By the index, which holds each queue in its order: else rows that are only looked at are locked, and missed by whoever else looks.
    let found: Row | undefined;
    for (const which of queues) {
      [[found]] = await c.query<Row[]>(
        `SELECT run_id, frame, attempt FROM export_frame FORCE INDEX (in_order) WHERE ${which}
         ORDER BY deaths, run_id, frame LIMIT 1 FOR UPDATE SKIP LOCKED`,
      );
      if (found) break;
    }
    if (!found) return;
    const { run_id: run, frame, attempt } = found;
    const [[r]] = await c.query<Row[]>(
      'SELECT shot_id, document, media, format, settings, folder, file_name FROM export_run WHERE id = ?',
      [run],
    );
    note(r.shot_id, { what: 'export', subject: run, part: frame });
    await c.query(
      `UPDATE export_frame SET state = 'rendering', attempt = attempt + 1, waits_for_input = FALSE,
         lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND WHERE run_id = ? AND frame = ?`,
      [run, frame],
    );
    const { shot_id: shot, document, media, format, settings, folder, file_name } = r;
    const out = `${folder}/${fileOf(file_name, frame)}`;
    return {
      run,
      shot,
      frame,
      attempt: attempt + 1,
      job: {
        finish: document,
        media,
        frame,
        scale: 1,
        out,
        settings: settings ?? { format },
        roots: mediaRoots(),
        decoded: decodedPlace(),
      },
    };
  });
}

/** Keeps the lease; false where the run was cancelled or another process has the frame. */
export async function renewLease({ run, frame, attempt }: Claim): Promise<boolean> {
  const [done] = await database().query(
    `UPDATE export_frame f JOIN export_run r ON r.id = f.run_id
     SET f.lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND
     WHERE f.run_id = ? AND f.frame = ? AND f.attempt = ? AND f.state = 'rendering' AND r.cancelled = FALSE`,
    [run, frame, attempt],
  );
  return (done as { affectedRows: number }).affectedRows > 0;
}

export type FrameEnd = {
  state: 'done' | 'failed' | 'cancelled' | 'waiting';
  note?: string;
  millis?: number;
  bytes?: number;
  /** It failed for want of its input, and is rendered once that changes. */
  waitsForInput?: boolean;
};

/** A frame ended its process for the reason `why`: it is tried once more after the others, then given up. */
export async function reportDeath(claim: Claim, why: string): Promise<void> {
  const { run, frame, attempt } = claim;
  await database().query(
    "UPDATE export_frame SET deaths = deaths + 1 WHERE run_id = ? AND frame = ? AND attempt = ? AND state = 'rendering'",
    [run, frame, attempt],
  );
  const [[{ deaths }]] = await database().query<Row[]>(
    'SELECT deaths FROM export_frame WHERE run_id = ? AND frame = ?',
    [run, frame],
  );
  if (deaths < mostDeaths) await reportFrame(claim, { state: 'waiting' });
  else
    await reportFrame(claim, {
      state: 'failed',
      note: `${why} It was tried ${deaths} times.`,
      waitsForInput: true,
    });
}

/** Notes how a claimed frame ended. A frame that another process took over meanwhile is left to it. */
export async function reportFrame({ run, shot, frame, attempt }: Claim, end: FrameEnd): Promise<void> {
  await changing(async (c, note) => {
    await c.query(
      `UPDATE export_frame SET state = ?, note = ?, millis = ?, bytes = ?, waits_for_input = ?, lease_until = NULL
       WHERE run_id = ? AND frame = ? AND attempt = ? AND state = 'rendering'`,
      [
        end.state,
        end.note?.slice(0, mostNote) ?? null,
        end.millis ?? null,
        end.bytes ?? null,
        end.waitsForInput ?? false,
        run,
        frame,
        attempt,
      ],
    );
    note(shot, { what: 'export', subject: run, part: frame });
  });
}

/**
 * Frames that failed for want of their input wait again, since files of a media of the shot have changed: `frame` alone, or all of them where
 * other frames may take from that file. In the transaction that notes the new files.
 */
export async function retryWithInput(
  c: Connection,
  note: Parameters<Parameters<typeof changing>[0]>[1],
  shot: number,
  frame?: number,
): Promise<void> {
  const [waiting] = await c.query<Row[]>(
    `SELECT f.run_id, f.frame FROM export_frame f JOIN export_run r ON r.id = f.run_id
     WHERE r.shot_id = ? AND r.cancelled = FALSE AND f.state = 'failed' AND f.waits_for_input
       ${frame === undefined ? '' : 'AND f.frame = ?'} FOR UPDATE`,
    [shot, frame],
  );
  for (const { run_id, frame: f } of waiting) {
    await c.query(
      `UPDATE export_frame SET state = 'waiting', deaths = 0, note = NULL, waits_for_input = FALSE
       WHERE run_id = ? AND frame = ?`,
      [run_id, f],
    );
    note(shot, { what: 'export', subject: run_id, part: f });
  }
  if (waiting.length > 0) setImmediate(() => announce({ zafiro: 'exports' }));
}
