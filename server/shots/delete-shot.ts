import { NotFound } from '../answer';
import { announce } from '../changes/bus';
import { changing } from '../changes/changes';
import type { Row } from '../db/connect';

/**
 * Deletes a shot with its finishes and all their versions, its exports and what else is known of it; its project too, if that is empty then.
 * The frames it was made of stay where they are; what Zafiro keeps of them is tidied away later (`server/tidy.ts`).
 * @throws {NotFound}
 */
export async function deleteShot(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[shot]] = await c.query<Row[]>('SELECT project_id FROM shot WHERE id = ? FOR UPDATE', [id]);
    if (!shot) throw new NotFound('This shot is not there any more.');
    await c.query('DELETE FROM shot WHERE id = ?', [id]);
    await c.query(
      'DELETE FROM project WHERE id = ? AND NOT EXISTS (SELECT 1 FROM shot WHERE project_id = ?)',
      [shot.project_id, shot.project_id],
    );
    // Pages that still show it hear of it.
    note(id, { what: 'shot' });
  });
  announce({ zafiro: 'media' });
}
