import type { SavedFinish, Version } from '../../api/finishes';
import type { Finish } from '../../core/finish/finish';
import { recipesIn } from '../../core/finish/uses';
import { openFinish } from '../../core/finish/validation';
import { type Connection, type Row, rows } from '../base/connect';
import { needSpace } from '../base/free-space';
import { NotFound, Refused } from '../base/refusals';
import { changing } from '../changes/note';
import { freeName } from './free-name';
import { type SavedVersion, versionOf } from './versions';

const gone = 'This finish is not there any more.';
const goneVersion = 'This version is not there any more.';

/** The newest version of a finish, brought to today's format and bounds. @throws {NotFound} */
export async function loadFinish(id: number): Promise<SavedFinish> {
  const [found] = await rows<{ id: number; shot: number; version: number; document: unknown }>(
    `SELECT f.id, f.shot_id AS shot, f.version, v.document FROM finish f
     JOIN finish_version v ON v.finish_id = f.id AND v.version = f.version WHERE f.id = ?`,
    [id],
  );
  if (!found) throw new NotFound(gone);
  const { finish, repairs } = openFinish(found.document);
  return { ...found, document: finish, repairs };
}

/** A new finish of a shot, as version 1. */
export async function insertFinish(
  c: Connection,
  shotId: number,
  document: Finish,
  label: string,
): Promise<number> {
  const [made] = await c.query<Row[]>(
    'INSERT INTO finish (shot_id, name, version, recipes) VALUES (?, ?, 1, ?) RETURNING id',
    [shotId, document.name, JSON.stringify(recipesIn(document))],
  );
  const id = made[0].id as number;
  await c.query('INSERT INTO finish_version (finish_id, version, edit_label, document) VALUES (?, 1, ?, ?)', [
    id,
    label,
    JSON.stringify(document),
  ]);
  return id;
}

/**
 * Saves a document that was made from version `from`. Committed to disk when this resolves. The same save asked for again gives the version
 * that it became.
 * @throws {Refused} `conflict` with the newest version where somebody else saved in between; nothing is written then.
 */
export async function saveFinish(
  id: number,
  {
    from,
    document,
    label,
    save,
    by,
  }: { from: number; document: Finish; label: string; save: string; by?: string },
): Promise<number> {
  await needSpace('Free some space: what waits is saved then by itself.');
  return changing(async (c, note) => {
    const [[found]] = await c.query<Row[]>(
      'SELECT shot_id, version, name FROM finish WHERE id = ? FOR UPDATE',
      [id],
    );
    if (!found) throw new NotFound(gone);
    if (found.version !== from) {
      const [[before]] = await c.query<Row[]>(
        'SELECT version FROM finish_version WHERE finish_id = ? AND save_id = ?',
        [id, save],
      );
      if (before) return before.version as number;
      throw new Refused(
        'conflict',
        'This finish was saved elsewhere in the meantime.',
        'Keep yours, or take the other.',
        found.version,
      );
    }
    const version = found.version + 1;
    await c.query(
      'INSERT INTO finish_version (finish_id, version, edit_label, document, save_id, saved_by) VALUES (?, ?, ?, ?, ?, ?)',
      [id, version, label, JSON.stringify(document), save, by ?? null],
    );
    await c.query('UPDATE finish SET version = ?, name = ?, recipes = ? WHERE id = ?', [
      version,
      document.name,
      JSON.stringify(recipesIn(document)),
      id,
    ]);
    note(found.shot_id, { what: 'version', subject: id, part: version });
    if (found.name !== document.name) note(found.shot_id, { what: 'shot' });
    return version;
  });
}

/** Saved versions of a finish, the newest first: those of late, and all that have a name. */
export async function listVersions(id: number): Promise<Version[]> {
  const found = await rows<SavedVersion>(
    `(SELECT version, edit_label AS label, name, saved_at, saved_by FROM finish_version WHERE finish_id = ? ORDER BY version DESC LIMIT 200)
     UNION (SELECT version, edit_label AS label, name, saved_at, saved_by FROM finish_version WHERE finish_id = ? AND name IS NOT NULL)
     ORDER BY version DESC`,
    [id, id],
  );
  return found.map(versionOf);
}

/** The document of one version, brought to today's format and bounds. @throws {NotFound} */
export async function loadVersion(id: number, version: number): Promise<Finish> {
  const [found] = await rows<{ document: unknown }>(
    'SELECT document FROM finish_version WHERE finish_id = ? AND version = ?',
    [id, version],
  );
  if (!found) throw new NotFound(goneVersion);
  return openFinish(found.document).finish;
}

/** Gives a version a name, or takes it. @throws {NotFound} */
export async function nameVersion(id: number, version: number, name: string | null): Promise<void> {
  await changing(async (c, note) => {
    const [[found]] = await c.query<Row[]>(
      `SELECT f.shot_id FROM finish f JOIN finish_version v ON v.finish_id = f.id
       WHERE f.id = ? AND v.version = ?`,
      [id, version],
    );
    if (!found) throw new NotFound(goneVersion);
    await c.query('UPDATE finish_version SET name = ? WHERE finish_id = ? AND version = ?', [
      name,
      id,
      version,
    ]);
    note(found.shot_id, { what: 'version', subject: id, part: version });
  });
}

/** A copy of a finish beside it: its id. Its name gets a number where the shot has that name already. @throws {NotFound} */
export async function copyFinish(id: number, name: string): Promise<number> {
  const from = await loadFinish(id);
  return addFinish(from.shot, { ...from.document, name }, `copy ${from.document.name}`);
}

/** A document as another finish of a shot: its id. Its name gets a number where the shot has that name already. @throws {NotFound} */
export async function addFinish(shot: number, document: Finish, label: string): Promise<number> {
  await needSpace('Free some space, then try it again.');
  return changing(async (c, note) => {
    const [[there]] = await c.query<Row[]>('SELECT 1 FROM shot WHERE id = ? FOR UPDATE', [shot]);
    if (!there) throw new NotFound('This shot is not there any more.');
    const [others] = await c.query<Row[]>('SELECT name FROM finish WHERE shot_id = ? FOR UPDATE', [shot]);
    const taken = new Set(others.map((o) => o.name as string));
    note(shot, { what: 'shot' });
    return insertFinish(c, shot, { ...document, name: freeName(document.name, taken) }, label);
  });
}
