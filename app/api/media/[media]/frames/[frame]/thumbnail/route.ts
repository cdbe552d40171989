import { readFile } from 'node:fs/promises';
import type { Encoding } from '@/core/colour/encoding';
import { answer, NotFound, wholeNumber } from '@/server/answer';
import { rows } from '@/server/db/connect';
import { thumbnailPath } from '@/server/media/frames';

type At = { params: Promise<{ media: string; frame: string }> };

/** The small picture of a frame's first pass. */
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const { media, frame } = await params;
    const [found] = await rows<{ content: string; encoding: Encoding | null }>(
      `SELECT f.content, m.encoding FROM media_frame f JOIN media m ON m.id = f.media_id
       WHERE f.media_id = ? AND f.frame = ? AND f.state = 'ready'`,
      [wholeNumber(media), wholeNumber(frame)],
    );
    if (!found) throw new NotFound('This frame has not arrived yet.');
    const lasting = new URL(request.url).searchParams.get('content') === found.content;
    return new Response(new Uint8Array(await readFile(thumbnailPath(found.content, found.encoding))), {
      headers: {
        'content-type': 'image/webp',
        'cache-control': lasting ? 'private, max-age=31536000, immutable' : 'no-store',
      },
    });
  });
