import type { ShotEvent } from '../../api/events';
import type { Version } from '../../api/finishes';
import { type Connection, database, type Row, rows, transaction } from '../db/connect';
import { exportsWith } from '../exports/runs';
import { frameStates } from '../media/frame-states';
import { type SavedVersion, versionOf } from '../shots/versions';
import { announce, type Message } from './bus';

/** Changes of a shot: written in the transaction of the change, and read by pages that show the shot. */

export type Change =
  | { what: 'frame'; subject: number; part: number }
  | { what: 'shot' }
  | { what: 'export'; subject: number; part?: number }
  | { what: 'version'; subject: number; part: number };

/** More changes than this are not sent one by one. */
const mostAtOnce = 5000;
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

/** Changes of a shot after change `after`, with their current state. */
export async function eventsAfter(
  shot: number,
  after: number,
): Promise<{ seq: number; events: ShotEvent[] }> {
  const newest = await newestChange(shot);
  if (newest === after) return { seq: after, events: [] };
  const found = await rows<{ seq: number; what: Change['what']; subject: number; part: number | null }>(
    `SELECT seq, what, subject, part FROM shot_change WHERE shot_id = ? AND seq > ? AND seq <= ?
     ORDER BY seq LIMIT ?`,
    [shot, after, newest, mostAtOnce + 1],
  );
  // A number from another life of the database, changes that are gone, or too many of them.
  if (after > newest || found.length > mostAtOnce || found[0]?.seq !== after + 1)
    return { seq: newest, events: [{ type: 'missed' }] };
  const parts = (what: Change['what']) => {
    const bySubject = new Map<number, Set<number>>();
    for (const row of found) {
      if (row.what !== what) continue;
      const set = bySubject.get(row.subject) ?? new Set();
      if (row.part !== null) set.add(row.part);
      bySubject.set(row.subject, set);
    }
    return bySubject;
  };
  const events: ShotEvent[] = [];
  if (found.some((row) => row.what === 'shot')) events.push({ type: 'shot' });
  for (const [media, frames] of parts('frame'))
    events.push({ type: 'frames', media, frames: await frameStates(media, [...frames]) });
  for (const run of await exportsWith(parts('export'))) events.push({ type: 'export', run });
  for (const [finish, versions] of parts('version'))
    for (const version of await versionsOf(finish, [...versions]))
      events.push({ type: 'version', finish, version });
  return { seq: newest, events };
}

async function versionsOf(finish: number, versions: number[]): Promise<Version[]> {
  const found = await rows<SavedVersion>(
    'SELECT version, edit_label AS label, name, saved_at, saved_by FROM finish_version WHERE finish_id = ? AND version IN (?) ORDER BY version',
    [finish, versions],
  );
  return found.map(versionOf);
}

/** Changes that nobody will ask for any more. */
export async function forgetOldChanges(): Promise<void> {
  await database().query(
    `DELETE FROM shot_change WHERE at < NOW(3) - INTERVAL ${keptHours} HOUR LIMIT 50000`,
  );
}
