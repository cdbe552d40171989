import { readFile } from 'node:fs/promises';
import { readContentsPicture } from '@/api/media';
import { answer } from '@/server/http/answer';
import { passPicturePath } from '@/server/media/contents';

/** The picture of a frame's n-th pass. */
export const GET = answer(readContentsPicture, async ({ params: { media, frame, pass }, query }) => {
  const path = await passPicturePath(media, frame, pass, query.soon !== undefined);
  return new Response(new Uint8Array(await readFile(path)), {
    headers: { 'content-type': 'image/webp', 'cache-control': 'no-store' },
  });
});
