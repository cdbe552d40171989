import { readRecipePicture } from '@/api/recipes';
import { answer } from '@/server/http/answer';
import { recipePicture } from '@/server/recipes/recipes';

/** The picture of a version, a PNG: it never changes. */
export const GET = answer(readRecipePicture, async ({ params }) => {
  const png = await recipePicture(params.recipe, params.edition);
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});
