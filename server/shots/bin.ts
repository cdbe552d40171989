import { join } from 'node:path';
import { database, type Result, type Row, rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { NotFound, Refused } from '../base/refusals';
import { announce } from '../changes/bus';
import { changing } from '../changes/note';
import { cancelExport } from '../exports/runs';
import { freeName } from './free-name';

/** The upload folder of frames; undefined for frames that were not uploaded. */
function uploadOf(pattern: string): string | undefined {
  const inside = `${dataPath('media')}/`;
  if (!pattern.startsWith(inside)) return;
  return join(inside, pattern.slice(inside.length).split('/')[0]);
}

/** Uploaded frames are Zafiro's own, and go with their shot; all others stay where they lie. */
export const isUploaded = (pattern: string): boolean => uploadOf(pattern) !== undefined;

/** What is deleted can be brought back for so long. */
export const keptDays = 30;

const goneShot = 'This shot is not there any more.';
const goneProject = 'This project is not there any more.';
const goneFinish = 'This finish is not there any more.';

/** Exports of shots end: their frames would be of something that is deleted. */
async function endExports(shots: readonly number[]): Promise<void> {
  if (shots.length === 0) return;
  const runs = await rows<{ id: number }>(
    'SELECT id FROM export_run WHERE shot_id IN (?) AND NOT cancelled',
    [shots],
  );
  for (const { id } of runs) await cancelExport(id);
}

/** Puts a shot aside; it can be brought back. Its exports end. @throws {NotFound} */
export async function deleteShot(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [done] = await c.query<Result>(
      'UPDATE shot SET deleted_at = NOW(3) WHERE id = ? AND deleted_at IS NULL',
      [id],
    );
    if (done.affectedRows === 0) throw new NotFound(goneShot);
    note(id, { what: 'shot' });
  });
  await endExports([id]);
}

/** Brings a shot back, and its project if that was deleted too; with another name where its own is taken by now. @throws {NotFound} */
export async function restoreShot(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[shot]] = await c.query<Row[]>(
      'SELECT project_id, name FROM shot WHERE id = ? AND deleted_at IS NOT NULL FOR UPDATE',
      [id],
    );
    if (!shot) throw new NotFound(goneShot);
    await c.query('UPDATE project SET deleted_at = NULL WHERE id = ?', [shot.project_id]);
    const [others] = await c.query<Row[]>(
      'SELECT name FROM shot WHERE project_id = ? AND deleted_at IS NULL',
      [shot.project_id],
    );
    const name = freeName(shot.name, new Set(others.map((o) => o.name as string)));
    await c.query('UPDATE shot SET deleted_at = NULL, name = ? WHERE id = ?', [name, id]);
    note(id, { what: 'shot' });
  });
}

/** Puts a project and its shots aside, at one moment: they come back together. @throws {NotFound} */
export async function deleteProject(id: number): Promise<void> {
  const shots = await changing(async (c, note) => {
    const [[project]] = await c.query<Row[]>(
      'SELECT NOW(3) AS now FROM project WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
      [id],
    );
    if (!project) throw new NotFound(goneProject);
    const [shots] = await c.query<Row[]>('SELECT id FROM shot WHERE project_id = ? AND deleted_at IS NULL', [
      id,
    ]);
    await c.query('UPDATE project SET deleted_at = ? WHERE id = ?', [project.now, id]);
    await c.query('UPDATE shot SET deleted_at = ? WHERE project_id = ? AND deleted_at IS NULL', [
      project.now,
      id,
    ]);
    for (const shot of shots) note(shot.id, { what: 'shot' });
    return shots.map((s) => s.id as number);
  });
  await endExports(shots);
}

/** Brings a project back with the shots that were deleted with it. @throws {NotFound} */
export async function restoreProject(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[project]] = await c.query<Row[]>(
      'SELECT deleted_at FROM project WHERE id = ? AND deleted_at IS NOT NULL FOR UPDATE',
      [id],
    );
    if (!project) throw new NotFound(goneProject);
    const [shots] = await c.query<Row[]>('SELECT id FROM shot WHERE project_id = ? AND deleted_at = ?', [
      id,
      project.deleted_at,
    ]);
    await c.query('UPDATE project SET deleted_at = NULL WHERE id = ?', [id]);
    await c.query('UPDATE shot SET deleted_at = NULL WHERE project_id = ? AND deleted_at = ?', [
      id,
      project.deleted_at,
    ]);
    for (const shot of shots) note(shot.id, { what: 'shot' });
  });
}

/** Puts a finish aside. @throws {NotFound} @throws {Refused} for the last one of its shot. */
export async function deleteFinish(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[finish]] = await c.query<Row[]>(
      'SELECT shot_id FROM finish WHERE id = ? AND deleted_at IS NULL',
      [id],
    );
    if (!finish) throw new NotFound(goneFinish);
    // One at a time: two at once must not take the last two.
    await c.query('SELECT id FROM shot WHERE id = ? FOR UPDATE', [finish.shot_id]);
    const [there] = await c.query<Row[]>('SELECT id FROM finish WHERE shot_id = ? AND deleted_at IS NULL', [
      finish.shot_id,
    ]);
    if (there.length < 2)
      throw new Refused(
        'refused',
        'This is the only finish of its shot.',
        'Make another one first, or delete the shot.',
      );
    await c.query('UPDATE finish SET deleted_at = NOW(3) WHERE id = ?', [id]);
    note(finish.shot_id, { what: 'shot' });
  });
}

/** Brings a finish back. @throws {NotFound} */
export async function restoreFinish(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[finish]] = await c.query<Row[]>(
      'SELECT shot_id FROM finish WHERE id = ? AND deleted_at IS NOT NULL FOR UPDATE',
      [id],
    );
    if (!finish) throw new NotFound(goneFinish);
    await c.query('UPDATE finish SET deleted_at = NULL WHERE id = ?', [id]);
    note(finish.shot_id, { what: 'shot' });
  });
}

/** Deletes a finish with its versions for good. @throws {NotFound} */
export async function purgeFinish(id: number): Promise<void> {
  const [done] = await database().query<Result>(
    'DELETE FROM finish WHERE id = ? AND deleted_at IS NOT NULL',
    [id],
  );
  if (done.affectedRows === 0) throw new NotFound(goneFinish);
}

/** Deletes a project and all its shots for good. @throws {NotFound} */
export async function purgeProject(id: number): Promise<void> {
  const [found] = await rows('SELECT id FROM project WHERE id = ? AND deleted_at IS NOT NULL', [id]);
  if (!found) throw new NotFound(goneProject);
  for (const shot of await rows<{ id: number }>('SELECT id FROM shot WHERE project_id = ?', [id]))
    await purgeShot(shot.id);
  await database().query('DELETE FROM project WHERE id = ? AND deleted_at IS NOT NULL', [id]);
}

/** Deletes for good what was put aside longer ago than it is kept; gives how much. */
export async function emptyBin(days = keptDays): Promise<number> {
  const old = 'deleted_at < NOW(3) - INTERVAL ? DAY';
  const projects = await rows<{ id: number }>(`SELECT id FROM project WHERE ${old}`, [days]);
  for (const { id } of projects) await purgeProject(id);
  const shots = await rows<{ id: number }>(`SELECT id FROM shot WHERE ${old}`, [days]);
  for (const { id } of shots) await purgeShot(id);
  const [finishes] = await database().query<Result>(`DELETE FROM finish WHERE ${old}`, [days]);
  return projects.length + shots.length + finishes.affectedRows;
}

/**
 * Deletes a shot with its finishes and all their versions, its exports and what else is known of it, for good.
 * The frames it was made of stay where they are; what Zafiro keeps of them, and uploads that no other shot uses, are removed later
 * (`server/keep/tidy.ts`).
 * @throws {NotFound}
 */
export async function purgeShot(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[shot]] = await c.query<Row[]>('SELECT id FROM shot WHERE id = ? FOR UPDATE', [id]);
    if (!shot) throw new NotFound(goneShot);
    const [runs] = await c.query<Row[]>('SELECT folder FROM export_run WHERE shot_id = ?', [id]);
    const [media] = await c.query<Row[]>('SELECT pattern FROM media WHERE shot_id = ?', [id]);
    await c.query('DELETE FROM shot WHERE id = ?', [id]);
    const [others] = await c.query<Row[]>('SELECT pattern FROM media');
    const uploads = new Set(media.flatMap((m) => uploadOf(m.pattern) ?? []));
    const unused = [...uploads].filter((folder) => others.every((m) => uploadOf(m.pattern) !== folder));
    const leftovers = [...runs.map((r) => r.folder as string), ...unused];
    if (leftovers.length > 0)
      await c.query('INSERT INTO leftover (path) VALUES ?', [leftovers.map((path) => [path])]);
    // Pages that still show it hear of it.
    note(id, { what: 'shot' });
  });
  announce({ zafiro: 'media' });
}
