import { availableParallelism, hostname, totalmem } from 'node:os';
import type { Machine } from '../../api/machines';
import { database, type Row, rows } from '../base/connect';
import { NotFound } from '../base/refusals';
import { announce } from '../changes/bus';

/** Machines that render frames, as rows: the server's own and those that have joined. */

export const buildId = () => process.env.ZAFIRO_BUILD ?? 'unknown';

/** A machine of which nothing was heard for so long is gone. */
const goneSeconds = 12;

/** Of which something was heard of late; not in a time to come, which a clock that was set back leaves behind. */
export const isHeardOf = `seen_at BETWEEN NOW(3) - INTERVAL ${goneSeconds} SECOND AND NOW(3) + INTERVAL ${goneSeconds} SECOND`;

/** How often a machine says which frames it holds. */
export const beatMillis = 1500;

export type Joining = { name: string; cores: number; megabytes: number; places: number; build: string };

/** A machine that joins has a row of its own each time, so that what it held before is nobody's. */
export async function addMachine(
  { name, cores, megabytes, places, build }: Joining,
  isServer = false,
): Promise<number> {
  const [made] = await database().query<Row[]>(
    `INSERT INTO render_node (name, is_server, cores, megabytes, places, build) VALUES (?, ?, ?, ?, ?, ?) RETURNING id`,
    [name, isServer, cores, megabytes, places, build],
  );
  return made[0].id as number;
}

/** The server's own machine, the same row at each start. */
export async function serverMachine(places: number): Promise<number> {
  const self = {
    name: hostname().slice(0, 100),
    cores: availableParallelism(),
    megabytes: Math.round(totalmem() / 2 ** 20),
    places,
    build: buildId(),
  };
  const [known] = await rows<{ id: number }>('SELECT id FROM render_node WHERE is_server LIMIT 1');
  if (!known) return addMachine(self, true);
  await database().query(
    'UPDATE render_node SET ?, seen_at = NOW(3), draining = FALSE, removed = FALSE WHERE id = ?',
    [self, known.id],
  );
  return known.id;
}

export type MachineState = { draining: boolean; removed: boolean };

/** A machine was heard of; gives what it should know, or undefined for one that was never there. */
export async function hearOf(id: number): Promise<MachineState | undefined> {
  await database().query('UPDATE render_node SET seen_at = NOW(3) WHERE id = ?', [id]);
  const [found] = await rows<{ draining: number; removed: number }>(
    'SELECT draining, removed FROM render_node WHERE id = ?',
    [id],
  );
  return found && { draining: Boolean(found.draining), removed: Boolean(found.removed) };
}

/** A machine goes: what it held is given to others by whoever calls this. */
export async function endMachine(id: number): Promise<void> {
  await database().query('UPDATE render_node SET removed = TRUE WHERE id = ?', [id]);
}

export async function drainMachine(id: number, draining: boolean): Promise<void> {
  const [done] = await database().query('UPDATE render_node SET draining = ? WHERE id = ?', [draining, id]);
  if ((done as { affectedRows: number }).affectedRows === 0)
    throw new NotFound('This machine is not there any more.');
  // Whoever renders here sees it at once.
  announce({ zafiro: 'exports' });
  announce({ zafiro: 'frames' });
}

/** Machines that are there, or were lately: the server's own first. What they hold is named where it is of `projects`; of all where none are given. */
export async function listMachines(projects?: ReadonlySet<number>): Promise<Machine[]> {
  type Found = Omit<Machine, 'holds' | 'joinedAt' | 'seenAt' | 'problemAt' | 'meanMillis'> & {
    joined_at: Date;
    seen_at: Date;
    problem_at: Date | null;
    millis: number;
  };
  const found = await rows<Found>(
    `SELECT id, name, is_server AS isServer, cores, megabytes, places, build, draining, joined_at, seen_at, problem, problem_at,
       ${isHeardOf} AS isHere, frames_done AS framesDone, millis_spent AS millis
     FROM render_node WHERE NOT removed AND seen_at > NOW(3) - INTERVAL 1 DAY ORDER BY is_server DESC, name, id`,
  );
  const holds = await rows<Machine['holds'][number] & { node_id: number; project: number }>(
    `SELECT f.node_id, f.run_id AS run, r.file_name AS fileName, f.frame, s.project_id AS project
     FROM export_frame f JOIN export_run r ON r.id = f.run_id JOIN shot s ON s.id = r.shot_id WHERE f.state = 'rendering' ORDER BY f.run_id, f.frame`,
  );
  return found.map(({ joined_at, seen_at, problem_at, millis, ...m }) => ({
    ...m,
    isServer: Boolean(m.isServer),
    draining: Boolean(m.draining),
    isHere: Boolean(m.isHere),
    joinedAt: joined_at.toISOString(),
    seenAt: seen_at.toISOString(),
    problemAt: problem_at?.toISOString() ?? null,
    meanMillis: m.framesDone > 0 ? Number(millis) / m.framesDone : null,
    holds: holds
      .filter((h) => h.node_id === m.id && (projects?.has(h.project) ?? true))
      .map(({ run, fileName, frame }) => ({ run, fileName, frame })),
  }));
}
