import { deleteReference as deleteRoute, readReference } from '@/api/references';
import { answer } from '@/server/http/answer';
import { deleteReference, referencePicture } from '@/server/shots/references';

export const GET = answer(readReference, async ({ params }) => {
  const picture = await referencePicture(params.reference);
  return new Response(new Uint8Array(picture), {
    headers: { 'content-type': 'image/webp', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});

export const DELETE = answer(deleteRoute, async ({ params }) => {
  await deleteReference(params.reference);
  return {};
});
