import type { ShotDetail } from '../../api/shots';
import { parsePattern } from '../../core/formats/frame-pattern';
import type { Pass } from '../../core/formats/passes';
import { type Row, rows } from '../base/connect';
import { NotFound } from '../base/refusals';
import { announce } from '../changes/bus';
import { changing, newestChange } from '../changes/note';
import { framesOfShot } from '../media/frame-states';
import { type Media, mediaColumns } from '../media/frames';

/** A shot with its media, the frames that arrived, the passes of the first frame of each that is here, and its finishes. */
export async function shotDetail(id: number): Promise<ShotDetail | undefined> {
  // Read first: what changes while the rest is read is sent as an event once more.
  const seq = await newestChange(id);
  const [shot] = await rows<Omit<ShotDetail, 'media' | 'finishes' | 'seq'>>(
    `SELECT s.id, s.name, p.name AS project, s.first_frame AS first, s.last_frame AS last, s.rate, s.width, s.height
     FROM shot s JOIN project p ON p.id = s.project_id WHERE s.id = ? AND s.deleted_at IS NULL`,
    [id],
  );
  if (!shot) return;
  const media = await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE shot_id = ? ORDER BY id`, [id]);
  const frames = await framesOfShot(id);
  const passes = await rows<{ media_id: number; passes: Pass[] }>(
    `SELECT f.media_id, f.passes FROM media_frame f JOIN
       (SELECT g.media_id, MIN(g.frame) AS frame FROM media_frame g JOIN media m ON m.id = g.media_id
        WHERE m.shot_id = ? AND g.passes IS NOT NULL GROUP BY g.media_id) AS first
     ON first.media_id = f.media_id AND first.frame = f.frame`,
    [id],
  );
  const passesOf = new Map(passes.map((p) => [p.media_id, p.passes]));
  const finishes = await rows<{ id: number; name: string }>(
    'SELECT id, name FROM finish WHERE shot_id = ? AND deleted_at IS NULL ORDER BY id',
    [id],
  );
  return {
    ...shot,
    media: media.map((m) => ({
      ...m,
      still: parsePattern(m.pattern).still,
      frames: frames.get(m.id) ?? [],
      passes: (passesOf.get(m.id) ?? []).map((p) => ({ ...p, kind: m.kinds?.[p.name] ?? p.kind })),
    })),
    finishes,
    seq,
  };
}

/** Changes how a media is read. @throws {NotFound} */
export async function changeMedia(
  id: number,
  { gaps, encoding, kinds }: Partial<Pick<Media, 'gaps' | 'encoding' | 'kinds'>>,
): Promise<void> {
  await changing(async (c, note) => {
    const [[media]] = await c.query<Row[]>('SELECT shot_id FROM media WHERE id = ? FOR UPDATE', [id]);
    if (!media) throw new NotFound('This media is not there any more.');
    await c.query(
      `UPDATE media SET gaps = COALESCE(?, gaps), kinds = COALESCE(?, kinds),
         encoding = IF(?, ?, encoding) WHERE id = ?`,
      [gaps ?? null, kinds ? JSON.stringify(kinds) : null, encoding !== undefined, encoding ?? null, id],
    );
    // Their small pictures are made anew.
    if (encoding !== undefined)
      await c.query('UPDATE media_frame SET modified_ms = 0 WHERE media_id = ?', [id]);
    note(media.shot_id, { what: 'shot' });
  });
  announce({ zafiro: 'media' });
}
