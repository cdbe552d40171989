import { statSync } from 'node:fs';
import { fileProblem, MediaError } from '../../engine/node/media-file';
import { database, rows } from '../db/connect';
import { type Media, mediaPath, specOf, thumbnailFolder, thumbnailHeight } from './frames';
import type { LookAnswer } from './reader/answers';
import { lookAt } from './reader/reader';

/**
 * Looks at one frame's file and notes what is in it: content, size, passes, thumbnail; or why it cannot be used.
 * A frame that is still being written is noted with what is wrong and looked at again once its size or time changes.
 */
async function registerFrame(media: Media, frame: number): Promise<void> {
  const path = mediaPath(media, frame);
  const { size, mtimeMs } = statSync(path);
  let found: Partial<LookAnswer> = {};
  let problem: string | null = null;
  try {
    found = await lookAt({
      path,
      about: `Frame ${frame}: `,
      wishes: specOf(media),
      thumbnails: { folder: thumbnailFolder(media.encoding), height: thumbnailHeight },
    });
    problem = found.partial ? `Frame ${frame}: ${path} is partial. ${found.partial}` : null;
  } catch (error) {
    problem = error instanceof MediaError ? error.message : `Frame ${frame}: ${path} ${fileProblem(error)}`;
  }
  const { content = '', width = null, height = null, passes } = found;
  await database().query(
    `INSERT INTO media_frame (media_id, frame, state, problem, content, bytes, modified_ms, passes, width, height)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE state = VALUES(state), problem = VALUES(problem), content = VALUES(content),
       bytes = VALUES(bytes), modified_ms = VALUES(modified_ms), passes = VALUES(passes), width = VALUES(width),
       height = VALUES(height)`,
    [
      media.id,
      frame,
      content ? 'ready' : 'failed',
      problem?.slice(0, 2000) ?? null,
      content,
      size,
      Math.round(mtimeMs),
      passes ? JSON.stringify(passes) : null,
      width,
      height,
    ],
  );
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
