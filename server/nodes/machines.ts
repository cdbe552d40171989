import { availableParallelism, hostname, totalmem } from 'node:os';
import { database, type Row, rows } from '../db/connect';

/** Machines that render frames, as rows: the server's own and those that have joined. */

export const buildId = () => process.env.ZAFIRO_BUILD ?? 'unknown';

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
