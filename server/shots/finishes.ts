import type { Finish } from '../../core/finish/finish';
import { parseFinish } from '../../core/finish/validation';
import { NotFound } from '../answer';
import { type Connection, database, type Row, rows, transaction } from '../db/connect';

export type SavedFinish = { id: number; shot: number; version: number; document: Finish };

/** The newest version of a finish. */
export async function loadFinish(id: number): Promise<SavedFinish | undefined> {
  const [found] = await rows<{ id: number; shot: number; version: number; document: unknown }>(
    `SELECT f.id, f.shot_id AS shot, f.version, v.document FROM finish f
     JOIN finish_version v ON v.finish_id = f.id AND v.version = f.version WHERE f.id = ?`,
    [id],
  );
  return found && { ...found, document: parseFinish(found.document) };
}

/** A new finish of a shot, as version 1. */
export async function insertFinish(
  c: Connection,
  shotId: number,
  document: Finish,
  says: string,
): Promise<number> {
  const [made] = await c.query<Row[]>(
    'INSERT INTO finish (shot_id, name, version) VALUES (?, ?, 1) RETURNING id',
    [shotId, document.name],
  );
  const id = made[0].id as number;
  await c.query('INSERT INTO finish_version (finish_id, version, says, document) VALUES (?, 1, ?, ?)', [
    id,
    says,
    JSON.stringify(document),
  ]);
  return id;
}

/**
 * Saves a document that was made from version `from`. Committed to disk when this resolves.
 * Gives the new version, or `conflict` with the newest where somebody else saved in between; nothing is written then.
 */
export async function saveFinish(
  id: number,
  from: number,
  document: Finish,
  says: string,
): Promise<{ version: number } | { conflict: number } | undefined> {
  return transaction(async (c) => {
    const [found] = await c.query<Row[]>('SELECT version FROM finish WHERE id = ? FOR UPDATE', [id]);
    if (found.length === 0) return;
    const { version } = found[0] as unknown as { version: number };
    if (version !== from) return { conflict: version };
    const next = version + 1;
    await c.query('INSERT INTO finish_version (finish_id, version, says, document) VALUES (?, ?, ?, ?)', [
      id,
      next,
      says,
      JSON.stringify(document),
    ]);
    await c.query('UPDATE finish SET version = ?, name = ? WHERE id = ?', [next, document.name, id]);
    return { version: next };
  });
}

export type VersionRow = { version: number; says: string; label: string | null; savedAt: string };

/** Saved versions of a finish, the newest first: those of late, and all that have a name. */
export async function listVersions(id: number): Promise<VersionRow[]> {
  type Found = Omit<VersionRow, 'savedAt'> & { saved_at: Date };
  const found = await rows<Found>(
    `(SELECT version, says, label, saved_at FROM finish_version WHERE finish_id = ? ORDER BY version DESC LIMIT 200)
     UNION (SELECT version, says, label, saved_at FROM finish_version WHERE finish_id = ? AND label IS NOT NULL)
     ORDER BY version DESC`,
    [id, id],
  );
  return found.map(({ saved_at, ...v }) => ({ ...v, savedAt: saved_at.toISOString() }));
}

/** The document of one version. */
export async function loadVersion(id: number, version: number): Promise<Finish | undefined> {
  const [found] = await rows<{ document: unknown }>(
    'SELECT document FROM finish_version WHERE finish_id = ? AND version = ?',
    [id, version],
  );
  return found && parseFinish(found.document);
}

/** Gives a version a name, or takes it. False where there is no such version. */
export async function labelVersion(id: number, version: number, label: string | null): Promise<boolean> {
  const [done] = await database().query(
    'UPDATE finish_version SET label = ? WHERE finish_id = ? AND version = ?',
    [label, id, version],
  );
  return (done as { affectedRows: number }).affectedRows > 0;
}

/** A copy of a finish beside it, under a name of its own: its id. @throws {NotFound} */
export async function copyFinish(id: number, name: string): Promise<number> {
  const from = await loadFinish(id);
  if (!from) throw new NotFound('This finish is not there any more.');
  return transaction((c) =>
    insertFinish(c, from.shot, { ...from.document, name }, `copy ${from.document.name}`),
  );
}
