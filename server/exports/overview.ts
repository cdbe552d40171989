import { type ExportFrame, urgencies } from '../../api/exports';
import type { QueuedRun } from '../../api/queue';
import { rows } from '../base/connect';
import { frameColumns, type MovieColumns, movieName, movieOf } from './runs';

/** The queue over all shots. */

const mostOver = 30;
const mostNotable = 20;
/** What is said of speed is of the last minutes. */
const speedMinutes = 5;

type Found = Omit<
  QueuedRun,
  'counts' | 'movie' | 'urgency' | 'notable' | 'framesPerMinute' | 'secondsLeft' | 'createdAt'
> & {
  urgency: number;
  created_at: Date;
  open: number;
} & MovieColumns;

type Speed = { run_id: number; done: number; seconds: number };

/** `seen` are the projects that may be seen; all without it. */
export async function queueOverview(seen?: ReadonlySet<number>): Promise<QueuedRun[]> {
  if (seen?.size === 0) return [];
  const found = await rows<Found>(
    `SELECT r.id, r.shot_id AS shot, r.file_name AS fileName, r.format, r.cancelled, r.paused, r.standing, r.urgency, r.created_at, r.movie, r.movie_state, r.movie_note, r.movie_bytes,
       s.name AS shotName, p.name AS project,
       (r.standing AND NOT r.cancelled) OR (NOT r.cancelled AND r.movie_state IN ('waiting', 'encoding')) OR
         EXISTS (SELECT 1 FROM export_frame f WHERE f.run_id = r.id AND f.state IN ('waiting', 'rendering')) AS open
     FROM export_run r JOIN shot s ON s.id = r.shot_id JOIN project p ON p.id = s.project_id
     WHERE ${seen ? 'p.id IN (?)' : 'TRUE'}
     ORDER BY open DESC, IF(open, r.urgency, 0), IF(open, r.id, -CAST(r.id AS SIGNED)) LIMIT 200`,
    seen ? [[...seen]] : [],
  );
  const runs = [...found.filter((r) => r.open), ...found.filter((r) => !r.open).slice(0, mostOver)];
  if (runs.length === 0) return [];
  const ids = runs.map((r) => r.id);
  const counts = await rows<{ run_id: number; state: ExportFrame['state']; count: number }>(
    'SELECT run_id, state, COUNT(*) AS count FROM export_frame WHERE run_id IN (?) GROUP BY run_id, state',
    [ids],
  );
  const speeds = await rows<Speed>(
    `SELECT run_id, COUNT(*) AS done, TIMESTAMPDIFF(MICROSECOND, MIN(ended_at), MAX(ended_at)) / 1e6 AS seconds
     FROM export_frame WHERE run_id IN (?) AND state = 'done' AND ended_at > NOW(3) - INTERVAL ? MINUTE GROUP BY run_id`,
    [ids, speedMinutes],
  );
  const notable = await rows<ExportFrame & { run_id: number }>(
    `SELECT ${frameColumns} FROM export_frame WHERE run_id IN (?) AND (state = 'failed' OR (state IN ('waiting', 'rendering') AND attempt > 1))
     ORDER BY run_id, state = 'failed' DESC, frame LIMIT 2000`,
    [ids],
  );
  return runs.map(
    ({
      open: _,
      movie,
      movie_state,
      movie_note,
      movie_bytes,
      created_at,
      urgency,
      cancelled,
      paused,
      standing,
      ...run
    }) => {
      const of = counts.filter((c) => c.run_id === run.id);
      const waiting = of
        .filter((c) => c.state === 'waiting' || c.state === 'rendering')
        .reduce((sum, c) => sum + Number(c.count), 0);
      const speed = speeds.find((s) => s.run_id === run.id);
      // Between the first and the last of them lie one fewer.
      const perSecond =
        speed && speed.done > 1 && speed.seconds > 0 ? (speed.done - 1) / Number(speed.seconds) : undefined;
      return {
        ...run,
        fileName: movie ? movieName(run.fileName, movie) : run.fileName,
        cancelled: Boolean(cancelled),
        paused: Boolean(paused),
        standing: Boolean(standing),
        urgency: urgencies[urgency],
        createdAt: created_at.toISOString(),
        movie: movieOf({ movie, movie_state, movie_note, movie_bytes }),
        counts: Object.fromEntries(of.map((c) => [c.state, Number(c.count)])),
        framesPerMinute: perSecond === undefined || waiting === 0 ? null : 60 * perSecond,
        secondsLeft: perSecond === undefined || waiting === 0 || paused ? null : waiting / perSecond,
        notable: notable
          .filter((f) => f.run_id === run.id)
          .slice(0, mostNotable)
          .map(({ run_id: _, ...frame }) => frame),
      };
    },
  );
}
