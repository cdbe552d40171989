import { readFile } from 'node:fs/promises';
import type { Encoding } from '../../core/colour/encoding';
import { rows } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { NotFound } from '../base/refusals';
import { mediaPath, specOf, wantedMedia } from './frames';
import { lookAt } from './reader/reader';
import { insideRoots } from './roots';

/** Small pictures of an earlier edition are of no use: those of the first had no alpha, and hid the layers below. */
export const thumbnailEdition = 'with-alpha';

/** Small pictures are kept by content and encoding, so a frame that is rendered again or read otherwise gets a new one. */
const folderOf = (encoding: Encoding | null) =>
  dataPath('thumbnails', thumbnailEdition, encoding ?? 'as-written');

const pathOf = (content: string, encoding: Encoding | null) =>
  `${folderOf(encoding)}/${content.slice(0, 2)}/${content}.webp`;

/** Where a look at a frame leaves its small picture, and how high that is in pixels. */
export const thumbnailsOf = (encoding: Encoding | null) => ({ folder: folderOf(encoding), height: 216 });

/**
 * The small picture of a frame's first pass, as WebP, and the content that it shows. It is made anew where none is kept, as after an upgrade.
 * @throws {NotFound} where the frame has not arrived, {MediaError} where its file cannot be read.
 */
export async function thumbnail(mediaId: number, frame: number): Promise<{ content: string; bytes: Buffer }> {
  const [found] = await rows<{ content: string; encoding: Encoding | null }>(
    `SELECT f.content, m.encoding FROM media_frame f JOIN media m ON m.id = f.media_id
     WHERE f.media_id = ? AND f.frame = ? AND f.state <> 'failed'`,
    [mediaId, frame],
  );
  if (!found) throw new NotFound('This frame has not arrived yet.');
  const kept = await readFile(pathOf(found.content, found.encoding)).catch(() => undefined);
  if (kept) return { content: found.content, bytes: kept };
  const media = await wantedMedia(mediaId);
  const about = `Frame ${frame}: `;
  const { content } = await lookAt({
    path: insideRoots(mediaPath(media, frame), about),
    about,
    wishes: specOf(media),
    thumbnails: thumbnailsOf(media.encoding),
  });
  return { content, bytes: await readFile(pathOf(content, media.encoding)) };
}
