import type { MovieSettings } from '../../core/formats/export-formats';
import { makeMovie } from '../../engine/node/movie';
import { type Row, rows } from '../base/connect';
import { announce } from '../changes/bus';
import { changing } from '../changes/note';
import { deliver } from './delivered';
import { fileOf, movieName } from './runs';

/** Movies of exports: each is made once all frames of its run are done, by the process that renders exports, one at a time. */

type Due = { id: number; shot: number; folder: string; file_name: string; movie: MovieSettings };

async function setMovie(run: Pick<Due, 'id' | 'shot'>, set: Record<string, unknown>): Promise<void> {
  await changing(async (c, note) => {
    await c.query<Row[]>('UPDATE export_run SET ? WHERE id = ?', [set, run.id]);
    note(run.shot, { what: 'export', subject: run.id });
  });
  if (set.movie_state !== 'encoding') announce({ zafiro: 'ended' });
}

/** What an earlier process began is begun again. */
export async function takeBackMovies(): Promise<void> {
  const found = await rows<Due>("SELECT id, shot_id AS shot FROM export_run WHERE movie_state = 'encoding'");
  for (const run of found) await setMovie(run, { movie_state: 'waiting' });
}

/** Makes the next movie whose frames are all done; gives whether there was one. */
export async function makeNextMovie(signal: AbortSignal): Promise<boolean> {
  const [due] = await rows<Due>(
    `SELECT id, shot_id AS shot, folder, file_name, movie FROM export_run r WHERE movie_state = 'waiting' AND NOT cancelled AND NOT EXISTS
       (SELECT 1 FROM export_frame f WHERE f.run_id = r.id AND f.state <> 'done') ORDER BY urgency, id LIMIT 1`,
  );
  if (!due) return false;
  await setMovie(due, { movie_state: 'encoding', movie_note: null });
  const frames = await rows<{ frame: number }>(
    'SELECT frame FROM export_frame WHERE run_id = ? ORDER BY frame',
    [due.id],
  );
  const out = `${due.folder}/${movieName(due.file_name, due.movie)}`;
  try {
    const paths = frames.map(({ frame }) => `${due.folder}/${fileOf(due.file_name, frame)}`);
    const bytes = await makeMovie(paths, out, due.movie, signal);
    await deliver(out);
    await setMovie(due, { movie_state: 'done', movie_bytes: bytes });
  } catch (error) {
    if (signal.aborted) await setMovie(due, { movie_state: 'waiting' });
    else await setMovie(due, { movie_state: 'failed', movie_note: (error as Error).message.slice(0, 4000) });
  }
  return true;
}
