import { readPass } from '@/api/media';
import { answer } from '@/server/http/answer';
import { frameQuestion } from '@/server/media/frame-question';
import { passAnswer } from '@/server/media/pass-answer';

/** Samples of one pass, plane after plane in the type of the file, little-endian; or the pass made smaller, as RGBA floats. */
export const GET = answer(readPass, async ({ params, query }, { signal }) => {
  const { name, scale = 1 } = query;
  const { info, bytes } = await passAnswer({ ...(await frameQuestion(params)), name, scale }, signal);
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'application/octet-stream',
      'x-zafiro-pass': encodeURIComponent(JSON.stringify(info)),
      'cache-control': query.content === undefined ? 'no-store' : 'private, max-age=31536000, immutable',
    },
  });
});
