import { type Connection, database, type Row, rows, transaction } from '../base/connect';
import { announce, type Message } from './bus';

/** Changes of a shot, written in the transaction of the change. What they are now is told by `server/events`. */

export type Change =
  | { what: 'frame'; subject: number; part: number }
  | { what: 'shot' }
  | { what: 'export'; subject: number; part?: number }
  | { what: 'version'; subject: number; part: number };

const keptHours = 24;

/**
 * Notes changes in the transaction that makes them. The shot's clock is locked until that ends, so numbers are seen in the order in which
 * they are given; it is always the last lock that is taken.
 */
export async function noteChanges(c: Connection, shot: number, changes: readonly Change[]): Promise<void> {
  if (changes.length === 0) return;
  await c.query(
    'INSERT INTO shot_clock (shot_id, seq) VALUES (?, ?) ON DUPLICATE KEY UPDATE seq = seq + VALUES(seq)',
    [shot, changes.length],
  );
  const [[{ seq }]] = await c.query<Row[]>('SELECT seq FROM shot_clock WHERE shot_id = ?', [shot]);
  const first = seq - changes.length + 1;
  await c.query('INSERT INTO shot_change (shot_id, seq, what, subject, part) VALUES ?', [
    changes.map((change, i) => [
      shot,
      first + i,
      change.what,
      'subject' in change ? change.subject : null,
      'part' in change ? (change.part ?? null) : null,
    ]),
  ]);
}

/** Notes that something of a shot changed. */
export type Note = (shot: number, ...changes: Change[]) => void;
/** Says something to all processes once the transaction is committed. */
export type Tell = (message: Message) => void;

/** Does `work` in a transaction that notes what it changes; pages and processes hear of it once it is committed. */
export async function changing<T>(work: (c: Connection, note: Note, tell: Tell) => Promise<T>): Promise<T> {
  const noted = new Map<number, Change[]>();
  const told = new Map<string, Message>();
  const result = await transaction(async (c) => {
    noted.clear();
    told.clear();
    const made = await work(
      c,
      (shot, ...changes) => {
        noted.set(shot, [...(noted.get(shot) ?? []), ...changes]);
      },
      (message) => told.set(JSON.stringify(message), message),
    );
    // In one order everywhere, so that no two transactions wait for each other.
    for (const shot of [...noted.keys()].sort((a, b) => a - b)) await noteChanges(c, shot, noted.get(shot)!);
    return made;
  });
  for (const shot of noted.keys()) announce({ zafiro: 'shot', shot });
  for (const message of told.values()) announce(message);
  return result;
}

/** The number of a shot's newest change. */
export async function newestChange(shot: number): Promise<number> {
  const [found] = await rows<{ seq: number }>('SELECT seq FROM shot_clock WHERE shot_id = ?', [shot]);
  return found?.seq ?? 0;
}

/** Changes that nobody will ask for any more. */
export async function forgetOldChanges(): Promise<void> {
  await database().query(
    `DELETE FROM shot_change WHERE at < NOW(3) - INTERVAL ${keptHours} HOUR LIMIT 50000`,
  );
}
