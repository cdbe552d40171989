import { createHash } from 'node:crypto';
import { existsSync, statSync } from 'node:fs';
import sharp from 'sharp';
import { toDisplay } from '../../core/colour/display';
import { parsePattern, pathOf } from '../../core/formats/frame-pattern';
import { type Pass, passPicture } from '../../core/formats/passes';
import { scaleDown } from '../../core/picture/scale';
import { fileProblem, frameInfo, MediaError, readBytes, readPass } from '../../engine/node/media-file';
import { writeWhole } from '../../engine/node/write-file';
import { dataPath } from '../data-folder';
import { database, rows } from '../db/connect';

export type Media = { id: number; name: string; pattern: string; first: number; last: number };

const mediaColumns = 'id, name, pattern, first_frame AS first, last_frame AS last';

export async function findMedia(id: number): Promise<Media | undefined> {
  return (await rows<Media>(`SELECT ${mediaColumns} FROM media WHERE id = ?`, [id]))[0];
}

export const allMedia = () => rows<Media>(`SELECT ${mediaColumns} FROM media`);

export const mediaPath = (media: Media, frame: number) => pathOf(parsePattern(media.pattern), frame);

/** Thumbnails are kept by content, so a frame that is rendered again gets a new one. */
export const thumbnailPath = (content: string) =>
  dataPath('thumbnails', content.slice(0, 2), `${content}.webp`);

const thumbnailHeight = 216;

/** A small sRGB picture of the frame's first pass. */
async function writeThumbnail(path: string, bytes: Uint8Array, pass: Pass, to: string) {
  if (existsSync(to)) return;
  const { header, planes } = readPass(path, bytes, pass.name);
  const picture = passPicture(pass, planes, header.dataWindow, header.displayWindow);
  const small = scaleDown(picture, Math.min(1, thumbnailHeight / picture.height));
  const pixels = toDisplay(small, { look: 'colour', stops: 0 });
  const raw = { width: small.width, height: small.height, channels: 4 } as const;
  await writeWhole(to, await sharp(pixels, { raw }).webp({ quality: 86 }).toBuffer());
}

/**
 * Looks at one frame's file and notes what is in it: content, passes, thumbnail; or why it cannot be used.
 * A frame that is still being written is noted as failed and looked at again once its size or time changes.
 */
export async function registerFrame(media: Media, frame: number): Promise<'ready' | 'failed'> {
  const path = mediaPath(media, frame);
  const { size, mtimeMs } = statSync(path);
  let state: 'ready' | 'failed' = 'ready';
  let problem: string | null = null;
  let passes: Pass[] | null = null;
  let content = '';
  try {
    const bytes = readBytes(path, `Frame ${frame}: `);
    content = createHash('sha1').update(bytes).digest('hex');
    passes = frameInfo(path, bytes, `Frame ${frame}: `).passes;
    await writeThumbnail(path, bytes, passes[0], thumbnailPath(content));
  } catch (error) {
    state = 'failed';
    problem = error instanceof MediaError ? error.message : `Frame ${frame}: ${path} ${fileProblem(error)}`;
  }
  await database().query(
    `INSERT INTO media_frame (media_id, frame, state, problem, content, bytes, modified_ms, passes)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE state = VALUES(state), problem = VALUES(problem), content = VALUES(content),
       bytes = VALUES(bytes), modified_ms = VALUES(modified_ms), passes = VALUES(passes)`,
    [media.id, frame, state, problem, content, size, Math.round(mtimeMs), passes && JSON.stringify(passes)],
  );
  return state;
}

/** Looks for files of the media's frames that are new or have changed, and registers them. Gives how many. */
export async function registerArrivals(media: Media): Promise<number> {
  const known = new Map(
    (
      await rows<{ frame: number; bytes: number; modified_ms: number }>(
        'SELECT frame, bytes, modified_ms FROM media_frame WHERE media_id = ?',
        [media.id],
      )
    ).map((r) => [r.frame, r]),
  );
  let count = 0;
  for (let frame = media.first; frame <= media.last; frame++) {
    const stat = statSync(mediaPath(media, frame), { throwIfNoEntry: false });
    if (!stat) continue;
    const before = known.get(frame);
    if (before && before.bytes === stat.size && before.modified_ms === Math.round(stat.mtimeMs)) continue;
    await registerFrame(media, frame);
    count++;
  }
  return count;
}
