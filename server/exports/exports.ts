import type { Finish } from '../../core/finish/finish';
import { pathOf } from '../../core/formats/frame-pattern';
import { extension, type Format } from '../../engine/node/encode';
import type { FrameJob } from '../../engine/node/render-frame';
import { dataPath } from '../data-folder';
import { database, type Row, rows, transaction } from '../db/connect';
import { mediaOfShot } from '../shots/shots';

export type FrameState = 'waiting' | 'rendering' | 'done' | 'failed' | 'cancelled';
export type ExportFrame = {
  frame: number;
  state: FrameState;
  note: string | null;
  millis: number | null;
  bytes: number | null;
};
export type ExportRun = {
  id: number;
  shot: number;
  format: Format;
  fileName: string;
  cancelled: boolean;
  createdAt: string;
  frames: ExportFrame[];
};

type RunRow = {
  id: number;
  shot: number;
  format: Format;
  file_name: string;
  folder: string;
  cancelled: number;
  created_at: Date;
};
const runColumns = 'id, shot_id AS shot, format, file_name, folder, cancelled, created_at';

/** How long a claimed frame may take before another process may have it; renewed while it is worked on. */
export const leaseSeconds = 6;
/** A frame whose process died this often is given up: it may be what kills it. */
const attempts = 3;

export const isOver = (run: Pick<ExportRun, 'frames'>) =>
  run.frames.every((f) => f.state !== 'waiting' && f.state !== 'rendering');

/** Asks for frames of a document; a process beside the server renders them. */
export async function createExport(
  shot: number,
  finish: Finish,
  frames: number[],
  format: Format,
  baseName: string,
): Promise<number> {
  const media = await mediaOfShot(shot);
  return transaction(async (c) => {
    const [made] = await c.query<Row[]>(
      `INSERT INTO export_run (shot_id, document, media, format, folder, file_name)
       VALUES (?, ?, ?, ?, '', ?) RETURNING id`,
      [shot, JSON.stringify(finish), JSON.stringify(media), format, `${baseName}.####.${extension[format]}`],
    );
    const id = made[0].id as number;
    await c.query('UPDATE export_run SET folder = ? WHERE id = ?', [dataPath('exports', String(id)), id]);
    await c.query('INSERT INTO export_frame (run_id, frame) VALUES ?', [frames.map((f) => [id, f])]);
    return id;
  });
}

export async function findExport(id: number): Promise<ExportRun | undefined> {
  const [run] = await rows<RunRow>(`SELECT ${runColumns} FROM export_run WHERE id = ?`, [id]);
  return run && describe(run, await framesOf([id]));
}

/** Export runs of a shot, newest first. */
export async function listExports(shot: number): Promise<ExportRun[]> {
  const runs = await rows<RunRow>(
    `SELECT ${runColumns} FROM export_run WHERE shot_id = ? ORDER BY id DESC LIMIT 20`,
    [shot],
  );
  const frames = await framesOf(runs.map((r) => r.id));
  return runs.map((r) => describe(r, frames));
}

const framesOf = (ids: number[]) =>
  ids.length === 0
    ? []
    : rows<ExportFrame & { run_id: number }>(
        'SELECT run_id, frame, state, note, millis, bytes FROM export_frame WHERE run_id IN (?) ORDER BY frame',
        [ids],
      );

function describe(run: RunRow, frames: (ExportFrame & { run_id: number })[]): ExportRun {
  return {
    id: run.id,
    shot: run.shot,
    format: run.format,
    fileName: run.file_name,
    cancelled: Boolean(run.cancelled),
    createdAt: run.created_at.toISOString(),
    frames: frames.filter((f) => f.run_id === run.id).map(({ run_id: _, ...f }) => f),
  };
}

const fileOf = (fileName: string, frame: number) => {
  const [before, after] = fileName.split('####');
  return pathOf({ before, after, digits: 4, still: false }, frame);
};

/** Finished files of a run: name and path. */
export async function exportedFiles(id: number): Promise<{ frame: number; name: string; path: string }[]> {
  const [run] = await rows<RunRow>(`SELECT ${runColumns} FROM export_run WHERE id = ?`, [id]);
  if (!run) return [];
  const done = await rows<{ frame: number }>(
    "SELECT frame FROM export_frame WHERE run_id = ? AND state = 'done' ORDER BY frame",
    [id],
  );
  return done.map(({ frame }) => {
    const name = fileOf(run.file_name, frame);
    return { frame, name, path: `${run.folder}/${name}` };
  });
}

/** Stops a run: what waits is cancelled at once, what is being rendered as soon as its process notices. */
export async function cancelExport(id: number): Promise<void> {
  await transaction(async (c) => {
    await c.query('UPDATE export_run SET cancelled = TRUE WHERE id = ?', [id]);
    await c.query("UPDATE export_frame SET state = 'cancelled' WHERE run_id = ? AND state = 'waiting'", [id]);
  });
}

export type Claim = { run: number; frame: number; attempt: number; job: FrameJob };

/** Takes the next waiting frame, or one whose lease ran out; frames that another process holds are passed over. */
export async function claimFrame(): Promise<Claim | undefined> {
  return transaction(async (c) => {
    const [found] = await c.query<Row[]>(
      `SELECT run_id, frame, attempt FROM export_frame
       WHERE state = 'waiting' OR (state = 'rendering' AND lease_until < NOW(3))
       ORDER BY run_id, frame LIMIT 1 FOR UPDATE SKIP LOCKED`,
    );
    if (found.length === 0) return;
    const { run_id: run, frame, attempt } = found[0];
    if (attempt >= attempts) {
      const note = `Frame ${frame}: rendering it ended the export process ${attempts} times. Look at this frame's passes.`;
      await c.query("UPDATE export_frame SET state = 'failed', note = ? WHERE run_id = ? AND frame = ?", [
        note,
        run,
        frame,
      ]);
      return;
    }
    await c.query(
      `UPDATE export_frame SET state = 'rendering', attempt = attempt + 1,
         lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND WHERE run_id = ? AND frame = ?`,
      [run, frame],
    );
    const [r] = await c.query<Row[]>(
      'SELECT document, media, format, folder, file_name FROM export_run WHERE id = ?',
      [run],
    );
    const { document: finish, media, format, folder, file_name } = r[0];
    const out = `${folder}/${fileOf(file_name, frame)}`;
    return { run, frame, attempt: attempt + 1, job: { finish, media, frame, scale: 1, out, format } };
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

/** Notes how a claimed frame ended. A frame that another process took over meanwhile is left to it. */
export async function reportFrame(
  { run, frame, attempt }: Claim,
  end: { state: 'done' | 'failed' | 'cancelled' | 'waiting'; note?: string; millis?: number; bytes?: number },
): Promise<void> {
  await database().query(
    `UPDATE export_frame SET state = ?, note = ?, millis = ?, bytes = ?, lease_until = NULL
     WHERE run_id = ? AND frame = ? AND attempt = ? AND state = 'rendering'`,
    [end.state, end.note ?? null, end.millis ?? null, end.bytes ?? null, run, frame, attempt],
  );
}
