import * as v from 'valibot';
import { type ExportFrame, type ExportRun, type Urgency, urgencies } from '../../api/exports';
import type { Finish } from '../../core/finish/finish';
import {
  type ExportFormat,
  exportSettings,
  extensionOf,
  type GivenSettings,
  type MovieSettings,
  movieExtensions,
  movieFrames,
} from '../../core/formats/export-formats';
import { pathOf } from '../../core/formats/frame-pattern';
import { alone, type Connection, type Row, rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { needSpace } from '../base/free-space';
import { NotFound, Refused } from '../base/refusals';
import { announce } from '../changes/bus';
import { changing } from '../changes/note';
import { mediaOfShot } from '../media/frames';
import { filesArrived } from './arrivals';
import { takePlace } from './place';

/** Export runs as pages see them: asked for, listed, cancelled. */

type RunRow = {
  id: number;
  shot: number;
  format: ExportFormat;
  file_name: string;
  folder: string;
  cancelled: number;
  paused: number;
  standing: number;
  movie: MovieSettings | null;
  movie_state: NonNullable<ExportRun['movie']>['state'] | null;
  movie_note: string | null;
  movie_bytes: number | null;
  urgency: number;
  created_at: Date;
};
type FrameRow = ExportFrame & { run_id: number };

const runColumns =
  'id, shot_id AS shot, format, file_name, folder, cancelled, paused, standing, urgency, created_at, movie, movie_state, movie_note, movie_bytes';
export const frameColumns =
  'run_id, frame, state, note, millis, bytes, attempt AS tries, (SELECT name FROM render_node n WHERE n.id = node_id) AS machine';

export type MovieColumns = Pick<RunRow, 'movie' | 'movie_state' | 'movie_note' | 'movie_bytes'>;
/** What is said of a run's movie. */
export const movieOf = (run: MovieColumns): ExportRun['movie'] =>
  run.movie && run.movie_state
    ? { codec: run.movie.codec, state: run.movie_state, note: run.movie_note, bytes: run.movie_bytes }
    : null;

const describe = (run: RunRow, frames: readonly FrameRow[]): ExportRun => ({
  id: run.id,
  shot: run.shot,
  format: run.format,
  fileName: run.movie ? movieName(run.file_name, run.movie) : run.file_name,
  cancelled: Boolean(run.cancelled),
  paused: Boolean(run.paused),
  standing: Boolean(run.standing),
  urgency: urgencies[run.urgency],
  movie: movieOf(run),
  createdAt: run.created_at.toISOString(),
  folder: run.folder.startsWith(dataPath('exports')) ? null : run.folder,
  frames: frames.filter((f) => f.run_id === run.id).map(({ run_id: _, ...frame }) => frame),
});

/** `into` is a folder outside the store, which exports may be written into; what is there is written over only if that is wanted. */
export type HowToExport = { standing?: boolean; movie?: MovieSettings; into?: string; overwrites?: boolean };

/** Asks for frames of a document; a process beside the server renders them. */
export async function createExport(
  shot: number,
  finish: Finish,
  frames: readonly number[],
  given: GivenSettings,
  baseName: string,
  { standing = false, movie, into, overwrites = false }: HowToExport = {},
): Promise<number> {
  // A movie is made of codes for a screen, which nobody takes for frames of the shot.
  const ofMovie = movie && {
    format: movieFrames(movie.codec),
    channels: 'rgb' as const,
    carriesFinish: false,
  };
  const settings = v.parse(exportSettings, { ...given, ...ofMovie });
  const { format } = settings;
  await needSpace('Free some space, then start the export.');
  const fileName = `${baseName}.####.${extensionOf(format)}`;
  const media = await mediaOfShot(shot);
  const begun = () =>
    changing(async (c, note, tell) => {
      const [made] = await c.query<Row[]>(
        `INSERT INTO export_run (shot_id, document, media, format, settings, folder, file_name, standing, movie, movie_state)
       VALUES (?, ?, ?, ?, ?, '', ?, ?, ?, ?) RETURNING id`,
        [
          shot,
          JSON.stringify(finish),
          JSON.stringify(media),
          format,
          JSON.stringify(settings),
          fileName,
          standing,
          movie ? JSON.stringify(movie) : null,
          movie ? 'waiting' : null,
        ],
      );
      const id = made[0].id as number;
      await c.query('UPDATE export_run SET folder = ? WHERE id = ?', [
        into ?? dataPath('exports', String(id)),
        id,
      ]);
      await c.query('INSERT INTO export_frame (run_id, frame, state) VALUES ?', [
        frames.map((f) => [id, f, standing ? 'expected' : 'waiting']),
      ]);
      if (standing) await filesArrived(c, note, tell, shot);
      note(shot, { what: 'export', subject: id });
      return id;
    });
  // Looked at and taken at once, so that no two exports take the same files.
  const run = await (into === undefined
    ? begun()
    : alone('zafiro-export-place', async () => {
        await takePlace(into, fileName, frames, overwrites);
        return begun();
      }));
  announce({ zafiro: 'exports' });
  return run;
}

/** Export runs of a shot, newest first. */
export async function listExports(shot: number): Promise<ExportRun[]> {
  const runs = await rows<RunRow>(
    `SELECT ${runColumns} FROM export_run WHERE shot_id = ? ORDER BY id DESC LIMIT 20`,
    [shot],
  );
  if (runs.length === 0) return [];
  const frames = await rows<FrameRow>(
    `SELECT ${frameColumns} FROM export_frame WHERE run_id IN (?) ORDER BY frame`,
    [runs.map((r) => r.id)],
  );
  return runs.map((r) => describe(r, frames));
}

/** Runs by id, each with the frames named: all of them where none is. */
export async function exportsWith(wanted: ReadonlyMap<number, ReadonlySet<number>>): Promise<ExportRun[]> {
  if (wanted.size === 0) return [];
  const runs = await rows<RunRow>(`SELECT ${runColumns} FROM export_run WHERE id IN (?) ORDER BY id`, [
    [...wanted.keys()],
  ]);
  return Promise.all(
    runs.map(async (run) => {
      const parts = [...wanted.get(run.id)!];
      const frames = await rows<FrameRow>(
        `SELECT ${frameColumns} FROM export_frame WHERE run_id = ? ${parts.length > 0 ? 'AND frame IN (?)' : ''}
         ORDER BY frame`,
        [run.id, parts],
      );
      return describe(run, frames);
    }),
  );
}

export const fileOf = (fileName: string, frame: number) => {
  const [before, after] = fileName.split('####');
  return pathOf({ before, after, digits: 4, still: false }, frame);
};

/** The name of the movie of a run's frames. */
export const movieName = (fileName: string, { codec }: Pick<MovieSettings, 'codec'>) =>
  `${fileName.split('.####')[0]}.${movieExtensions[codec]}`;

/** The movie of a run, if it is there. */
export async function exportedMovie(id: number): Promise<{ name: string; path: string } | undefined> {
  const [run] = await rows<RunRow>(
    `SELECT ${runColumns} FROM export_run WHERE id = ? AND movie_state = 'done'`,
    [id],
  );
  if (!run?.movie) return;
  const name = movieName(run.file_name, run.movie);
  return { name, path: `${run.folder}/${name}` };
}

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
  await changing(async (c, note) => {
    await c.query('UPDATE export_run SET cancelled = TRUE WHERE id = ?', [id]);
    await c.query(
      "UPDATE export_frame SET state = 'cancelled', queued = FALSE WHERE run_id = ? AND state IN ('waiting', 'expected')",
      [id],
    );
    const [[run]] = await c.query<Row[]>('SELECT shot_id FROM export_run WHERE id = ?', [id]);
    // Without a frame: all of the run is sent again.
    if (run) note(run.shot_id, { what: 'export', subject: id });
  });
  announce({ zafiro: 'ended' });
}

/** The run's shot, with the run's row locked. @throws {NotFound} */
async function lockedRun(c: Connection, id: number): Promise<{ shot_id: number; standing: number }> {
  const [[run]] = await c.query<Row[]>('SELECT shot_id, standing FROM export_run WHERE id = ? FOR UPDATE', [
    id,
  ]);
  if (!run) throw new NotFound('This export is not there any more.');
  return run as { shot_id: number; standing: number };
}

/**
 * Takes a run that is over off the list. What it wrote into Zafiro's own store goes with it (`server/keep/tidy.ts`); frames in other folders stay.
 * @throws {NotFound} @throws {Refused} while frames of it are still to come.
 */
export async function removeExport(id: number): Promise<void> {
  await changing(async (c, note) => {
    const { shot_id } = await lockedRun(c, id);
    const [[open]] = await c.query<Row[]>(
      `SELECT 1 FROM export_run r WHERE id = ? AND NOT cancelled AND (standing OR movie_state IN ('waiting', 'encoding') OR EXISTS
         (SELECT 1 FROM export_frame f WHERE f.run_id = r.id AND f.state IN ('waiting', 'rendering')))`,
      [id],
    );
    if (open) throw new Refused('refused', 'This export is not over yet.', 'Cancel it first.');
    const [[{ folder }]] = await c.query<Row[]>('SELECT folder FROM export_run WHERE id = ?', [id]);
    await c.query('DELETE FROM export_run WHERE id = ?', [id]);
    // Only what lies in the store is ever removed.
    if (folder === dataPath('exports', String(id)))
      await c.query('INSERT INTO leftover (path) VALUES (?)', [folder]);
    note(shot_id, { what: 'shot' });
  });
  announce({ zafiro: 'ended' });
}

/** Halts a run, or lets it go on. Frames that are being rendered are rendered to their end. */
export async function pauseExport(id: number, paused: boolean): Promise<void> {
  await changing(async (c, note) => {
    const { shot_id } = await lockedRun(c, id);
    await c.query('UPDATE export_run SET paused = ? WHERE id = ?', [paused, id]);
    await c.query("UPDATE export_frame SET queued = FALSE WHERE run_id = ? AND state = 'waiting'", [id]);
    note(shot_id, { what: 'export', subject: id });
  });
  announce({ zafiro: 'exports' });
}

/** Frames of a run that failed, or were cancelled, wait again. */
export async function retryExport(id: number): Promise<void> {
  await changing(async (c, note, tell) => {
    const { shot_id, standing } = await lockedRun(c, id);
    await c.query(
      "UPDATE export_run SET cancelled = FALSE, noticed = FALSE, movie_state = IF(movie_state = 'failed', 'waiting', movie_state) WHERE id = ?",
      [id],
    );
    await c.query(
      `UPDATE export_frame SET state = ?, note = NULL, deaths = 0, losses = 0, waits_for_input = FALSE, queued = FALSE
       WHERE run_id = ? AND state IN ('failed', 'cancelled')`,
      [standing ? 'expected' : 'waiting', id],
    );
    // One that stands waits for its files again.
    if (standing) await filesArrived(c, note, tell, shot_id);
    note(shot_id, { what: 'export', subject: id });
  });
  announce({ zafiro: 'exports' });
  announce({ zafiro: 'ended' });
}

/** Has a run go before others or after them. Its frames take their new place in the order. */
export async function setUrgency(id: number, urgency: Urgency): Promise<void> {
  await changing(async (c, note) => {
    const { shot_id } = await lockedRun(c, id);
    await c.query('UPDATE export_run SET urgency = ?, moved = TRUE WHERE id = ?', [
      urgencies.indexOf(urgency),
      id,
    ]);
    note(shot_id, { what: 'export', subject: id });
  });
  announce({ zafiro: 'exports' });
}
