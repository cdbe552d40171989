import { readPoster, savePoster as saveRoute } from '@/api/shelf';
import { answer } from '@/server/http/answer';
import { posterOf, savePoster } from '@/server/shots/posters';

export const GET = answer(readPoster, async ({ params, query }) => {
  const picture = await posterOf(params.finish);
  const lasting = query.version ? 'private, max-age=31536000, immutable' : 'no-store';
  return new Response(new Uint8Array(picture), {
    headers: { 'content-type': 'image/webp', 'cache-control': lasting },
  });
});

export const PUT = answer(saveRoute, async ({ params, body }) => {
  await savePoster(params.finish, body.version, Buffer.from(body.webp, 'base64'));
  return {};
});
