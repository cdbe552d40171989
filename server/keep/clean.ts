import { readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { database, type Result, rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { keptDays } from '../shots/bin';
import { tidy } from './tidy';

/**
 * Frees room: what was deleted, files that nothing names, and old versions by a rule. The rule keeps the newest version, those that have a name, all
 * of the last days, and of older days the last of each.
 */

export type Room = { what: string; count: number; bytes: number };

const oldVersions = `SELECT v.finish_id, v.version, LENGTH(v.document) AS bytes FROM finish_version v
  JOIN finish f ON f.id = v.finish_id
  WHERE v.version < f.version AND v.name IS NULL AND v.saved_at < NOW(3) - INTERVAL ? DAY
    AND EXISTS (SELECT 1 FROM finish_version w WHERE w.finish_id = v.finish_id AND w.version > v.version
      AND DATE(w.saved_at) = DATE(v.saved_at))`;

function sizeOf(folder: string): { count: number; bytes: number } {
  let [count, bytes] = [0, 0];
  try {
    for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
      if (!entry.isFile()) continue;
      const seen = statSync(join(entry.parentPath ?? entry.path, entry.name), { throwIfNoEntry: false });
      if (!seen) continue;
      count++;
      // A content that several names share is counted once.
      bytes += seen.size / seen.nlink;
    }
  } catch {
    // Not there.
  }
  return { count, bytes };
}

/** What cleaning would free. `days`: versions of so many days stay; undefined for all. `deleted`: the bin is emptied. */
export async function roomToFree(days: number | undefined, deleted: boolean): Promise<Room[]> {
  const found: Room[] = [];
  if (days !== undefined) {
    const versions = await rows<{ bytes: number }>(oldVersions, [days]);
    found.push({
      what: `versions older than ${days} days, but the last of each day and those with a name`,
      count: versions.length,
      bytes: versions.reduce((sum, v) => sum + Number(v.bytes), 0),
    });
  }
  if (deleted) {
    const [{ n }] = await rows<{ n: number }>(
      `SELECT (SELECT COUNT(*) FROM project WHERE deleted_at IS NOT NULL) + (SELECT COUNT(*) FROM shot WHERE deleted_at IS NOT NULL)
         + (SELECT COUNT(*) FROM finish WHERE deleted_at IS NOT NULL) AS n`,
    );
    const shots = await rows<{ id: number }>(
      `SELECT s.id FROM shot s JOIN project p ON p.id = s.project_id WHERE s.deleted_at IS NOT NULL OR p.deleted_at IS NOT NULL`,
    );
    const uploads = await rows<{ pattern: string }>('SELECT pattern FROM media WHERE shot_id IN (?)', [
      [0, ...shots.map((s) => s.id)],
    ]);
    const runs = await rows<{ folder: string }>('SELECT folder FROM export_run WHERE shot_id IN (?)', [
      [0, ...shots.map((s) => s.id)],
    ]);
    const folders = new Set([
      ...runs.map((r) => r.folder).filter((f) => f.startsWith(`${dataPath('exports')}/`)),
      ...uploads
        .filter((u) => u.pattern.startsWith(`${dataPath('media')}/`))
        .map((u) => dataPath('media', u.pattern.slice(dataPath('media').length + 1).split('/')[0])),
    ]);
    const bytes = [...folders].reduce((sum, folder) => sum + sizeOf(folder).bytes, 0);
    found.push({
      what: `deleted things, restorable for ${keptDays} days otherwise`,
      count: Number(n),
      bytes,
    });
  }
  const caches = ['passes', 'thumbnails'].map((name) => sizeOf(dataPath(name)));
  found.push({
    what: 'unpacked passes and small pictures that are gone from the shots (all there are of them; those in use stay)',
    count: caches.reduce((sum, c) => sum + c.count, 0),
    bytes: caches.reduce((sum, c) => sum + c.bytes, 0),
  });
  return found;
}

/** Removes versions older than so many days, but the last of each day and those with a name. Gives how many. */
export async function cleanVersions(days: number): Promise<number> {
  let count = 0;
  for (const { finish_id, version } of await rows<{ finish_id: number; version: number }>(oldVersions, [
    days,
  ])) {
    // One that has got a name since it was listed, or that is the newest by now, stays.
    const [gone] = await database().query<Result>(
      `DELETE FROM finish_version WHERE finish_id = ? AND version = ? AND name IS NULL
         AND version < (SELECT version FROM finish WHERE id = finish_id)`,
      [finish_id, version],
    );
    count += gone.affectedRows;
  }
  return count;
}

/** Frees it. Gives how many versions, things and files went. */
export async function clean(days: number | undefined, deleted: boolean): Promise<number> {
  const count = days === undefined ? 0 : await cleanVersions(days);
  if (deleted)
    for (const table of ['project', 'shot', 'finish'])
      await database().query(
        `UPDATE ${table} SET deleted_at = NOW(3) - INTERVAL ? DAY WHERE deleted_at IS NOT NULL`,
        [keptDays + 1],
      );
  return count + (await tidy());
}
