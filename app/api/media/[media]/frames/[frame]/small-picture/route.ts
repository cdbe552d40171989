import { readThumbnail } from '@/api/media';
import { answer } from '@/server/http/answer';
import { thumbnail } from '@/server/media/thumbnails';

/** The small picture of a frame's first pass. */
export const GET = answer(readThumbnail, async ({ params, query }) => {
  const { content, bytes } = await thumbnail(params.media, params.frame);
  const lasting = query.content === content;
  return new Response(new Uint8Array(bytes), {
    headers: {
      'content-type': 'image/webp',
      'cache-control': lasting ? 'private, max-age=31536000, immutable' : 'no-store',
    },
  });
});
