import type { ShotEvent } from '../../api/events';
import type { Version } from '../../api/finishes';
import { rows } from '../base/connect';
import { type Change, newestChange } from '../changes/note';
import { exportsWith } from '../exports/runs';
import { frameStates } from '../media/frame-states';
import { type SavedVersion, versionOf } from '../shots/versions';

/** More changes than this are not sent one by one. */
const mostAtOnce = 5000;

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
