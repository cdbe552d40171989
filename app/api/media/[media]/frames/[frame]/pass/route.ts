import { readPass } from '@/api/media';
import { frameFile } from '@/engine/node/media';
import { answer } from '@/server/answer';
import { specOf, wantedMedia } from '@/server/media/frames';
import { readPassOf } from '@/server/media/reader/reader';

/** Samples of one pass, plane after plane in the type of the file, little-endian; or the pass made smaller, as RGBA floats. */
export const GET = answer(readPass, async ({ params, query }, { signal }) => {
  const media = await wantedMedia(params.media);
  const { frame } = params;
  const wishes = specOf(media);
  const { path, empty } = frameFile({ [media.name]: wishes }, media.name, frame);
  const { name, scale = 1 } = query;
  const asked = { path, about: `Frame ${frame}: `, wishes, name, scale, empty };
  const { told, bytes } = await readPassOf(asked, signal);
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'application/octet-stream',
      'x-zafiro-pass': encodeURIComponent(JSON.stringify(told)),
      'cache-control': query.content === undefined ? 'no-store' : 'private, max-age=31536000, immutable',
    },
  });
});
