import { database, rows } from '../base/connect';
import { NotFound } from '../base/refusals';

/** Small finished pictures, as browsers made them: one of each finish, of its newest version that was seen. */

/** Keeps a poster; one of a later version stays. @throws {NotFound} */
export async function savePoster(finish: number, version: number, picture: Buffer): Promise<void> {
  const [there] = await rows('SELECT 1 FROM finish WHERE id = ?', [finish]);
  if (!there) throw new NotFound('This finish is not there any more.');
  await database().query(
    `INSERT INTO finish_poster (finish_id, version, picture) VALUES (?, ?, ?)
     ON DUPLICATE KEY UPDATE picture = IF(VALUES(version) >= version, VALUES(picture), picture),
       version = GREATEST(version, VALUES(version))`,
    [finish, version, picture],
  );
}

/** @throws {NotFound} */
export async function posterOf(finish: number): Promise<Buffer> {
  const [found] = await rows<{ picture: Buffer }>('SELECT picture FROM finish_poster WHERE finish_id = ?', [
    finish,
  ]);
  if (!found) throw new NotFound('There is no picture of this finish yet.');
  return found.picture;
}
