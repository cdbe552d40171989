import { join } from 'node:path';
import { NotFound } from '../answer';
import { announce } from '../changes/bus';
import { changing } from '../changes/changes';
import { dataPath } from '../data-folder';
import type { Row } from '../db/connect';

/** The upload folder of frames; undefined for frames that were not uploaded. */
function uploadOf(pattern: string): string | undefined {
  const inside = `${dataPath('media')}/`;
  if (!pattern.startsWith(inside)) return;
  return join(inside, pattern.slice(inside.length).split('/')[0]);
}

/**
 * Deletes a shot with its finishes and all their versions, its exports and what else is known of it; its project too, if that is empty then.
 * The frames it was made of stay where they are; what Zafiro keeps of them, and uploads that no other shot uses, are removed later
 * (`server/tidy.ts`).
 * @throws {NotFound}
 */
export async function deleteShot(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[shot]] = await c.query<Row[]>('SELECT project_id FROM shot WHERE id = ? FOR UPDATE', [id]);
    if (!shot) throw new NotFound('This shot is not there any more.');
    const [runs] = await c.query<Row[]>('SELECT folder FROM export_run WHERE shot_id = ?', [id]);
    const [media] = await c.query<Row[]>('SELECT pattern FROM media WHERE shot_id = ?', [id]);
    await c.query('DELETE FROM shot WHERE id = ?', [id]);
    const [others] = await c.query<Row[]>('SELECT pattern FROM media');
    const uploads = new Set(media.flatMap((m) => uploadOf(m.pattern) ?? []));
    const unused = [...uploads].filter((folder) => others.every((m) => uploadOf(m.pattern) !== folder));
    const leftovers = [...runs.map((r) => r.folder as string), ...unused];
    if (leftovers.length > 0)
      await c.query('INSERT INTO leftover (path) VALUES ?', [leftovers.map((path) => [path])]);
    await c.query(
      'DELETE FROM project WHERE id = ? AND NOT EXISTS (SELECT 1 FROM shot WHERE project_id = ?)',
      [shot.project_id, shot.project_id],
    );
    // Pages that still show it hear of it.
    note(id, { what: 'shot' });
  });
  announce({ zafiro: 'media' });
}
