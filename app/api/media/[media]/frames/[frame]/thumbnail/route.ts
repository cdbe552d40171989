import { readFile } from 'node:fs/promises';
import { readThumbnail } from '@/api/media';
import type { Encoding } from '@/core/colour/encoding';
import { answer, NotFound } from '@/server/answer';
import { rows } from '@/server/db/connect';
import { thumbnailPath } from '@/server/media/frames';

/** The small picture of a frame's first pass. */
export const GET = answer(readThumbnail, async ({ params, query }) => {
  const [found] = await rows<{ content: string; encoding: Encoding | null }>(
    `SELECT f.content, m.encoding FROM media_frame f JOIN media m ON m.id = f.media_id
     WHERE f.media_id = ? AND f.frame = ? AND f.state <> 'failed'`,
    [params.media, params.frame],
  );
  if (!found) throw new NotFound('This frame has not arrived yet.');
  const lasting = query.content === found.content;
  return new Response(new Uint8Array(await readFile(thumbnailPath(found.content, found.encoding))), {
    headers: {
      'content-type': 'image/webp',
      'cache-control': lasting ? 'private, max-age=31536000, immutable' : 'no-store',
    },
  });
});
