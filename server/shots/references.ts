import { type AddedReference, mostReferences, type Reference } from '../../api/references';
import { type Result, type Row, rows } from '../base/connect';
import { needSpace } from '../base/free-space';
import { NotFound, Refused } from '../base/refusals';
import { changing } from '../changes/note';

/** Stills beside a shot, kept with it. */

export const referencesOf = (shot: number) =>
  rows<Reference>('SELECT id, name, width, height FROM reference_picture WHERE shot_id = ? ORDER BY id', [
    shot,
  ]);

/** A picture that the shot has already is not kept twice. @throws {NotFound} @throws {Refused} where the shot has as many as it may have. */
export async function addReference(
  shot: number,
  { name, width, height, picture }: Omit<Reference, 'id'> & { picture: Buffer },
): Promise<AddedReference> {
  await needSpace('Free some space, then drop it again.');
  return changing(async (c, note) => {
    const [[there]] = await c.query<Row[]>('SELECT id FROM shot WHERE id = ? FOR UPDATE', [shot]);
    if (!there) throw new NotFound('This shot is not there any more.');
    const [[same]] = await c.query<Row[]>(
      'SELECT id, name FROM reference_picture WHERE shot_id = ? AND picture = ? LIMIT 1',
      [shot, picture],
    );
    if (same) return { id: same.id, name: same.name, again: true };
    const [[{ count }]] = await c.query<Row[]>(
      'SELECT COUNT(*) AS count FROM reference_picture WHERE shot_id = ?',
      [shot],
    );
    if (Number(count) >= mostReferences)
      throw new Refused(
        'refused',
        `A shot has at most ${mostReferences} reference pictures.`,
        'Remove one of them first.',
      );
    const [made] = await c.query<Result>(
      'INSERT INTO reference_picture (shot_id, name, width, height, picture) VALUES (?, ?, ?, ?, ?)',
      [shot, name, width, height, picture],
    );
    note(shot, { what: 'shot' });
    return { id: made.insertId, name, again: false };
  });
}

/** @throws {NotFound} */
export async function deleteReference(id: number): Promise<void> {
  await changing(async (c, note) => {
    const [[found]] = await c.query<Row[]>('SELECT shot_id FROM reference_picture WHERE id = ? FOR UPDATE', [
      id,
    ]);
    if (!found) throw new NotFound('This reference is not there any more.');
    await c.query('DELETE FROM reference_picture WHERE id = ?', [id]);
    note(found.shot_id, { what: 'shot' });
  });
}

/** Its picture, WebP. @throws {NotFound} */
export async function referencePicture(id: number): Promise<Buffer> {
  const [found] = await rows<{ picture: Buffer }>('SELECT picture FROM reference_picture WHERE id = ?', [id]);
  if (!found) throw new NotFound('This reference is not there any more.');
  return found.picture;
}
