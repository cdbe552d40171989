import { createHash } from 'node:crypto';
import { existsSync, statSync } from 'node:fs';
import sharp from 'sharp';
import { type Pass, passPicture } from '../../core/formats/passes';
import { openDesk } from '../../core/kernels/desk';
import { toDisplay } from '../../core/kernels/display';
import { shrink } from '../../core/kernels/sample';
import { threadMachine } from '../../engine/node/machine';
import { fileProblem, frameInfo, MediaError, readBytes, readPass } from '../../engine/node/media-file';
import { writeWhole } from '../../engine/node/write-file';
import { database, rows } from '../db/connect';
import { type Media, mediaPath, thumbnailPath } from './frames';

const thumbnailHeight = 216;

/** A small sRGB picture of the frame's first pass. */
async function writeThumbnail(path: string, bytes: Uint8Array, pass: Pass, to: string) {
  if (existsSync(to)) return;
  const { header, planes } = readPass(path, bytes, pass.name);
  const desk = openDesk(threadMachine());
  try {
    const picture = passPicture(desk, pass, planes, header.dataWindow, header.displayWindow);
    const small = shrink(desk, picture, Math.min(1, thumbnailHeight / picture.height));
    const pixels = toDisplay(desk, small, { look: 'colour', stops: 0 });
    const raw = { width: small.width, height: small.height, channels: 4 } as const;
    await writeWhole(to, await sharp(pixels, { raw }).webp({ quality: 86 }).toBuffer());
  } finally {
    desk.clear();
  }
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
